import { Box, Button, Flex, Grid, Text, useBreakpointValue } from "@chakra-ui/react";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import type { Schemas } from "../../api/client";
import { percent } from "../../shared/format";
import { Choice } from "../../shared/Choice";
import { singleKeys } from "../../shared/useSingleKey";
import { CallOut } from "./CallOut";
import { roadReading } from "./roadReading";
import { useCase } from "./useCase";

type Cell = Schemas["RoadCell"];
type Leg = Schemas["RoadLeg"];

/** The next cell that was not driven, from one on and around; "" when all were. */
function nextOpen(ids: string[], cells: Map<string, Cell>, after: number): string {
  const order = [...ids.slice(after + 1), ...ids.slice(0, after)];
  return order.find((id) => !cells.get(id)?.state) ?? "";
}

/** The states as a column of big buttons under one thumb. */
function States({ states, now, set, skip }: { states: Schemas["CellState"][]; now: string; set: (s: string) => void; skip: () => void }) {
  return (
    <Grid
      gridArea="states"
      templateColumns={{ base: "1fr 1fr", sm: "1fr" }}
      gap="2"
      role="group"
      aria-label="What it does"
      alignContent="start"
    >
      {states.map((s, i) => (
        <Button
          key={s.id}
          variant={i === 0 && !now ? "solid" : "outline"}
          aria-pressed={s.id === now}
          bg={s.id === now ? "brassSoft" : undefined}
          borderColor={s.id === now ? "brass" : undefined}
          color={s.id === now ? "ink" : undefined}
          h="auto"
          minH={i === 0 ? "76px" : "56px"}
          textStyle="lead"
          justifyContent="space-between"
          whiteSpace="normal"
          textAlign="left"
          onClick={() => set(s.id)}
        >
          {s.title} <kbd>{s.key === " " ? "space" : s.key}</kbd>
        </Button>
      ))}
      <Button variant="ghost" minH="56px" justifyContent="space-between" onClick={skip}>
        not driven, go on <kbd>0</kbd>
      </Button>
    </Grid>
  );
}

/** What the failures that fit so far would do here: agreement is seen before it is believed. */
function WouldDo({ cell }: { cell: string }) {
  const { shown } = useCase();
  return (
    <Box as="section" aria-label="What each failure would do here" mt="4">
      <Text as="h4" textStyle="small" fontWeight="600" color="ink2">
        What each failure would do here
      </Text>
      {shown.road.predicted.slice(0, 5).map((p) => {
        const words = p.does.find((d) => d.cell === cell)?.words;
        return (
          <Flex key={p.title} gap="3" py="1.5" borderTopWidth="1px" borderColor="line" justify="space-between" align="baseline">
            <Text textStyle="note" minW="0">
              {shown.road.driven > 0 && <b>{percent(p.share)} % </b>}
              {p.title}
            </Text>
            <Text textStyle="note" fontWeight={words ? "700" : "400"} color={words ? "ink" : "ink2"} textAlign="right">
              {words ?? "normal"}
            </Text>
          </Flex>
        );
      })}
    </Box>
  );
}

function useSide(): ["left" | "right", (s: "left" | "right") => void] {
  const [side, keep] = useState<"left" | "right">(() => (localStorage.getItem("thumb") === "left" ? "left" : "right"));
  return [side, (s) => (localStorage.setItem("thumb", s), keep(s))];
}

/** Says the next cell aloud with a voice of this machine; silent where there is none. */
function useReadOut(words: string) {
  const [on, setOn] = useState(false);
  const able = "speechSynthesis" in window;
  useEffect(() => {
    if (!on || !able || !words) return;
    const says = new SpeechSynthesisUtterance(words);
    const voice = speechSynthesis.getVoices().find((v) => v.localService && v.lang.startsWith("en"));
    if (voice) says.voice = voice;
    speechSynthesis.speak(says);
    return () => speechSynthesis.cancel();
  }, [on, able, words]);
  return { on, setOn, able };
}

