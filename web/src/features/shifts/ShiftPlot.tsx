import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type KeyboardEvent, type MouseEvent } from "react";
import { settingsQuery } from "../../api/queries";
import { traceQuery, type Recording } from "../../api/recordings";
import type { ShiftsTold, ShiftTold } from "../../api/shifts";
import { number } from "../../shared/format";
import { useSingleKey } from "../../shared/useSingleKey";
import { between, draw, inside, labelled, phases, steady } from "./phases";
import { channelsOf, curve, partOf, pressure, pressureDigits, reach, ticks, valueAt, type Curve } from "./traces";
import { useWidth } from "./useWidth";

const css = (name: string) => `var(--chakra-colors-${name})`;
const left = 58;
const right = 138;
const top = 24;
const bottom = 30;
const gap = 12;

/** Text over curves stands in a seam of the page. */
const halo = { paintOrder: "stroke", stroke: css("page"), strokeWidth: 3.5, strokeLinejoin: "round" } as const;

interface Lane {
  key: string;
  title: string;
  unit: string;
  share: number;
  digits: number;
  curves: { key: string; name: string; c: Curve; stroke: string; dash?: string; width: number }[];
}

/** One shift on one axis of time: speeds with the lines of both gears, pressures, and its phases as bands with their lengths. */
export function ShiftPlot({
  r,
  told,
  s,
  hidden,
  hide,
  height = 372,
}: {
  r: Recording;
  told: ShiftsTold;
  s: ShiftTold;
  hidden: ReadonlySet<string>;
  hide: (key: string) => void;
  height?: number;
}) {
  const { ref, width } = useWidth<HTMLDivElement>();
  const { data: settings } = useQuery(settingsQuery);
  const unit = settings?.pressure ?? "kPa";
  const part = partOf(s);
  const used = channelsOf(told, s);
  const list = [used.turbine, used.output, used.line, ...used.on, ...used.off].flatMap((c) => (c ? [c] : []));
  const { data: trace } = useQuery(
    traceQuery(
      r.id,
      list.map((c) => c.channel),
      { from: Math.max(0, part.from - 0.1), to: Math.min(r.seconds, part.to + 0.1) },
      400,
      JSON.stringify(r.layout ?? null),
    ),
  );
  const [cursor, setCursor] = useState<number>();
  const step = (by: number) => setCursor((c) => Math.max(part.from, Math.min(part.to, (c ?? s.leaves.at) + by / Math.max(told.rate, 1))));
  useSingleKey("shift+left", () => step(-1));
  useSingleKey("shift+right", () => step(1));
  const of = (channel: number | undefined, scale?: (v: number) => number) =>
    curve(
      trace,
      list.findIndex((c) => c.channel === channel),
      scale,
    );
  const turbine = of(used.turbine?.channel);
  const late = of(used.output?.channel);
  const output: Curve = { at: late.at.map((t) => t - told.offset), value: late.value };
  const ratio = (id: string) => told.gears.find((g) => g.id === id)?.ratio ?? 1;
  const calm = steady(output);
  const times = (k: number): Curve => ({ at: calm.at, value: calm.value.map((v) => (v === undefined ? undefined : v * k)) });
  const tap = (c: { channel: number; unit: string }) => of(c.channel, (v) => pressure(v, c.unit, unit));
  const line = used.line;
  const pressures = [
    ...used.on.map((c) => ({ key: `on.${c.element}`, name: `${c.title}, on`, c: tap(c), stroke: css("brass"), width: 2.4 })),
    ...used.off.map((c) => ({ key: `off.${c.element}`, name: `${c.title}, off`, c: tap(c), stroke: css("ink2"), width: 1.6, dash: "5 4" })),
    ...(line ? [{ key: "line", name: "line", c: tap(line), stroke: css("ink"), width: 1.2 }] : []),
  ];
  const lanes: Lane[] = [
    {
      key: "turbine",
      title: "rpm",
      unit: "rpm",
      share: 0.52,
      digits: 0,
      curves: [{ key: "turbine", name: "turbine", c: turbine, stroke: css("ink"), width: 2.2 }],
    },
    {
      key: "output",
      title: "rpm",
      unit: "rpm",
      share: 0.14,
      digits: 0,
      curves: [{ key: "output", name: "output", c: output, stroke: css("ink"), width: 1.6 }],
    },
    { key: "pressure", title: unit, unit, share: 0.34, digits: pressureDigits(unit), curves: pressures },
  ].filter((l) => l.curves.length > 0 && !l.curves.every((c) => hidden.has(c.key)));
  const drawn = width - left - right;
  const x = (t: number) => left + ((t - part.from) / (part.to - part.from)) * drawn;
  const sum = lanes.reduce((a, l) => a + l.share, 0);
  const tall = height - top - bottom - gap * (lanes.length - 1);
  let y0 = top;
  const placed = lanes.map((l) => {
    const h = (tall * l.share) / sum;
    const seen = l.curves.filter((c) => !hidden.has(c.key)).map((c) => inside(c.c, part.from, part.to));
    const [low, high] =
      l.key === "turbine"
        ? reach([...seen, inside(times(ratio(s.to)), s.arrives.at, part.to)])
        : l.key === "pressure"
          ? [0, reach(seen)[1]]
          : reach(seen, 0.3);
    const lane = { ...l, y0, h, low, high, y: (v: number) => lane.y0 + lane.h - ((v - lane.low) / (lane.high - lane.low)) * lane.h };
    y0 += h + gap;
    return lane;
  });
  const main = placed.find((l) => l.key === "turbine");
  const at = cursor ?? (s.flare.value > 0 ? s.flareAt : s.leaves.at);
  const put = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const t = part.from + ((e.clientX - box.left - left) / drawn) * (part.to - part.from);
    if (t >= part.from && t <= part.to) setCursor(t);
  };
  const keys = (e: KeyboardEvent) => {
    if (e.shiftKey || (e.key !== "ArrowLeft" && e.key !== "ArrowRight")) return;
    e.preventDefault();
    e.stopPropagation();
    step(e.key === "ArrowLeft" ? -1 : 1);
  };
  const path = (c: Curve, y: (v: number) => number, from = part.from, to = part.to) => draw(c, x, y, from, to);
  const bands = phases(s, part);
  return (
    <Box ref={ref}>
      <svg
        data-shift
        width={width}
        height={height}
        role="img"
        tabIndex={0}
        aria-label={`${s.fromName} to ${s.toName}: ${bands.map((b) => `${b.name} ${b.length ?? ""}`).join(", ")}. The table has the values.`}
        onClick={put}
        onKeyDown={keys}
        style={{ display: "block", fontSize: 12, fontVariantNumeric: "tabular-nums" }}
      >
        <rect width={width} height={height} fill={css("page")} />
        <defs>
          <pattern id="flare" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="5" stroke={css("fault")} strokeWidth="1.4" />
          </pattern>
          <clipPath id="drawn">
            <rect x={left} y={top - 2} width={drawn} height={height - top - bottom + 4} />
          </clipPath>
        </defs>
        {bands.map((b) => (
          <g key={b.name}>
            {b.fill && (
              <rect
                x={x(b.from)}
                y={0}
                width={Math.max(0, x(b.to) - x(b.from))}
                height={height - bottom}
                fill={css(b.fill)}
                opacity={b.fill === "line" ? 0.35 : 0.75}
              />
            )}
            <line x1={x(b.from)} x2={x(b.from)} y1={0} y2={height - bottom} stroke={css("slate")} />
          </g>
        ))}
        {labelled(bands, x).map((b) => (
          <text key={b.name} x={x(b.from) + 5} y={14} fill={css("ink")}>
            <tspan style={{ fontWeight: 700 }}>{b.name}</tspan>
            {b.length && <tspan fill={css("ink2")}> {b.length}</tspan>}
          </text>
        ))}
        {placed.map((l) => (
          <g key={l.key}>
            {lineTicks(l).map((v) => (
              <g key={v}>
                <line x1={left} x2={left + drawn} y1={l.y(v)} y2={l.y(v)} stroke={css("line")} />
                <text x={left - 7} y={l.y(v) + 4} textAnchor="end" fill={css("ink2")}>
                  {number(v, l.digits)}
                </text>
              </g>
            ))}
            <text x={8} y={clear(l)} fill={css("ink2")}>
              {l.title}
            </text>
          </g>
        ))}
        <g clipPath="url(#drawn)">
          {main && s.flare.value > 0 && (
            <path
              d={between(turbine, times(ratio(s.from)), x, main.y, s.leaves.at - 0.5, s.arrives.at)}
              fill="url(#flare)"
              opacity="0.85"
            />
          )}
          {main && (
            <>
              <path
                d={path(times(ratio(s.from)), main.y, part.from, Math.min(part.to, s.leaves.at + 0.25))}
                fill="none"
                stroke={css("ink2")}
                strokeWidth="1.2"
                strokeDasharray="5 4"
              />
              <path
                d={path(times(ratio(s.to)), main.y, Math.max(part.from, s.arrives.at - 0.3), part.to)}
                fill="none"
                stroke={css("ink2")}
                strokeWidth="1.2"
                strokeDasharray="5 4"
              />
            </>
          )}
          {placed.flatMap((l) =>
            l.curves
              .filter((c) => !hidden.has(c.key))
              .map((c) => (
                <path
                  key={c.key}
                  d={path(c.c, l.y)}
                  fill="none"
                  stroke={c.stroke}
                  strokeWidth={c.width}
                  strokeDasharray={c.dash}
                  strokeLinejoin="round"
                />
              )),
          )}
        </g>
        {main && <GearNames s={s} main={main} x={x} output={calm} ratio={ratio} />}
        {main && <Inertia s={s} x={x} y={main.y0 + main.h * 0.8} />}
        {main && s.flare.value > 0 && <FlareMark s={s} x={x} y={main.y} t={s.flareAt} turbine={turbine} />}
        {ticks(part.from - part.zero, part.to - part.zero - 0.03 * (part.to - part.from), Math.floor(drawn / 90)).map((v) => (
          <g key={v}>
            <line x1={x(v + part.zero)} x2={x(v + part.zero)} y1={height - bottom} y2={height - bottom + 4} stroke={css("ink2")} />
            <text x={x(v + part.zero)} y={height - 10} textAnchor="middle" fill={css("ink2")}>
              {number(v, 1)}
            </text>
          </g>
        ))}
        <line x1={left} x2={left + drawn} y1={height - bottom} y2={height - bottom} stroke={css("ink2")} />
        <text x={left + drawn + 10} y={height - 10} fill={css("ink2")}>
          s from {s.command ? "command" : "leaving"}
        </text>
        <line x1={x(at)} x2={x(at)} y1={top - 4} y2={height - bottom} stroke={css("brass")} strokeWidth="2" />
        <path d={`M${x(at) - 6} ${height - bottom} h12 v9 l-6 6 l-6 -6 Z`} fill={css("brass")} />
        <Values placed={placed} at={at} x={left + drawn + 10} hidden={hidden} hide={hide} />
      </svg>
    </Box>
  );
}

