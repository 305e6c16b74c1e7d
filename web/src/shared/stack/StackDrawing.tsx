import { Box } from "@chakra-ui/react";
import { useEffect, useMemo, useRef } from "react";
import { hullOf, labelled, place, seen, topOf, type Placed, type StackPart } from "./layout";
import { Cut, Outside, Patterns, type Scale } from "./PartShape";

interface Pennant {
  part: string;
  letter: string;
  at: number[]; // x and radius, mm; empty: at the part
}

interface Props {
  parts: StackPart[];
  axes: { id: string; height: number }[];
  shifts?: Map<string, number[]>; // none: the unit as it is built
  gone?: Set<string>;
  selected: string;
  onSelect: (id: string) => void;
  zoom: number;
  pennants?: Pennant[];
  only?: Set<string>; // draw these alone
  name?: string; // of the place that it is drawn in, where there are two
  label: string;
}

const rowHeight = 50;
const margin = 18;
const px = 1.02; // for a mm at zoom 1

/** How far out a part reaches: what is outermost is drawn last in the half that is seen from outside. */
const reach = (p: Placed) => Math.max(...p.upper.map((b) => b[3]), 0);

/**
 * A unit in section: upper half cut open, lower half from outside; each part can be taken in hand. Exploded, the parts stand along the shaft
 * in the order in which they leave.
 */