/** One cell at a time in the order of one drive, for one hand. */
export function Drive({ temperature, source, end }: { temperature: string; source: string; end: () => void }) {
  const { shown, actions, by } = useCase();
  const { road } = shown;
  const rows = new Map(road.rows.flatMap((r) => r.cells.filter((c) => c.finding).map((c) => [c.finding, r] as const)));
  const cells = new Map(road.rows.flatMap((r) => r.cells.map((c) => [c.finding, c] as const)));
  const of = (l: Leg) => (temperature === "cold" ? l.cold : l.hot);
  const ids = road.legs.flatMap(of);
  const [at, setAt] = useState(() => nextOpen(ids, cells, -1));
  const [side, setSide] = useSide();
  const here = cells.get(at);
  const row = rows.get(at);
  const place = ids.indexOf(at);
  const leg = road.legs.find((l) => of(l).includes(at));
  const open = ids.filter((id) => !cells.get(id)?.state);
  const rest = leg ? of(leg).filter((id) => !cells.get(id)?.state) : [];
  const readOut = useReadOut(here && row ? `${here.range}, ${row.title}` : "");
  const top = useRef<HTMLDivElement>(null);
  // The drive has the whole of a small screen: what stands above it is out of the way from the start.
  const small = useBreakpointValue({ base: true, xl: false }, { ssr: false });
  useEffect(() => {
    if (small) top.current?.scrollIntoView({ block: "start" });
    top.current?.focus({ preventScroll: true });
  }, [small]);
  const reading = (finding: string, state: string) => {
    const cell = cells.get(finding);
    return cell ? [roadReading(cell, state, source, by)] : [];
  };
  // The focus stays with the drive: a letter is a state here, whatever else it is in the case.
  const go = (to: string) => {
    setAt(to);
    top.current?.focus({ preventScroll: true });
  };
  const set = (state: string) => {
    actions.read.mutate(reading(at, state));
    go(nextOpen(ids, cells, place));
  };
  const called = (calls: Schemas["SaidOffer"][]) => {
    actions.read.mutate(calls.flatMap((c) => reading(c.finding, c.state)));
    if (calls.some((c) => c.finding === at)) go(nextOpen(ids, cells, place));
  };
  const skip = () => go(nextOpen(ids, cells, place) || ids[(place + 1) % ids.length] || "");
  const back = () => go(ids[Math.max(0, (place < 0 ? ids.length : place) - 1)] ?? "");
  const restNormal = () => {
    actions.read.mutate(rest.flatMap((f) => reading(f, rows.get(f)?.states[0]?.id ?? "")));
    const last = ids.indexOf(rest[rest.length - 1] ?? "");
    go(ids.slice(last + 1).find((id) => !cells.get(id)?.state) ?? open.find((id) => !rest.includes(id)) ?? "");
  };
  const onKeyDown = (e: KeyboardEvent<HTMLElement>) => {
    const typing = e.target instanceof HTMLInputElement || (e.target instanceof HTMLButtonElement && (e.key === " " || e.key === "Enter"));
    if (typing || e.ctrlKey || e.metaKey || e.altKey || !singleKeys()) return;
    const state = row?.states.find((s) => s.key === e.key.toLowerCase());
    if (state) set(state.id);
    else if (e.key === "0") skip();
    else if (e.key === "ArrowLeft") back();
    else if (e.key === "Escape") end();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  if (!here || !row)
    return (
      <Box py="6">
        <Text as="h3" textStyle="title" fontWeight="700">
          The {temperature} drive is done.
        </Text>
        <Text color="ink2" mb="3">
          {ids.length} of {ids.length} cells noted.
        </Text>
        <Flex gap="2">
          <Button variant="solid" onClick={end}>
            To the grid
          </Button>
          <Button onClick={back}>Back to the last one</Button>
        </Flex>
      </Box>
    );
  return (
    <Box as="section" aria-label="Drive" ref={top} tabIndex={-1} outline="none" scrollMarginTop="8px" onKeyDown={onKeyDown}>
      {road.caution && (
        <Text mb="2">
          <b>⚠ Before you drive:</b> {road.caution}
        </Text>
      )}
      <Flex h="6px" bg="line" aria-hidden>
        <Box bg="brass" w={`${((ids.length - open.length) / ids.length) * 100}%`} />
      </Flex>
      <Grid
        mt="3"
        columnGap="6"
        rowGap="3"
        gridTemplateRows={{ sm: "auto 1fr" }}
        templateColumns={{ base: "minmax(0, 1fr)", sm: side === "left" ? "230px minmax(0, 1fr)" : "minmax(0, 1fr) 230px" }}
        templateAreas={{
          base: `"asked" "states" "more"`,
          sm: side === "left" ? `"states asked" "states more"` : `"asked states" "more states"`,
        }}
      >
        <Box gridArea="asked" minW="0">
          <Text textStyle="label" color="ink2">
            <b>{leg?.title}</b> · {ids.length - open.length} of {ids.length} noted
          </Text>
          <Text color="ink2">{leg?.how}</Text>
          <Text as="h3" textStyle="display" fontWeight="700" lineHeight="1.15" mt="2" aria-live="polite">
            {here.range} · {row.title}
          </Text>
          <Text color="ink2" minH="20px">
            {here.state ? `noted: ${here.stateTitle}${here.source === "customer" ? ", told by the customer" : ""}` : ""}
          </Text>
        </Box>
        <Box gridArea="more" minW="0">
          <CallOut at={at} note={called} />
          <WouldDo cell={`${here.range}.${row.behaviour}`} />
        </Box>
        <States states={row.states} now={here.state} set={set} skip={skip} />
      </Grid>
      <Flex mt="4" gap="2" wrap="wrap" align="center">
        <Button onClick={back}>
          <kbd>◂</kbd> back
        </Button>
        {rest.length > 1 && (
          <Button onClick={restNormal}>
            The other {rest.length} of “{leg?.title.toLowerCase()}” normal
          </Button>
        )}
        <Choice
          label="Buttons at"
          value={side}
          options={[
            ["left", "left hand"],
            ["right", "right hand"],
          ]}
          onChange={setSide}
        />
        {readOut.able && (
          <Button aria-pressed={readOut.on} onClick={() => readOut.setOn(!readOut.on)}>
            {readOut.on ? "Stop reading out" : "Read the next one out"}
          </Button>
        )}
        <Button ml="auto" onClick={end}>
          To the grid
        </Button>
      </Flex>
    </Box>
  );
}