type Placed = Lane & { y0: number; h: number; low: number; high: number; y: (v: number) => number };

/** Where each value stands: at its curve, or below the one before it. */
function spread(placed: Placed[], at: number) {
  const rows = placed.flatMap((lane) =>
    lane.curves.map((c) => ({ c, lane, v: valueAt(c.c, at), y: 0 })).sort((a, b) => (b.v ?? 0) - (a.v ?? 0)),
  );
  for (let i = 0, last = 0; i < rows.length; i++) {
    const row = rows[i];
    if (!row) continue;
    row.y = last = Math.max(row.lane.y0 + 8, row.v === undefined ? row.lane.y0 : row.lane.y(row.v) - 4, last + 31);
  }
  return rows;
}

/** The values at the cursor, each beside its curve, none over another. */
function Values({
  placed,
  at,
  x,
  hidden,
  hide,
}: {
  placed: Placed[];
  at: number;
  x: number;
  hidden: ReadonlySet<string>;
  hide: (key: string) => void;
}) {
  const rows = spread(placed, at);
  return (
    <>
      {rows.map(({ c, v, lane, y }) => (
        <g
          key={c.key}
          onClick={(e) => (e.stopPropagation(), hide(c.key))}
          style={{ cursor: "pointer" }}
          opacity={hidden.has(c.key) ? 0.45 : 1}
        >
          <rect x={x - 4} y={y - 16} width={128} height={31} fill="transparent" />
          <line x1={x} x2={x + 14} y1={y - 9} y2={y - 9} stroke={c.stroke} strokeWidth={c.width} strokeDasharray={c.dash} />
          <text x={x + 19} y={y - 5} fill={css("ink2")}>
            {c.name}
            {hidden.has(c.key) ? ", hidden" : ""}
          </text>
          <text x={x} y={y + 10} fill={css("ink")} style={{ fontSize: 14, fontWeight: 700 }}>
            {v === undefined ? "–" : number(v, lane.digits)} {lane.unit}
          </text>
        </g>
      ))}
    </>
  );
}