export function StackDrawing({
  parts,
  axes,
  shifts,
  gone,
  selected,
  onSelect,
  zoom,
  pennants = [],
  only,
  name = "Drawing of the parts",
  label,
}: Props) {
  const exploded = Boolean(shifts);
  const placed = useMemo(
    () =>
      place(
        parts,
        (p) => shifts?.get(p.id) ?? [0, 0],
        (id) => (gone?.has(id) ?? false) || (only ? !only.has(id) : false),
      ),
    [parts, shifts, gone, only],
  );
  const tops = useMemo(() => topOf(parts), [parts]);
  const box = useRef<HTMLDivElement>(null);
  const hull = useMemo(() => hullOf(placed.map((p) => p.hull)), [placed]);
  const k = px * zoom;
  const width = (hull[1] - hull[0]) * k + 2 * margin;
  const groups = useMemo(() => groupsOf(placed, parts, tops, gone), [placed, parts, tops, gone]);
  const named = useMemo(() => {
    if (!exploded && zoom < 1.6) return [];
    const list = groups.map((g) => ({ id: g.id, number: g.number, name: g.name, at: (g.middle - hull[0]) * k + margin }));
    return labelled(list, width, exploded ? 3 : 5);
  }, [groups, exploded, zoom, hull, k, width]);
  const below = useMemo(() => seen(placed), [placed]);
  const outerFirst = useMemo(() => [...placed].sort((a, b) => reach(b) - reach(a)), [placed]);
  const largeFirst = useMemo(() => [...placed].sort((a, b) => area(b) - area(a)), [placed]);
  const rows = named.length ? Math.max(...named.map((l) => l.row)) + 1 : 0;
  const top = rows * rowHeight + 12;
  const s: Scale = useMemo(
    () => ({ x: (mm: number) => (mm - hull[0]) * k + margin, y: (mm: number) => top + (hull[3] - mm) * k, k }),
    [hull, k, top],
  );
  const height = top + (hull[3] - hull[2]) * k + margin;
  const inHand = placed.find((p) => p.part.id === selected);
  const handGroup = inHand && tops.get(selected) === selected ? groups.find((g) => g.id === selected)?.hull : inHand?.hull;
  useEffect(() => {
    // What is in hand comes into view.
    const el = box.current;
    if (!el || !handGroup) return;
    const x = s.x((handGroup[0] + handGroup[1]) / 2);
    if (x < el.scrollLeft + 60 || x > el.scrollLeft + el.clientWidth - 60) el.scrollTo({ left: x - el.clientWidth / 2 });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected, zoom, exploded]);
  if (placed.length === 0) return null;
  return (
    <Box ref={box} tabIndex={0} role="region" aria-label={name} overflowX="auto" overflowY="hidden" data-testid="stack-drawing">
      <svg width={width} height={height} role="group" aria-label={label} style={{ display: "block" }}>
        <Patterns />
        <g aria-hidden>
          {[{ id: "", height: 0 }, ...axes].map((a) => (
            <line
              key={a.id}
              x1={4}
              x2={width - 4}
              y1={s.y(a.height)}
              y2={s.y(a.height)}
              stroke="var(--chakra-colors-slate)"
              strokeDasharray="14 4 3 4"
            />
          ))}
          {below.map((x, i) => (
            <Outside key={i} of={x} s={s} />
          ))}
          {outerFirst.map((p) => (
            <Cut key={p.part.id} p={p} s={s} />
          ))}
        </g>
        {named.map((l) => {
          const on = l.id === tops.get(selected);
          const y = l.row * rowHeight;
          const g = groups.find((x) => x.id === l.id)!;
          return (
            <g key={l.id} onClick={() => onSelect(l.id)} style={{ cursor: "pointer" }} aria-hidden>
              <line x1={l.at} x2={l.at} y1={y + 46} y2={s.y(g.hull[3])} stroke="var(--chakra-colors-line)" />
              <rect x={l.x - 34} y={y} width="68" height={rowHeight} fill="transparent" />
              <circle
                cx={l.x}
                cy={y + 11}
                r="10"
                fill={on ? "var(--chakra-colors-ink)" : "var(--chakra-colors-page)"}
                stroke="var(--chakra-colors-ink2)"
              />
              <text
                x={l.x}
                y={y + 15}
                textAnchor="middle"
                style={{ fontSize: 11, fontWeight: 700 }}
                fill={on ? "var(--chakra-colors-page)" : "var(--chakra-colors-ink)"}
              >
                {l.number}
              </text>
              {l.lines.map((t, i) => (
                <text
                  key={i}
                  x={l.x}
                  y={y + 33 + i * 12.5}
                  textAnchor="middle"
                  style={{ fontSize: 11.5, fontWeight: on ? 700 : 400 }}
                  fill="var(--chakra-colors-ink)"
                >
                  {t}
                </text>
              ))}
            </g>
          );
        })}
        {handGroup && <Corners box={handGroup} s={s} />}
        {largeFirst.map((p) =>
          [...p.upper, ...p.lower].map((b, i) => (
            <rect
              key={`${p.part.id} ${i}`}
              x={s.x(b[0])}
              y={s.y(b[3])}
              width={Math.max(6, (b[1] - b[0]) * s.k)}
              height={Math.max(6, (b[3] - b[2]) * s.k)}
              fill={p.part.id === selected ? "var(--chakra-colors-brass)" : "transparent"}
              fillOpacity={p.part.id === selected ? 0.35 : 1}
              style={{ cursor: "pointer" }}
              onClick={() => onSelect(p.part.id)}
            >
              <title>{`${p.part.number} ${p.part.name}`}</title>
            </rect>
          )),
        )}
        {pennants.map((f) => {
          const p = placed.find((x) => x.part.id === f.part);
          if (!p) return null;
          const [dx = 0] = shifts?.get(f.part) ?? [0];
          const [mx, my] = f.at.length === 2 ? [f.at[0]! + dx, f.at[1]!] : [(p.hull[0] + p.hull[1]) / 2, p.hull[3]];
          const x = s.x(mx);
          const y = s.y(my);
          return (
            <g key={f.letter} aria-hidden>
              <line x1={x} y1={y} x2={x - 26} y2={y - 30} stroke="var(--chakra-colors-fault)" strokeWidth="1.5" />
              <circle cx={x} cy={y} r="3" fill="var(--chakra-colors-fault)" />
              <path d={`M${x - 56} ${y - 42}h30v20h-30l6-10z`} fill="var(--chakra-colors-fault)" />
              <text x={x - 38} y={y - 27} textAnchor="middle" style={{ fontSize: 13, fontWeight: 700 }} fill="var(--chakra-colors-page)">
                {f.letter}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}

const area = (p: Placed) => p.upper.reduce((t, b) => t + (b[1] - b[0]) * (b[3] - b[2]), 0);

function Corners({ box: [x0, x1, y0, y1], s }: { box: [number, number, number, number]; s: Scale }) {
  const [l, r, t, b] = [s.x(x0) - 7, s.x(x1) + 7, s.y(y1) - 7, s.y(y0) + 7];
  const c = 14;
  return (
    <path
      d={`M${l} ${t + c}V${t}H${l + c}M${r - c} ${t}H${r}V${t + c}M${r} ${b - c}V${b}H${r - c}M${l + c} ${b}H${l}V${b - c}`}
      fill="none"
      stroke="var(--chakra-colors-brass)"
      strokeWidth="3"
      aria-hidden
    />
  );
}

interface Group {
  id: string;
  number: string;
  name: string;
  middle: number;
  hull: [number, number, number, number];
}

/** What leaves the unit in one piece, with what sits in it. */
function groupsOf(placed: Placed[], parts: StackPart[], tops: Map<string, string>, gone?: Set<string>): Group[] {
  return parts
    .filter((p) => p.sitsIn === "" && p.number !== "" && !gone?.has(p.id))
    .flatMap((p) => {
      const mine = placed.filter((x) => tops.get(x.part.id) === p.id);
      if (mine.length === 0) return [];
      const hull = hullOf(mine.map((m) => m.hull));
      return [{ id: p.id, number: p.number, name: p.name, middle: (hull[0] + hull[1]) / 2, hull }];
    });
}
