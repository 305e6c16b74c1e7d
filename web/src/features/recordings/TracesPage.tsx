import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { traceQuery, type Part, type Recording } from "../../api/recordings";
import { Chip } from "../../shared/Chip";
import { Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { short } from "../../shared/format";
import { useSettled } from "../../shared/useSettled";
import { useSingleKey } from "../../shared/useSingleKey";
import { About } from "./About";
import { Frame } from "./Frame";
import { Lane, valueAt } from "./Lane";
import { Marks } from "./Marks";
import { useRecording } from "./useRecording";
import { moment } from "./words";

/** So many channels are shown when a recording is opened, and so many moments of each are asked for. */
const atFirst = 6;
const moments = 1400;
const tableRows = 40;

export function TracesPage() {
  return <Frame>{(r) => <Traces key={r.id} r={r} />}</Frame>;
}

/** Which part of a recording is looked at: moved, widened, narrowed, never outside it. */
function usePart(seconds: number) {
  const whole = { from: 0, to: Math.max(seconds, 1e-3) };
  const [part, setPart] = useState<Part>(whole);
  const within = (from: number, width: number): Part => {
    const w = Math.max(1e-3, Math.min(width, whole.to));
    const a = Math.max(0, Math.min(from, whole.to - w));
    return { from: a, to: a + w };
  };
  const width = part.to - part.from;
  return {
    part,
    width,
    whole: () => setPart(whole),
    zoom: (p: Part) => setPart(within(p.from, p.to - p.from)),
    move: (share: number) => setPart(within(part.from + share * width, width)),
    scale: (by: number, about?: number) => {
      const c = about !== undefined && about >= part.from && about <= part.to ? about : (part.from + part.to) / 2;
      setPart(within(c - (c - part.from) * by, width * by));
    },
  };
}

function Traces({ r }: { r: Recording }) {
  const useful = r.channels.flatMap((c, i) => (c.values > 1 ? [i] : []));
  const [shown, setShown] = useState(useful.slice(0, atFirst));
  const view = usePart(r.seconds);
  const [cursor, setCursor] = useState<number>();
  const [table, setTable] = useState(false);
  const part = useSettled(view.part, 120);
  const layout = JSON.stringify(r.layout ?? null);
  const { data, error } = useQuery({ ...traceQuery(r.id, shown, part, moments, layout), placeholderData: keepPreviousData });
  const done = useRecording(r);
  const step = (by: number) =>
    setCursor((c) => Math.max(0, Math.min(r.seconds, (c ?? view.part.from) + by * Math.max(1 / Math.max(r.rate, 1e-3), view.width / 400))));
  useSingleKey("left", () => view.move(-0.25));
  useSingleKey("right", () => view.move(0.25));
  useSingleKey("shift+left", () => step(-1));
  useSingleKey("shift+right", () => step(1));
  useSingleKey("+, =", () => view.scale(0.5, cursor), { useKey: true });
  useSingleKey("-", () => view.scale(2, cursor), { useKey: true });
  useSingleKey("0", view.whole);
  useSingleKey("t", () => setTable((t) => !t));
  const toggle = (i: number) => setShown((s) => (s.includes(i) ? s.filter((x) => x !== i) : [...s, i].sort((a, b) => a - b)));
  const at = data?.at ?? [];
  // Few lanes fill the screen; many keep a height that can be read, and the page scrolls.
  const height = Math.max(96, Math.min(220, Math.floor((window.innerHeight - 290) / Math.max(1, shown.length))));
  return (
    <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) 372px" }} flex="1">
      <Box borderRightWidth={{ lg: "1px" }} borderColor="line" minW="0">
        <Flex px={{ base: "3", md: "5" }} py="2" gap="2" wrap="wrap" align="center" borderBottomWidth="1px" borderColor="line">
          {useful.map((i) => (
            <Chip key={i} type="button" aria-pressed={shown.includes(i)} onClick={() => toggle(i)}>
              {r.channels[i]?.name}
            </Chip>
          ))}
          <Flex ml="auto" gap="1" role="group" aria-label="Part that is shown">
            <Button aria-label="Earlier" onClick={() => view.move(-0.25)}>
              ◂
            </Button>
            <Button aria-label="Later" onClick={() => view.move(0.25)}>
              ▸
            </Button>
            <Button aria-label="Closer" onClick={() => view.scale(0.5, cursor)}>
              +
            </Button>
            <Button aria-label="Farther" onClick={() => view.scale(2, cursor)}>
              −
            </Button>
            <Button onClick={view.whole}>All</Button>
            <Button aria-pressed={table} onClick={() => setTable(!table)}>
              {table ? "Traces" : "Table"} <kbd>t</kbd>
            </Button>
          </Flex>
        </Flex>
        {error && (
          <Box px="5">
            <Problem error={error} />
          </Box>
        )}
        {shown.length === 0 && (
          <Text px="5" py="8" color="ink2">
            No channel is shown. Tap one above.
          </Text>
        )}
        {table ? (
          <Box px={{ base: "3", md: "5" }} py="3">
            <Table
              label="What is shown, as a table"
              head={["Time", ...shown.map((i) => `>${r.channels[i]?.name} ${r.channels[i]?.unit && `(${r.channels[i]?.unit})`}`)]}
              rows={rowsOf(at, tableRows).map((t) => [
                moment(t, view.width / tableRows),
                ...shown.map((i, k) => {
                  const c = data?.channels[k];
                  const v = c && valueAt(at, c, t, seldomOf(r, i, data?.each ?? 1));
                  return v === undefined ? "–" : short(v, 3);
                }),
              ])}
              note={`${moment(view.part.from, view.width / 100)} to ${moment(view.part.to, view.width / 100)}, ${tableRows} moments. Come closer for more.`}
            />
          </Box>
        ) : (
          <Box
            pl={{ base: "0", md: "2" }}
            role="img"
            aria-label={`Traces from ${moment(view.part.from)} to ${moment(view.part.to)}; the table has their values`}
          >
            {data &&
              shown.map((i, k) => {
                const c = r.channels[i];
                const trace = data.channels[k];
                return (
                  c &&
                  trace && (
                    <Lane
                      key={`${i} ${k === shown.length - 1}`}
                      name={c.name}
                      unit={c.unit}
                      at={at}
                      trace={trace}
                      part={view.part}
                      seldom={seldomOf(r, i, data.each)}
                      axis={k === shown.length - 1}
                      cursor={cursor}
                      marks={r.marks}
                      pick={setCursor}
                      zoom={view.zoom}
                      height={height}
                    />
                  )
                );
              })}
          </Box>
        )}
        <Flex px={{ base: "3", md: "5" }} py="2" gap="4" color="ink2" textStyle="note" wrap="wrap">
          <Text>
            {moment(view.part.from, view.width / 100)} to {moment(view.part.to, view.width / 100)}
            {cursor !== undefined && `, cursor at ${moment(cursor, view.width / 100)}`}
          </Text>
          {view.width < 0.98 * r.seconds && (
            <Link to={`/recordings/${r.id}/turns?from=${view.part.from.toFixed(2)}&to=${view.part.to.toFixed(2)}`}>
              <u>Hear what turns in this part</u>
            </Link>
          )}
          <Text ml="auto">Drag over a part to come closer. Tap to set the cursor.</Text>
        </Flex>
      </Box>
      <Box minW="0">
        {done.error && (
          <Box px="4">
            <Problem error={done.error} />
          </Box>
        )}
        <Marks r={r} done={done} cursor={cursor} go={(t) => (setCursor(t), view.zoom({ from: t - 2, to: t + 2 }))} />
        <About r={r} done={done} />
      </Box>
    </Grid>
  );
}

/** How long a value of a channel stands: some of its own steps, or two of what is drawn. */
function seldomOf(r: Recording, i: number, each: number): number {
  const c = r.channels[i];
  return Math.max(4 / Math.max(c?.rate ?? 1, 1e-6), (2 * each) / Math.max(r.rate, 1e-6));
}

/** Moments evenly over what is drawn. */
function rowsOf(at: number[], most: number): number[] {
  const first = at[0];
  const last = at.at(-1);
  if (first === undefined || last === undefined) return [];
  return Array.from({ length: most }, (_, i) => first + ((last - first) * i) / (most - 1));
}
