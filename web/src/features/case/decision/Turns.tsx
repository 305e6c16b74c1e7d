import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { TextField } from "../../../shared/fields";
import { amount, number, percent, roughly, short } from "../../../shared/format";
import { useUnderstood } from "../../../shared/NumberField";
import { Table } from "../../../shared/Table";
import type { Deal } from "./useDeal";

type Figure = Schemas["MoneyFigure"];

function written(f: Figure, v: number, currency: string) {
  switch (f.kind) {
    case "money":
      return amount(currency, v * 100);
    case "hours":
      return `${number(v, 1)} h`;
    case "share":
      return `${percent(v)} %`;
    default:
      return `${short(Number((100 * v).toPrecision(3)))} % of that`;
  }
}

/** As it is typed: shares and factors in per cent. */
const shown = (f: Figure, v: number) => short(f.kind === "share" || f.kind === "factor" ? 100 * v : v);
const units: Record<string, string> = { hours: "h", share: "%", factor: "%" };
const kinds: Record<string, string> = { money: "money", hours: "hours", share: "percent", factor: "ratio" };

function Row({ figure, currency, deal }: { figure: Figure; currency: string; deal: Deal }) {
  const typed = deal.set[figure.id];
  const { read, wrong } = useUnderstood({ kind: kinds[figure.kind] ?? "money", unit: figure.kind === "factor" ? "%" : "" }, typed ?? "");
  return (
    <TextField
      label={`${figure.title}, ${units[figure.kind] ?? currency}`}
      maxLength={40}
      value={typed ?? shown(figure, figure.now)}
      error={wrong}
      help={typed === undefined ? undefined : `${read ?? ""} set by hand; it was ${shown(figure, figure.now)}`}
      onChange={(e) => deal.figure(figure.id, e.target.value.trim() === "" ? undefined : e.target.value, figure.offered)}
    />
  );
}

/** What would have to be different for another option to win, nearest first; and every figure open to be changed. */
export function Turns({ data, deal }: { data: Schemas["Options"]; deal: Deal }) {
  const touched = Object.keys(deal.set).length;
  return (
    <Box as="section" aria-label="What would turn it" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        What would turn it
      </Text>
      {data.turns.length === 0 ? (
        <Text color="ink2">No single figure, changed up to ten times, puts another option first.</Text>
      ) : (
        <Table
          label="Figures at which another option wins"
          head={["figure", ">now", ">turns at", "then first"]}
          rows={data.turns
            .slice(0, 6)
            .map((t) => [t.figure.title, written(t.figure, t.figure.now, data.currency), written(t.figure, t.at, data.currency), t.winner])}
        />
      )}
      <details style={{ marginTop: 8 }}>
        <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10, fontWeight: 600 }}>Change a figure and see</summary>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3">
          {data.figures.map((f) => (
            <Row key={f.id} figure={f} currency={data.currency} deal={deal} />
          ))}
        </Grid>
      </details>
      {touched > 0 && (
        <Flex align="center" gap="3" mt="2" wrap="wrap">
          <Text>
            <b>
              {touched} {touched === 1 ? "figure is" : "figures are"} set by hand.
            </b>{" "}
            Prices and times go into the estimate; the others are for looking only.
          </Text>
          <Button onClick={deal.reset}>As known</Button>
        </Flex>
      )}
    </Box>
  );
}

/** Ways of deciding beside each other. */
export function Policies({ data, pick }: { data: Schemas["Options"]; pick: (id: string) => void }) {
  return (
    <Box as="section" aria-label="Ways of deciding" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        Ways of deciding
      </Text>
      <Table
        label="Ways of deciding"
        head={["way", "option", ">pay now", ">in all"]}
        rows={data.policies.map((p) => [
          <>
            <b>{p.title}</b>
            <Text color="ink2" textStyle="small">
              {p.why}
            </Text>
          </>,
          p.option ? (
            <button key="o" type="button" onClick={() => pick(p.optionId)} style={{ minHeight: 44, textAlign: "left" }}>
              <u>{p.option}</u>
            </button>
          ) : (
            <Text key="o" color="ink2">
              offers nothing here
            </Text>
          ),
          p.option ? roughly(data.currency, p.pay) : "",
          p.option ? roughly(data.currency, p.expected) : "",
        ])}
      />
    </Box>
  );
}

/** What comes of leaving it alone. */
export function WatchPanel({ data }: { data: Schemas["Options"] }) {
  const { watch, currency } = data;
  if (watch.next.length === 0 && !watch.hazard) return null;
  return (
    <Box as="section" aria-label="If it is left alone" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        If it is left alone
      </Text>
      {watch.hazard && (
        <Text bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" mb="2">
          <b>▲ It must not be driven as it is.</b> {watch.hazard}
        </Text>
      )}
      {watch.next.length > 0 && (
        <Table
          label="What breaks next"
          head={["breaks next", "because of", ">in time", ">then costs"]}
          rows={watch.next.map((n) => [n.title, n.by, `${percent(n.probability)} %`, roughly(currency, n.cost)])}
          note={`Expected harm ${watch.harmBy.map((h) => `${roughly(currency, h.cost)} by ${h.distance}`).join(", ")}.${watch.interval ? ` Looked at every ${watch.interval} it costs least.` : ""} How fast it gets worse is common practice, no source.`}
        />
      )}
    </Box>
  );
}
