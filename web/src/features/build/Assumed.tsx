import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Choice } from "../../shared/Choice";
import { TextField } from "../../shared/fields";
import { topics } from "../../shared/sources";
import { FluidFields } from "./FluidFields";
import { Offers } from "./Offers";
import { rangesOf, sourcesOf, type Sheet, type Source, type View } from "./sheet";

const levels: Record<string, string> = {
  ground: "on the ground",
  lifted: "lifted",
  "pan-off": "pan off",
  "valve-body-off": "valve body off",
  "unit-out": "unit out",
  "unit-apart": "unit apart",
  "converter-open": "converter open",
};

const from: [string, string][] = [
  ["assumed", "still assumed"],
  ["paper", "maker's paper"],
  ["measured", "measured here"],
];

/** The true value in the place of an assumed one, as far as it is one number; and where it is from. */
function Truth({
  source,
  sheet,
  offers,
  take,
  change,
}: {
  source: Source;
  sheet: Sheet;
  offers: View["offers"];
  take: (path: string) => Promise<void>;
  change: (f: (s: Sheet) => Sheet) => void;
}) {
  const own = sourcesOf(sheet).find((x) => x.of === source.of);
  const mark = (of: string, value: string) =>
    change((s) => ({
      ...s,
      sources: sourcesOf(s).map((x) => (x.of === of ? { ...x, from: value, value: undefined } : x)),
    }));
  const engine = sheet.engine as { max_torque?: string } | undefined;
  const access = (sheet.access as { level: string; minutes: number }[] | undefined) ?? [];
  const line = (outcome: string, field: "line_idle" | "line_full") =>
    (rangesOf(sheet).find((r) => r.outcome === outcome)?.[field] as string | undefined) ?? "";
  const setLine = (outcome: string, field: string, value: string) =>
    change((s) => ({ ...s, ranges: rangesOf(s).map((r) => (r.outcome === outcome ? { ...r, [field]: value || undefined } : r)) }));
  return (
    <Box pb="3">
      {source.of === "engine" && (
        <TextField
          label="Engine's greatest torque"
          maxLength={20}
          value={engine?.max_torque ?? ""}
          placeholder="310 N·m"
          onChange={(e) => change((s) => ({ ...s, engine: { ...engine, max_torque: e.target.value } }))}
        />
      )}
      {source.of === "access" &&
        access.map((a) => (
          <TextField
            key={a.level}
            label={`Minutes to ${levels[a.level] ?? a.level}`}
            inputMode="numeric"
            maxLength={5}
            value={String(a.minutes)}
            onChange={(e) =>
              change((s) => ({
                ...s,
                access: access.map((x) => (x.level === a.level ? { ...x, minutes: Number(e.target.value) || 0 } : x)),
              }))
            }
          />
        ))}
      {source.of === "pressures" &&
        (
          [
            ["forward", "line_idle", "Forward, idle"],
            ["forward", "line_full", "Forward, full throttle at stall"],
            ["reverse", "line_idle", "Reverse, idle"],
            ["reverse", "line_full", "Reverse, full throttle at stall"],
          ] as const
        ).map(([outcome, field, label]) => (
          <TextField
            key={label}
            label={label}
            maxLength={30}
            placeholder="55 to 65 psi"
            value={line(outcome, field)}
            onChange={(e) => setLine(outcome, field, e.target.value)}
          />
        ))}
      {source.of === "fluid" && <FluidFields sheet={sheet} change={change} />}
      <Offers offers={offers.filter((o) => o.topic === source.of)} take={take} />
      {own && (
        <Box mt="2">
          <Choice label={`Where ${topics[source.of]} is from`} value={own.from} options={from} onChange={(v) => mark(source.of, v)} />
        </Box>
      )}
    </Box>
  );
}

/** What is still assumed, dashed; a line opens to put in the true value. */
export function Assumed({
  view,
  sheet,
  change,
  take,
  fill,
}: {
  view: View;
  sheet: Sheet;
  change: (f: (s: Sheet) => Sheet) => void;
  take: (path: string) => Promise<void>;
  fill: () => void;
}) {
  const [open, setOpen] = useState("");
  return (
    <Box as="section" aria-label="Still assumed">
      <Text as="h2" fontWeight="700">
        Still assumed
      </Text>
      {view.assumed.length === 0 && <Text color="ink2">Nothing. What is not given is left out.</Text>}
      {view.assumed
        .filter((a) => topics[a.of])
        .map((a) => {
          const known = a.from !== "assumed";
          return (
            <Box key={a.of} borderTopWidth="1px" borderColor="line">
              <chakra.button
                type="button"
                w="full"
                minH="44px"
                py="1.5"
                textAlign="left"
                aria-expanded={open === a.of}
                onClick={() => setOpen(open === a.of ? "" : a.of)}
                _hover={{ bg: "brassSoft" }}
              >
                <Flex justify="space-between" gap="2">
                  <Text
                    fontWeight="600"
                    textDecoration={known ? undefined : "underline"}
                    textDecorationStyle="dashed"
                    textUnderlineOffset="4px"
                  >
                    {topics[a.of] ?? a.of}
                    {a.value && `, ${a.value}`}
                  </Text>
                  <Text color="ink2">{open === a.of ? "−" : "+"}</Text>
                </Flex>
                <Text color="ink2" textStyle="small">
                  {known ? { paper: "from the maker's paper", measured: "measured here", counted: "counted" }[a.from] : a.why}
                </Text>
              </chakra.button>
              {open === a.of && <Truth source={a} sheet={sheet} offers={view.offers} take={take} change={change} />}
            </Box>
          );
        })}
      <Button mt="2" onClick={fill}>
        Take the rest from the nearest unit
      </Button>
    </Box>
  );
}
