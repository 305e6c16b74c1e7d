import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { amount, number, percent, roughly, short } from "../../../shared/format";
import { useUnderstood } from "../../../shared/NumberField";
import { Table } from "../../../shared/Table";
import type { Deal } from "./useDeal";

type Row = Schemas["OptionRow"];

const origins: Record<string, string> = { shop: "the shop’s", guide: "guide", none: "no price" };
const count = (l: Schemas["Line"]) => (l.per ? `${short(l.count)} ${l.per}` : "");

/** A figure that may be typed over: another price or time for this estimate alone. What was understood stands below it. */
function Figure({
  label,
  kind,
  value,
  typed,
  set,
}: {
  label: string;
  kind: "money" | "hours";
  value: string;
  typed: string | undefined;
  set: (v: string | undefined) => void;
}) {
  const changed = typed !== undefined;
  const { read, wrong } = useUnderstood({ kind }, typed ?? "");
  return (
    <>
      <Flex align="center" gap="1" justify="flex-end">
        {changed && (
          <Button variant="ghost" px="1" minW="44px" aria-label={`${label}: as it was`} onClick={() => set(undefined)}>
            ↺
          </Button>
        )}
        <Input
          aria-label={label}
          aria-invalid={!!wrong}
          w="96px"
          textAlign="right"
          maxLength={40}
          value={typed ?? value}
          onChange={(e) => set(e.target.value.trim() === "" ? undefined : e.target.value)}
        />
      </Flex>
      {changed && (
        <Text textStyle="fine" color={wrong ? "fault" : "ink2"} textAlign="right" maxW="220px" ml="auto" aria-live="polite">
          {wrong ?? read}
        </Text>
      )}
    </>
  );
}

/** The estimate of one option, line by line; prices and times can be set for it alone. */
export function Lines({ row, currency, taxRate, deal }: { row: Row; currency: string; taxRate: number; deal: Deal }) {
  return (
    <Box as="section" aria-label="Estimate" mt="4">
      <Text as="h3" fontWeight="700" mb="1">
        Estimate: {row.title}
      </Text>
      <Table
        label={`Estimate of ${row.title}`}
        head={["line", ">quantity", ">each", ">total", "from"]}
        rows={[
          ...row.lines.map((l) => {
            const { figure, timed } = l;
            const changed = figure in deal.set;
            return [
              <>
                {l.title}
                {l.quality && (
                  <Text as="span" color="ink2">
                    {" "}
                    · {l.quality}
                  </Text>
                )}
              </>,
              timed ? (
                <Figure
                  key={figure}
                  kind="hours"
                  label={`Hours: ${l.title}`}
                  value={number(l.count, 2)}
                  typed={deal.set[figure]}
                  set={(v) => deal.figure(figure, v, true)}
                />
              ) : (
                count(l)
              ),
              figure && !timed ? (
                <Figure
                  key={figure}
                  kind="money"
                  label={`Price: ${l.title}`}
                  value={number(l.each / 100, 2)}
                  typed={deal.set[figure]}
                  set={(v) => deal.figure(figure, v, true)}
                />
              ) : (
                amount(currency, l.each)
              ),
              <b key="t">{l.from === "none" ? "—" : amount(currency, l.total)}</b>,
              <Text as="span" key="f" color={l.from === "none" ? "fault" : "ink2"}>
                {changed ? "set here" : origins[l.from]}
              </Text>,
            ];
          }),
          ["Sum", "", "", amount(currency, row.net), ""],
          ...(taxRate > 0 ? [[`Tax, ${short(100 * taxRate)} %`, "", "", amount(currency, row.tax), ""]] : []),
          [
            <b key="p">To pay</b>,
            "",
            "",
            <b key="a">
              {row.missing.length > 0 ? "at least " : ""}
              {amount(currency, row.pay)}
            </b>,
            "",
          ],
        ]}
        note={
          row.lines.some((l) => l.from === "guide")
            ? "Guide figures are the app’s judgment until the price book of the shop has its own."
            : undefined
        }
      />
    </Box>
  );
}

/** Two options side by side, line by line, with what the difference is made of. */
export function SideBySide({ a, b, currency }: { a: Row; b: Row; currency: string }) {
  const titles = [...new Set([...a.lines, ...b.lines].map((l) => `${l.kind}|${l.kind === "labour" || l.kind === "parts" ? "" : l.title}`))];
  const names: Record<string, string> = { labour: "work", parts: "parts" };
  const of = (row: Row, key: string) =>
    row.lines
      .filter((l) => `${l.kind}|${l.kind === "labour" || l.kind === "parts" ? "" : l.title}` === key)
      .reduce((sum, l) => sum + l.total, 0);
  const line = (label: string, x: number, y: number) => [
    label,
    x ? amount(currency, x) : "–",
    y ? amount(currency, y) : "–",
    amount(currency, y - x),
  ];
  return (
    <Box as="section" aria-label="Two options side by side" mt="4">
      <Text as="h3" fontWeight="700" mb="1">
        Side by side
      </Text>
      <Table
        label="Two options side by side"
        head={["", `>${a.title}`, `>${b.title}`, ">difference"]}
        rows={[
          ...titles.map((t) => {
            const [kind = "", title = ""] = t.split("|");
            return line(title || names[kind] || kind, of(a, t), of(b, t));
          }),
          ...(a.tax || b.tax ? [line("tax", a.tax, b.tax)] : []),
          line("to pay now", a.pay, b.pay),
          line("expected cost of coming back", a.expectedReturn, b.expectedReturn),
          line("expected in all", a.expected, b.expected),
          ["cured in", `${percent(a.cured)} %`, `${percent(b.cured)} %`, ""],
          [
            "5 to 95 in 100 cases",
            `${roughly(currency, a.low)} – ${roughly(currency, a.high)}`,
            `${roughly(currency, b.low)} – ${roughly(currency, b.high)}`,
            "",
          ],
        ]}
      />
    </Box>
  );
}