const lineTicks = (l: Placed) => ticks(l.low, l.high, Math.max(1, Math.floor(l.h / 42)));

/** Where a lane's unit stands clear of the numbers on its axis. */
function clear(l: Placed): number {
  const taken = lineTicks(l).map((v) => l.y(v) + 4);
  for (let y = l.y0 + 11; y < l.y0 + l.h; y += 3) if (taken.every((t) => Math.abs(t - y) > 14)) return y;
  return l.y0 + 11;
}

/** The length of the inertia phase, as a measure between its borders. */
function Inertia({ s, x, y }: { s: ShiftTold; x: (t: number) => number; y: number }) {
  const a = x(s.leaves.at);
  const b = x(s.arrives.at);
  const word = `${number(s.inertia.value, 2)} s`;
  const wide = b - a > 104;
  return (
    <g>
      <path
        d={`M${a} ${y} H${b} M${a + 7} ${y - 4} L${a} ${y} L${a + 7} ${y + 4} M${b - 7} ${y - 4} L${b} ${y} L${b - 7} ${y + 4}`}
        fill="none"
        stroke={css("ink")}
        strokeWidth="1.4"
      />
      <text {...halo} x={wide ? a + 10 : b + 8} y={wide ? y - 7 : y + 5} fill={css("ink")} style={{ fontSize: 16, fontWeight: 700 }}>
        {word}
        <tspan style={{ fontSize: 12, fontWeight: 400 }} fill={css("ink2")}>
          {" "}
          ± {number(s.inertia.u, 2)} s
        </tspan>
      </text>
    </g>
  );
}

