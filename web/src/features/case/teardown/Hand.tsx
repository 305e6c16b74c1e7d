import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Chip } from "../../../shared/Chip";
import { SelectField, TextField } from "../../../shared/fields";
import { PartFacts } from "../../../shared/stack/PartFacts";
import type { Stack, StackPart } from "../../../shared/stack/layout";
import { useCase } from "../useCase";
import { GaugeInHand } from "./GaugeInHand";
import { Measure } from "./Measure";
import { Gauge, PackFigure } from "./PackFigure";
import { verdicts, type Bench, type BenchPart, type Pack } from "./useBench";

const differences: [string, string][] = [
  ["count", "another number"],
  ["thickness", "another thickness"],
  ["way", "the other way round"],
  ["version", "another version"],
  ["other", "something else"],
];

interface Props {
  stack: Stack;
  bench: Bench;
  part: StackPart;
  state: BenchPart;
}

/** What was found on the part in hand: by tap, by gauge, and what is not as the sheet says. */
export function Hand({ stack, bench, part, state }: Props) {
  const { shown, actions } = useCase();
  const [picked, pick] = useState(0);
  const [differs, setDiffers] = useState("");
  const [words, setWords] = useState("");
  const pack = bench.packs.find((p) => p.part === part.id);
  const note = (n: { kind: string; ref?: string; value?: string; words?: string }) => actions.bench.mutate([{ part: part.id, ...n }]);
  const piece = pack && picked > 0 ? picked : 0;
  const found = state.found.find((f) => f.piece === piece);
  const say = (verdict: string) => {
    if (verdict === "differs" && !differs) setDiffers("other");
    if (found?.verdict === verdict) actions.bench.mutate([{ kind: "", withdraws: found.id }]);
    else note({ kind: "found", ref: verdict, value: piece ? String(piece) : undefined, words: words || undefined });
  };
  const nameOf = (id: string) => stack.parts.find((p) => p.id === id)?.name ?? id;
  return (
    <Box as="section" aria-label="Part in hand" minW="0">
      <Text as="h2" textStyle="heading" fontWeight="700">
        {part.number} · {part.name}
      </Text>
      <Text color="ink2" mb="2">
        {part.kindName}
        {part.pieces > 1 && ` · ${part.pieces} pieces`}
        {part.ofNames.length > 0 && ` · ${part.ofNames.join(", ")}`}
        {pack && ` · depth ${pack.depth || "not known"} · ${pack.measured} of ${pack.plates.length} plates measured`}
      </Text>
      {pack && <PackPanel pack={pack} picked={picked} pick={pick} note={note} closed={shown.closed} />}
      {!shown.closed && (
        <>
          <Text textStyle="small" color="ink2" mb="1">
            {piece ? `Found on plate ${piece}` : "Found"}
          </Text>
          <Flex gap="1" wrap="wrap" role="group" aria-label={piece ? `Found on plate ${piece}` : "Found"}>
            {verdicts.map(([id, word, sign]) => (
              <Chip key={id} type="button" aria-pressed={found?.verdict === id} onClick={() => say(id)}>
                {sign} {word}
              </Chip>
            ))}
          </Flex>
          <Box mt="2" maxW="520px">
            <TextField
              label="In words, with the next tap"
              maxLength={400}
              value={words}
              onChange={(e) => setWords(e.target.value)}
              placeholder="lip hard, breaks when bent"
            />
          </Box>
        </>
      )}
      {state.found
        .filter((f) => f.words)
        .map((f) => (
          <Text key={f.id} color="ink2">
            “{f.words}”
          </Text>
        ))}
      {differs && !shown.closed && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            note({ kind: "differs", ref: differs, words });
            setDiffers("");
            setWords("");
          }}
        >
          <Grid templateColumns={{ base: "1fr", md: "200px 1fr auto" }} gap="2" alignItems="end" mt="2">
            <SelectField label="Not as the sheet says" options={differences} value={differs} onChange={(e) => setDiffers(e.target.value)} />
            <TextField
              label="How it is on this unit"
              maxLength={400}
              value={words}
              onChange={(e) => setWords(e.target.value)}
              placeholder="five friction plates, 1.6 mm"
            />
            <Button type="submit" disabled={!words.trim()}>
              Note as this unit's own
            </Button>
          </Grid>
        </form>
      )}
      {bench.own
        .filter((o) => o.part === part.id)
        .map((o) => (
          <Text key={o.id}>
            Δ This unit's own: {differences.find(([id]) => id === o.ref)?.[1]}, {o.value || o.words}
          </Text>
        ))}
      {bench.own.length > 0 && (
        <Text mt="1">
          <Link to={`/units/new?case=${shown.id}`}>
            <u>Put what this unit has into a sheet of its own</u>
          </Link>
        </Text>
      )}
      {!pack && state.limits.length > 0 && !shown.closed && <GaugeInHand />}
      {state.limits
        .filter((l) => !pack || l.id !== `clearance-${pack.element}`)
        .map((l) => (
          <Box key={l.id} mt="3">
            <Flex justify="space-between" gap="3">
              <Text fontWeight="600">
                {l.name}
                {l.known && `: ${l.value}`}
              </Text>
              <Text color={l.verdict === "above" || l.verdict === "below" ? "fault" : "ink2"}>
                {l.verdict === "above"
                  ? "▲ above its window"
                  : l.verdict === "below"
                    ? "▼ below its window"
                    : l.verdict === "cannot-tell"
                      ? "at the edge: this gauge cannot tell"
                      : l.known
                        ? "✓ inside"
                        : `window ${l.window}`}
              </Text>
            </Flex>
            {!shown.closed && (
              <Measure
                label={`Measured, window ${l.window}`}
                kind={kindOf(l.window)}
                now={l.known ? l.value : undefined}
                note={(value) => note({ kind: "size", ref: l.id, value })}
              />
            )}
          </Box>
        ))}
      <Box as="details" mt="3">
        <summary style={{ minHeight: 44, cursor: "pointer", fontWeight: 600 }}>What the sheet says of it</summary>
        <PartFacts part={part} of="out" nameOf={nameOf} />
      </Box>
    </Box>
  );
}

