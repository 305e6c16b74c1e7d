import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { money, percent } from "../../shared/format";

type Row = Schemas["OptionRow"];

/** Pay now in its parts, then the expected return hatched, then the span of 5 to 95 in 100 cases, on one axis. */
function MoneyBar({ row, first, most, currency }: { row: Row; first: boolean; most: number; currency: string }) {
  const x = (v: number) => `${(100 * v) / most}%`;
  const parts = [row.labour, row.parts, row.fluid];
  const words = `labour ${money(currency, row.labour)}, parts ${money(currency, row.parts)}, fluid ${money(currency, row.fluid)}, expected return ${money(currency, row.expectedReturn)}, 5 to 95 in 100 cases ${money(currency, row.low)} to ${money(currency, row.high)}`;
  return (
    <Box role="img" aria-label={words}>
      <Flex h="20px">
        {parts.map((v, i) => (
          <Box
            key={i}
            w={x(v)}
            bg={first ? "brass" : "slate"}
            opacity={1 - i * 0.25}
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
      </Flex>
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
    </Box>
  );
}

export function OptionRow({
  row,
  first,
  most,
  currency,
  picked,
  pick,
}: {
  row: Row;
  first: boolean;
  most: number;
  currency: string;
  picked: boolean;
  pick: () => void;
}) {
  return (
    <button type="button" role="radio" aria-checked={picked} onClick={pick} style={{ width: "100%", textAlign: "left" }}>
      <Grid
        templateColumns={{ base: "1fr 64px 100px", lg: "minmax(220px, 290px) 64px 1fr 130px" }}
        gap="3"
        alignItems="center"
        py="2"
        px="2"
        minH="58px"
        borderTopWidth="1px"
        borderColor="line"
        bg={first ? "brassSoft" : undefined}
        borderLeftWidth="4px"
        borderLeftColor={picked ? "ink" : "transparent"}
      >
        <Box>
          <Text fontWeight="700">
            {row.title}
            {picked && (
              <Text as="span" fontWeight="400" color="ink2">
                {" "}
                · chosen here
              </Text>
            )}
          </Text>
          <Text fontSize="13px" color="ink2">
            cures {row.cures} of {row.of} suspects · {row.school}
            {row.note && ` · ${row.note}`}
          </Text>
        </Box>
        <Text textAlign="right" fontSize="19px" fontWeight="700" whiteSpace="nowrap">
          {percent(row.cured)}{" "}
          <Text as="span" fontSize="12.5px" fontWeight="400" color="ink2">
            %
          </Text>
        </Text>
        <Box display={{ base: "none", lg: "block" }}>
          <MoneyBar row={row} first={first} most={most} currency={currency} />
        </Box>
        <Box textAlign="right">
          <Text fontWeight="700" fontSize="15.5px">
            {money(currency, row.expected)}
          </Text>
          <Text fontSize="13px" color="ink2">
            pay now {money(currency, row.sure)}
          </Text>
        </Box>
      </Grid>
    </button>
  );
}
