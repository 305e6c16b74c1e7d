import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Schemas } from "../../api/client";
import type { Part } from "../../api/recordings";
import { short } from "../../shared/format";
import { moment } from "./words";

const css = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`).trim() || "#888";

export interface LaneProps {
  name: string;
  unit: string;
  at: number[];
  trace: Schemas["TraceChannel"];
  part: Part;
  /** Channels that come seldom are drawn through between their values; a gap in time stays one. */
  seldom: number;
  axis: boolean;
  cursor?: number;
  marks: Schemas["RecordingMark"][];
  pick: (at: number) => void;
  zoom: (part: Part) => void;
  height: number;
}

const axisHeight = 30;

/** One channel over time: between its least and its greatest, on the axis that all share. */
export function Lane({ name, unit, at, trace, part, seldom, axis, cursor, marks, pick, zoom, height }: LaneProps) {
  const box = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const now = useRef({ marks, cursor, pick, zoom, seldom });
  useEffect(() => {
    now.current = { marks, cursor, pick, zoom, seldom };
  });
  useEffect(() => {
    const host = box.current;
    if (!host) return;
    const ink = css("ink");
    const grid = { stroke: css("line"), width: 1 };
    const font = "12px 'Archivo Variable', system-ui, sans-serif";
    const step = (u: uPlot) => Math.abs((u.scales.x?.max ?? 1) - (u.scales.x?.min ?? 0)) / 10;
    const bridge: uPlot.Series.GapsRefiner = (u, _s, _a, _b, gaps) =>
      gaps.filter(([from, to]) => u.posToVal(to, "x", true) - u.posToVal(from, "x", true) > now.current.seldom);
    const u = new uPlot(
      {
        width: host.clientWidth,
        height: height + (axis ? axisHeight : 0),
        legend: { show: false },
        padding: [8, 20, axis ? 0 : 8, 0],
        cursor: { y: false, points: { show: false }, drag: { x: true, y: false, setScale: false, dist: 12 }, sync: { key: "recording" } },
        scales: { x: { time: false, auto: false }, y: { range: (_u, low, high) => roomy(low, high) } },
        axes: [
          {
            show: axis,
            stroke: css("ink2"),
            grid,
            ticks: grid,
            font,
            size: axisHeight,
            values: (s, ticks) => ticks.map((t) => moment(t, step(s))),
          },
          {
            stroke: css("ink2"),
            grid,
            ticks: { show: false },
            font,
            size: 62,
            values: (_u, ticks) => ticks.map((t) => short(t, 3)),
            space: 26,
          },
        ],
        series: [
          {},
          { stroke: ink, width: 1, gaps: bridge, points: { show: false } },
          { stroke: ink, width: 1, gaps: bridge, points: { show: false } },
        ],
        bands: [{ series: [2, 1], fill: ink }],
        hooks: {
          draw: [(s) => drawMarks(s, now.current.marks, now.current.cursor)],
          setSelect: [
            (s) => {
              if (s.select.width > 8)
                now.current.zoom({ from: s.posToVal(s.select.left, "x"), to: s.posToVal(s.select.left + s.select.width, "x") });
              s.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
            },
          ],
          ready: [
            (s) =>
              s.over.addEventListener("click", (e) => {
                if (Math.abs(e.movementX) < 3) now.current.pick(s.posToVal(e.offsetX, "x"));
              }),
          ],
        },
      },
      [[], [], []],
      host,
    );
    plot.current = u;
    const watch = new ResizeObserver(() => u.setSize({ width: host.clientWidth, height: height + (axis ? axisHeight : 0) }));
    watch.observe(host);
    return () => {
      watch.disconnect();
      u.destroy();
      plot.current = null;
    };
  }, [axis, height]);
  useEffect(() => {
    plot.current?.setData([at, trace.low, trace.high] as uPlot.AlignedData, false);
    plot.current?.setScale("x", { min: part.from, max: part.to });
  }, [at, trace, part]);
  useEffect(() => plot.current?.redraw(false), [marks, cursor]);
  const value = valueAt(at, trace, cursor, seldom);
  return (
    <Flex borderBottomWidth="1px" borderColor="line" align="stretch">
      <Box ref={box} flex="1" minW="0" aria-hidden />
      <Box w="128px" flexShrink={0} py="2" pl="2" pr="3">
        <Text textStyle="small" color="ink2" lineClamp="2" lineHeight="1.2">
          {name}
        </Text>
        <Text textStyle="figure" fontWeight="700">
          {value === undefined ? "–" : short(value, Math.abs(value) < 10 ? 3 : 1)}{" "}
          <Text as="span" textStyle="small" fontWeight="400" color="ink2">
            {unit}
          </Text>
        </Text>
      </Box>
    </Flex>
  );
}

/** A scale with a little room; a level line stands in its middle. */
function roomy(low: number | null, high: number | null): [number, number] {
  if (low === null || high === null) return [0, 1];
  const room = high > low ? 0.06 * (high - low) : Math.max(1, Math.abs(high) * 0.1);
  return [low - room, high + room];
}

/** The value that stands at a moment: of the nearest one before it that has one, no older than the channel is seldom. */
export function valueAt(at: number[], trace: Schemas["TraceChannel"], moment: number | undefined, seldom: number): number | undefined {
  if (moment === undefined) return undefined;
  let low = 0;
  let high = at.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((at[mid] ?? 0) <= moment) low = mid + 1;
    else high = mid;
  }
  for (let i = low - 1; i >= 0 && moment - (at[i] ?? 0) <= Math.max(seldom, 1e-9); i--) {
    const a = trace.low[i];
    const b = trace.high[i];
    if (typeof a === "number" && typeof b === "number") return (a + b) / 2;
  }
  return undefined;
}

function drawMarks(u: uPlot, marks: Schemas["RecordingMark"][], cursor?: number) {
  const { ctx, bbox } = u;
  const line = (at: number, colour: string, width: number, dash: number[]) => {
    const x = u.valToPos(at, "x", true);
    if (x < bbox.left || x > bbox.left + bbox.width) return;
    ctx.save();
    ctx.strokeStyle = colour;
    ctx.lineWidth = width * devicePixelRatio;
    ctx.setLineDash(dash.map((d) => d * devicePixelRatio));
    ctx.beginPath();
    ctx.moveTo(x, bbox.top);
    ctx.lineTo(x, bbox.top + bbox.height);
    ctx.stroke();
    ctx.restore();
  };
  for (const m of marks) line(m.at, css("brass"), 1.5, [4, 3]);
  if (cursor !== undefined) line(cursor, css("brass"), 2, []);
}