function FlareMark({
  s,
  x,
  y,
  t,
  turbine,
}: {
  s: ShiftTold;
  x: (t: number) => number;
  y: (v: number) => number;
  t: number;
  turbine: Curve;
}) {
  const v = valueAt(turbine, t);
  if (v === undefined) return null;
  const to = v - s.flare.value;
  const a = x(t) + 12;
  return (
    <g stroke={css("ink")} strokeWidth="1.2">
      <path d={`M${a - 5} ${y(v)} h10 M${a - 5} ${y(to)} h10 M${a} ${y(v)} V${y(to)}`} fill="none" />
      <text x={a + 10} y={(y(v) + y(to)) / 2 + 5} {...halo} fill={css("ink")} style={{ fontSize: 16, fontWeight: 700 }}>
        {number(s.flare.value)}
        <tspan style={{ fontSize: 12, fontWeight: 400 }} fill={css("ink2")}>
          {" "}
          ± {number(s.flare.u)} rpm flare
        </tspan>
      </text>
    </g>
  );
}

/** The names of both gears at the ends of their lines. */
function GearNames({
  s,
  main,
  x,
  output,
  ratio,
}: {
  s: ShiftTold;
  main: Placed;
  x: (t: number) => number;
  output: Curve;
  ratio: (id: string) => number;
}) {
  const part = partOf(s);
  const a = valueAt(output, part.from);
  const b = valueAt(output, part.to);
  const held = (v: number) => Math.min(main.y0 + main.h - 4, Math.max(main.y0 + 12, v));
  return (
    <g fill={css("ink2")}>
      {a !== undefined && (
        <text {...halo} x={x(part.from) + 6} y={held(main.y(a * ratio(s.from)) + (s.down ? -10 : 20))}>
          {s.fromName}, {number(ratio(s.from), 3)} × output
        </text>
      )}
      {b !== undefined && (
        <text {...halo} x={x(part.to) - 6} textAnchor="end" y={held(main.y(b * ratio(s.to)) + (s.down ? 20 : -10))}>
          {s.toName}, {number(ratio(s.to), 3)} × output
        </text>
      )}
    </g>
  );
}