/** The dimension of a limit, by the unit of its window. */
const kindOf = (window: string) => (window.includes("°") ? "angle" : /bar|psi|kPa/.test(window) ? "pressure" : "length");

function PackPanel({
  pack,
  picked,
  pick,
  note,
  closed,
}: {
  pack: Pack;
  picked: number;
  pick: (n: number) => void;
  note: (n: { kind: string; ref: string; value: string }) => void;
  closed: boolean;
}) {
  const plate = picked > 0 ? pack.plates[picked - 1] : undefined;
  const outside = pack.verdict === "above" || pack.verdict === "below";
  return (
    <Box>
      <PackFigure pack={pack} picked={picked} pick={pick} />
      <Flex gap="4" align="center" wrap="wrap" mt="1">
        <Box>
          <Text textStyle="display" fontWeight="700" lineHeight="1.1">
            {pack.room || "–"}
          </Text>
          <Text textStyle="small" color={outside ? "fault" : "ink2"}>
            {pack.says ? `${outside ? "▲ " : ""}${pack.says}` : pack.known ? "by the sheet; nothing measured yet" : "clearance not known"}
          </Text>
        </Box>
        {pack.window && (
          <Box flex="1" minW="240px">
            <Gauge
              low={pack.low}
              high={pack.high}
              at={pack.known ? pack.roomAt : undefined}
              u={pack.roomU}
              verdict={pack.verdict}
              label={`Clearance ${pack.room || "not known"}, window ${pack.window}`}
            />
          </Box>
        )}
      </Flex>
      {!closed && (
        <Grid templateColumns={{ base: "1fr", md: "repeat(2, minmax(0, 1fr))" }} columnGap="3" mt="2" mb="2">
          <GaugeInHand />
          <Measure
            key={picked}
            label={plate ? `Plate ${picked}: thickness` : "Tap a plate for its thickness"}
            kind="length"
            now={plate?.measured ? plate.text : undefined}
            note={(value) => {
              if (!plate) return;
              note({ kind: "size", ref: `piece ${picked}`, value });
              pick(picked < pack.plates.length ? picked + 1 : 0);
            }}
          />
          <Measure label="Depth, piston to snap ring" kind="length" note={(value) => note({ kind: "size", ref: "depth", value })} />
          <Measure
            label="Clearance by feeler or dial"
            kind="length"
            now={pack.told ? pack.room : undefined}
            note={(value) => note({ kind: "size", ref: `clearance-${pack.element}`, value })}
          />
        </Grid>
      )}
    </Box>
  );
}
