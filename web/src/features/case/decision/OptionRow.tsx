import { Box, Grid, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { Select } from "../../../shared/fields";
import { amount, percent, roughly } from "../../../shared/format";

type Row = Schemas["OptionRow"];

/** Pay now in its parts, then the expected return hatched, then the span of 5 to 95 in 100 cases, on one axis. */
function MoneyBar({ row, first, most, currency, ceiling }: { row: Row; first: boolean; most: number; currency: string; ceiling: number }) {
  const x = (v: number) => `${(100 * v) / most}%`;
  const parts = [row.labour, row.parts, row.fluid, row.tax];
  const say = (v: number) => roughly(currency, v);
  const words = `labor ${say(row.labour)}, parts ${say(row.parts)}, fluid ${say(row.fluid)}, tax ${say(row.tax)}, expected return ${say(row.expectedReturn)}, 5 to 95 in 100 cases ${say(row.low)} to ${say(row.high)}`;
  return (
    <Box role="img" aria-label={words} position="relative">
      <Box display="flex" h="20px">
        {parts.map((v, i) => (
          <Box
            key={i}
            w={x(v)}
            bg={first ? "brass" : "slate"}
            opacity={1 - i * 0.22}
            borderRightWidth={v > 0 ? "1px" : "0"}
            borderColor="page"
          />
        ))}
        <Box
          w={x(row.expectedReturn)}
          borderWidth={row.expectedReturn > 0 ? "1px" : "0"}
          borderColor="fault"
          backgroundImage="repeating-linear-gradient(135deg, var(--chakra-colors-fault) 0 2px, transparent 2px 7px)"
        />
      </Box>
      <Box position="relative" h="10px">
        <Box
          position="absolute"
          left={x(row.low)}
          w={x(Math.max(0, row.high - row.low))}
          top="5px"
          borderTopWidth="1px"
          borderColor="ink2"
        />
        {[row.low, row.high].map((v, i) => (
          <Box key={i} position="absolute" left={x(v)} top="2px" h="7px" borderLeftWidth="1px" borderColor="ink2" />
        ))}
      </Box>
      {ceiling > 0 && ceiling <= most && (
        <Box position="absolute" left={x(ceiling)} top="-3px" bottom="0" borderLeftWidth="2px" borderStyle="dashed" borderColor="ink" />
      )}
    </Box>
  );
}

/** What keeps an option from being recommended, in words and with a mark. */
function Against({ row, currency }: { row: Row; currency: string }) {
  const notes = [
    row.hazard && `▲ not to be driven: ${row.hazard}`,
    row.missing.length > 0 && `? without a price: ${row.missing.join(", ")}; at least ${amount(currency, row.pay)}`,
    row.over && "↑ above the ceiling",
  ].filter(Boolean);
  return notes.map((n) => (
    <Text key={String(n)} textStyle="small" color="fault">
      {n}
    </Text>
  ));
}

export function OptionRow({
  row,
  first,
  most,
  currency,
  ceiling,
  picked,
  pick,
  compared,
  compare,
  setQuality,
  quiet,
}: {
  row: Row;
  first: boolean;
  most: number;
  currency: string;
  ceiling: number;
  picked: boolean;
  pick: () => void;
  compared: boolean;
  compare: () => void;
  setQuality: (q: string) => void;
  /** There is no complaint that it could cure. */
  quiet: boolean;
}) {
  const quality = row.qualities.find((q) => q.id === row.quality);
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr) 62px" }}
      gap="2"
      alignItems="center"
      borderTopWidth="1px"
      borderColor="line"
      bg={first ? "brassSoft" : undefined}
      borderLeftWidth="4px"
      borderLeftColor={picked ? "ink" : "transparent"}
    >
      <Box>
        <button type="button" role="radio" aria-checked={picked} onClick={pick} style={{ width: "100%", textAlign: "left" }}>
          <Grid
            templateColumns={{ base: "1fr 56px 104px", lg: "minmax(190px, 260px) 56px minmax(80px, 1fr) 116px" }}
            gap="3"
            alignItems="center"
            py="2"
            px="2"
            minH="58px"
          >
            <Box>
              <Text fontWeight="700">
                {row.title}
                {picked && (
                  <Text as="span" fontWeight="400" color="ink2">
                    {" "}
                    · looked at
                  </Text>
                )}
              </Text>
              <Text textStyle="small" color="ink2">
                {quiet ? "" : `cures ${row.cures} of ${row.of} suspects · `}
                {row.school}
                {row.note && ` · ${row.note}`}
              </Text>
              <Against row={row} currency={currency} />
            </Box>
            <Text textAlign="right" textStyle="figure" fontWeight="700" whiteSpace="nowrap">
              {!quiet && (
                <>
                  {percent(row.cured)}{" "}
                  <Text as="span" textStyle="fine" fontWeight="400" color="ink2">
                    %
                  </Text>
                </>
              )}
            </Text>
            <Box display={{ base: "none", lg: "block" }}>
              <MoneyBar row={row} first={first} most={most} currency={currency} ceiling={ceiling} />
            </Box>
            <Box textAlign="right">
              <Text fontWeight="700" textStyle="lead">
                {roughly(currency, row.expected)}
              </Text>
              <Text textStyle="small" color="ink2">
                pay now {roughly(currency, row.pay)}
              </Text>
            </Box>
          </Grid>
        </button>
        {row.qualities.length > 0 && (
          <Box display="flex" alignItems="center" gap="2" px="2" pb="2" textStyle="small">
            <Text color="ink2">Parts</Text>
            <Select
              w="auto"
              aria-label={`Quality of parts: ${row.title}`}
              value={row.quality}
              onChange={(e) => setQuality(e.target.value)}
              textStyle="label"
            >
              {row.qualities.map((q) => (
                <option key={q.id} value={q.id}>
                  {q.title}: pay {roughly(currency, q.pay)}, in all {roughly(currency, q.expected)}
                </option>
              ))}
            </Select>
            {quality?.from === "guide" && <Text color="ink2">guide price</Text>}
          </Box>
        )}
      </Box>
      <label
        style={{ display: "flex", alignItems: "center", justifyContent: "center", minHeight: 44, gap: 6, cursor: "pointer", fontSize: 13 }}
      >
        <input
          type="checkbox"
          checked={compared}
          onChange={compare}
          aria-label={`Compare: ${row.title}`}
          style={{ width: 20, height: 20 }}
        />
        <span aria-hidden>⇆</span>
      </label>
    </Grid>
  );
}
