import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { short } from "../format";
import { ticks } from "./ticks";

type FigureData = Schemas["Chart"];

const colour = (name: string) => `var(--chakra-colors-${name})`;
const written = (v: number) => short(Number(v.toPrecision(3)), 6);

const axisTitle = (a: Schemas["Axis"]) => [a.label, a.unit].filter(Boolean).join(", ");

const W = 560;
const H = 270;
const pad = { left: 62, right: 18, top: 16, bottom: 40 };

const stroke: Record<string, { color: string; width: number; dash?: string }> = {
  main: { color: "ink", width: 2.5 },
  other: { color: "ink2", width: 1.5, dash: "6 4" },
  limit: { color: "fault", width: 1.5, dash: "2 4" },
};

/** Lines over two axes with the places that matter named on them. */
function Curve({ figure }: { figure: FigureData }) {
  const all = [...figure.series.flatMap((s) => s.points), ...figure.marks.map((m) => [m.x, m.y])];
  const xs = all.map((p) => p[0] ?? 0);
  const ys = all.map((p) => p[1] ?? 0);
  if (all.length === 0) return null;
  const span = (v: number[], zero: boolean) => {
    const low = Math.min(...v, ...(zero ? [0] : []));
    const high = Math.max(...v);
    const room = (high - low || Math.abs(high) || 1) * 0.08;
    return [zero && low === 0 ? 0 : low - room, high + room] as const;
  };
  const [x0, x1] = [Math.min(...xs), Math.max(...xs) === Math.min(...xs) ? Math.min(...xs) + 1 : Math.max(...xs)];
  const yLow = Math.min(...ys);
  const [y0, y1] = span(ys, yLow >= 0 && yLow < 0.6 * Math.max(...ys));
  const x = (v: number) => pad.left + ((v - x0) / (x1 - x0)) * (W - pad.left - pad.right);
  const y = (v: number) => H - pad.bottom - ((v - y0) / (y1 - y0)) * (H - pad.top - pad.bottom);
  return (
    <svg viewBox={`0 0 ${W} ${H}`} width="100%" style={{ maxWidth: 680, display: "block" }} aria-hidden>
      {ticks(y0, y1).map((v) => (
        <g key={v}>
          <line x1={pad.left} x2={W - pad.right} y1={y(v)} y2={y(v)} stroke={colour("line")} />
          <text x={pad.left - 8} y={y(v) + 4} textAnchor="end" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
            {written(v)}
          </text>
        </g>
      ))}
      {ticks(x0, x1).map((v) => (
        <text key={v} x={x(v)} y={H - pad.bottom + 17} textAnchor="middle" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
          {written(v)}
        </text>
      ))}
      <text x={pad.left - 8} y={11} textAnchor="start" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
        {axisTitle(figure.y)}
      </text>
      <text x={W - pad.right} y={H - 6} textAnchor="end" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
        {axisTitle(figure.x)}
      </text>
      {figure.series.map((s) => {
        const look = stroke[s.role] ?? stroke.main;
        return (
          <polyline
            key={s.name}
            points={s.points.map((p) => `${x(p[0] ?? 0)},${y(p[1] ?? 0)}`).join(" ")}
            fill="none"
            stroke={colour(look?.color ?? "ink")}
            strokeWidth={look?.width}
            strokeDasharray={look?.dash}
            strokeLinejoin="round"
          />
        );
      })}
      {figure.marks.map((m) => {
        const right = x(m.x) > W - 110;
        return (
          <g key={m.label}>
            <circle cx={x(m.x)} cy={y(m.y)} r="6" fill={colour("brass")} stroke={colour("page")} strokeWidth="2" />
            <text
              x={x(m.x) + (right ? -11 : 11)}
              y={Math.max(pad.top + 12, y(m.y) - 8)}
              textAnchor={right ? "end" : "start"}
              fill={colour("ink")}
              stroke={colour("page")}
              strokeWidth="4"
              style={{ fontSize: 13, fontWeight: 700, paintOrder: "stroke" }}
            >
              {m.label}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

function Legend({ figure }: { figure: FigureData }) {
  if (figure.series.length < 2) return null;
  return (
    <Flex gap="4" wrap="wrap" textStyle="small" color="ink2" mt="1">
      {figure.series.map((s) => {
        const look = stroke[s.role] ?? stroke.main;
        return (
          <Flex key={s.name} align="center" gap="1.5">
            <svg width="26" height="8" aria-hidden>
              <line
                x1="0"
                x2="26"
                y1="4"
                y2="4"
                stroke={colour(look?.color ?? "ink")}
                strokeWidth={look?.width}
                strokeDasharray={look?.dash}
              />
            </svg>
            {s.name}
          </Flex>
        );
      })}
    </Flex>
  );
}

/** A pack in section, thicknesses to scale: hatched lining, plain steel, brass room. */
function Stack({ figure }: { figure: FigureData }) {
  const total = figure.layers.reduce((sum, l) => sum + l.size, 0) || 1;
  const fills: Record<string, string> = {
    steel: colour("slate"),
    lined: "url(#lining)",
    plate: colour("ink2"),
    room: colour("brass-soft"),
  };
  const width = 520;
  const before = (i: number) => figure.layers.slice(0, i).reduce((sum, l) => sum + l.size, 0);
  return (
    <svg viewBox="0 0 560 150" width="100%" style={{ maxWidth: 680, display: "block" }} aria-hidden>
      <defs>
        <pattern id="lining" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill={colour("panel")} />
          <line x1="0" y1="0" x2="0" y2="6" stroke={colour("ink")} strokeWidth="2.5" />
        </pattern>
      </defs>
      <path d="M10 18V106M530 18V106" stroke={colour("ink")} strokeWidth="3" />
      <text x="10" y="13" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
        piston
      </text>
      <text x="530" y="13" textAnchor="end" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
        snap ring
      </text>
      {figure.layers.map((l, i) => {
        const w = (l.size / total) * width;
        const from = 10 + (before(i) / total) * width;
        return (
          <g key={i}>
            <rect
              x={from}
              y="22"
              width={Math.max(0.5, w)}
              height="80"
              fill={fills[l.kind] ?? fills.plate}
              stroke={colour(l.kind === "room" ? "brass" : "ink")}
              strokeWidth={l.kind === "room" ? 2 : 0.75}
            />
            {l.label && (
              <text
                x={Math.min(550, Math.max(10, from + w / 2))}
                y={l.kind === "room" ? 122 : 142}
                textAnchor={from + w / 2 > 460 ? "end" : from + w / 2 < 90 ? "start" : "middle"}
                fill={colour("ink")}
                style={{ fontSize: 13, fontWeight: l.kind === "room" ? 700 : 400 }}
              >
                {l.label}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** Bolts round a circle, each with its turn. */
function Circle({ figure }: { figure: FigureData }) {
  const n = figure.spots.length;
  const r = n > 24 ? 14 : 20;
  const at = (i: number) => {
    const a = (2 * Math.PI * i) / n - Math.PI / 2;
    return [180 + 140 * Math.cos(a), 180 + 140 * Math.sin(a)] as const;
  };
  return (
    <svg viewBox="0 0 360 360" width="100%" style={{ maxWidth: 380, display: "block" }} aria-hidden>
      <circle cx="180" cy="180" r="140" fill="none" stroke={colour("line")} strokeWidth="2" />
      {figure.spots.map((turn, i) => {
        const [x, y] = at(i);
        return (
          <g key={i}>
            <circle
              cx={x}
              cy={y}
              r={r}
              fill={colour(turn === 1 ? "brass-soft" : "panel")}
              stroke={colour(turn === 1 ? "brass" : "ink")}
              strokeWidth={turn === 1 ? 3 : 1.5}
            />
            <text x={x} y={y + 5} textAnchor="middle" fill={colour("ink")} style={{ fontSize: n > 24 ? 12.5 : 16, fontWeight: 700 }}>
              {turn}
            </text>
          </g>
        );
      })}
      <text x="180" y="184" textAnchor="middle" fill={colour("ink2")} style={{ fontSize: 13 }}>
        number: turn
      </text>
    </svg>
  );
}

/** A rotor from the side on which its angles count clockwise: places, and masses as arrows from the middle. */
function Rotor({ figure }: { figure: FigureData }) {
  const middle = 190;
  const rim = 118;
  const at = (angle: number, r: number) => [middle + r * Math.sin(angle), middle - r * Math.cos(angle)] as const;
  const n = figure.spots.length;
  return (
    <svg viewBox="0 0 380 380" width="100%" style={{ maxWidth: 420, display: "block" }} aria-hidden>
      <circle cx={middle} cy={middle} r={rim} fill={colour("panel")} stroke={colour("slate")} strokeWidth="1.5" />
      <circle cx={middle} cy={middle} r="5" fill={colour("ink")} />
      <path d={`M${middle - 7} ${middle - rim - 12} h14 l-7 12z`} fill={colour("ink")} />
      <path
        d={`M ${at(0.35, rim + 42)[0]} ${at(0.35, rim + 42)[1]} A ${rim + 42} ${rim + 42} 0 0 1 ${at(0.95, rim + 42)[0]} ${at(0.95, rim + 42)[1]}`}
        fill="none"
        stroke={colour("ink2")}
        strokeWidth="1.5"
        markerEnd="url(#turns)"
      />
      <defs>
        <marker id="turns" viewBox="0 0 6 6" refX="3" refY="3" markerWidth="7" markerHeight="7" orient="auto">
          <path d="M0 0 6 3 0 6z" fill={colour("ink2")} />
        </marker>
      </defs>
      {figure.spots.map((_, i) => {
        const a = (2 * Math.PI * i) / n;
        const [x, y] = at(a, rim);
        const [tx, ty] = at(a, rim - 18);
        return (
          <g key={i}>
            <circle cx={x} cy={y} r="5" fill={colour("page")} stroke={colour("ink")} strokeWidth="1.4" />
            <text x={tx} y={ty + 4} textAnchor="middle" fill={colour("ink2")} style={{ fontSize: 12 }}>
              {i + 1}
            </text>
          </g>
        );
      })}
      {figure.arrows.map((a) => {
        const main = a.role === "main";
        const length = Math.max(14, a.size * (rim - 26));
        const [x, y] = at(a.angle, length);
        const [rx, ry] = at(a.angle, rim);
        const [tx, ty] = at(a.angle, rim + 20);
        const side = Math.sin(a.angle);
        return (
          <g key={a.label}>
            <line x1={middle} y1={middle} x2={rx} y2={ry} stroke={colour(main ? "brass" : "slate")} strokeWidth="1" strokeDasharray="3 4" />
            <line x1={middle} y1={middle} x2={x} y2={y} stroke={colour(main ? "brass" : "slate")} strokeWidth={main ? 5 : 2.5} />
            <circle
              cx={rx}
              cy={ry}
              r={main ? 8 : 5}
              fill={colour(main ? "brass" : "page")}
              stroke={colour(main ? "brass" : "slate")}
              strokeWidth="2"
            />
            <text
              x={tx}
              y={ty + 4}
              textAnchor={Math.abs(side) < 0.3 ? "middle" : side > 0 ? "start" : "end"}
              fill={colour("ink")}
              style={{ fontSize: 13, fontWeight: main ? 700 : 400 }}
            >
              {a.label}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** Values beside what is needed (a line) or allowed (a window). */
function Bars({ figure }: { figure: FigureData }) {
  const top = Math.max(...figure.bars.flatMap((b) => [b.value, b.need ?? 0, b.high ?? 0]), 1e-12) * 1.05;
  const share = (v: number) => `${Math.max(0, Math.min(100, (100 * v) / top))}%`;
  return (
    <Box maxW="680px">
      {figure.bars.map((b) => (
        <Box key={b.label} py="1.5" borderTopWidth="1px" borderColor="line">
          <Flex justify="space-between" gap="3" textStyle="note" fontWeight={b.emphasised ? "700" : "400"}>
            <Text>{b.label}</Text>
            <Text textAlign="right">{b.text}</Text>
          </Flex>
          <Box position="relative" h="14px" mt="1" bg="panel" borderWidth="1px" borderColor="line" aria-hidden>
            {b.low !== undefined && b.high !== undefined && (
              <Box
                position="absolute"
                top="0"
                bottom="0"
                left={share(b.low)}
                width={`calc(${share(b.high)} - ${share(b.low)})`}
                bg="window"
              />
            )}
            <Box position="absolute" top="3px" bottom="3px" left="0" width={share(b.value)} bg={b.emphasised ? "brass" : "slate"} />
            {b.need !== undefined && (
              <Box position="absolute" top="-4px" bottom="-4px" left={share(b.need)} borderLeftWidth="2px" borderColor="ink" />
            )}
          </Box>
        </Box>
      ))}
      <Flex gap="4" mt="1.5" textStyle="small" color="ink2" wrap="wrap">
        {figure.bars.some((b) => b.need !== undefined) && (
          <Flex align="center" gap="1.5">
            <Box h="14px" borderLeftWidth="2px" borderColor="ink" /> needed
          </Flex>
        )}
        {figure.bars.some((b) => b.low !== undefined) && (
          <Flex align="center" gap="1.5">
            <Box w="18px" h="12px" bg="window" /> window
          </Flex>
        )}
      </Flex>
    </Box>
  );
}

/** The numbers of a curve for who cannot see it. */
function Numbers({ figure }: { figure: FigureData }) {
  const step = (n: number) => Math.max(1, Math.ceil(n / 9));
  return (
    <chakra.details textStyle="small" color="ink2" mt="1">
      <chakra.summary minH="24px">As numbers</chakra.summary>
      {figure.series.map((s) => (
        <Text key={s.name}>
          <b>{s.name}:</b>{" "}
          {s.points
            .filter((_, i) => i % step(s.points.length) === 0 || i === s.points.length - 1)
            .map((p) => `${written(p[0] ?? 0)} → ${written(p[1] ?? 0)}`)
            .join("; ")}{" "}
          ({figure.x.unit || figure.x.label} → {figure.y.unit || figure.y.label})
        </Text>
      ))}
    </chakra.details>
  );
}

/** A dipstick between its marks, and where the fluid stands on it. */
function Stick({ figure }: { figure: FigureData }) {
  const marks = figure.marks.filter((m) => m.x === 0);
  const level = figure.marks.find((m) => m.x !== 0);
  const [low, high] = [marks[0]?.y ?? 0, marks[1]?.y ?? 1];
  const span = high - low;
  const y = (v: number) => 150 - (100 * (Math.min(Math.max(v, low - 1.2 * span), high + 1.2 * span) - low)) / span;
  return (
    <svg viewBox="0 -40 420 330" width="100%" style={{ maxWidth: 420 }} role="img" aria-label={figure.words}>
      {level && <rect x="30" y={y(level.y)} width="80" height={290 - y(level.y)} fill={colour("brass")} fillOpacity="0.25" />}
      <rect x="58" y="-36" width="24" height="316" rx="6" fill={colour("panel")} stroke={colour("ink")} strokeWidth="1.5" />
      <rect x="58" y={y(high)} width="24" height={y(low) - y(high)} fill={colour("window")} stroke={colour("ink")} />
      {marks.map((m) => (
        <g key={m.label}>
          <line x1="52" x2="88" y1={y(m.y)} y2={y(m.y)} stroke={colour("ink")} strokeWidth="3" />
          <text x="130" y={y(m.y) + 5} fill={colour("ink2")} style={{ fontSize: 14 }}>
            {m.label}
          </text>
        </g>
      ))}
      {level && (
        <g>
          <line x1="30" x2="124" y1={y(level.y)} y2={y(level.y)} stroke={colour("brass")} strokeWidth="3" />
          <text
            x="130"
            y={y(level.y) + (Math.abs(y(level.y) - y(low)) < 16 || Math.abs(y(level.y) - y(high)) < 16 ? 22 : 5)}
            fill={colour("ink")}
            style={{ fontSize: 15, fontWeight: 700 }}
          >
            {level.label}
          </text>
        </g>
      )}
    </svg>
  );
}

/** The hole of a plug in section: fluid behind the wall, its level beside the lower edge. */
function Plug({ figure }: { figure: FigureData }) {
  const [edge, right] = figure.marks.filter((m) => m.x === 0);
  const level = figure.marks.find((m) => m.x !== 0);
  const scale = 18 / (Math.abs(right?.y ?? 1) || 1);
  const y = (v: number) => 120 - Math.max(-88, Math.min(88, scale * (v - (edge?.y ?? 0))));
  const at = y(level?.y ?? 0);
  return (
    <svg viewBox="0 0 440 230" width="100%" style={{ maxWidth: 460 }} role="img" aria-label={figure.words}>
      <rect x="20" y={at} width="150" height={214 - at} fill={colour("brass")} fillOpacity="0.28" />
      <rect x="20" y={y(right?.y ?? 0)} width="150" height={2 * (120 - y(right?.y ?? 0))} fill={colour("window")} fillOpacity="0.7" />
      <path d="M170 14h22v66h-22zM170 120h22v94h-22zM20 214h172" fill={colour("panel")} stroke={colour("ink")} strokeWidth="1.5" />
      <path d="M170 120h22" stroke={colour("ink")} strokeWidth="4" />
      {(level?.y ?? 0) > 0 && (
        <path d="M192 118c20 2 26 30 26 92" fill="none" stroke={colour("brass")} strokeWidth="5" strokeLinecap="round" />
      )}
      <line x1="20" x2="170" y1={at} y2={at} stroke={colour("brass")} strokeWidth="3" />
      <text x="236" y="112" fill={colour("ink2")} style={{ fontSize: 14 }}>
        {edge?.label}
      </text>
      <line x1="194" x2="230" y1="120" y2="108" stroke={colour("ink2")} />
      <text x="236" y={Math.abs(at - 112) < 20 ? 140 : Math.max(30, at + 5)} fill={colour("ink")} style={{ fontSize: 15, fontWeight: 700 }}>
        {level?.label}
      </text>
      <text x="26" y="206" fill={colour("ink2")} style={{ fontSize: 12.5 }}>
        right within the band
      </text>
    </svg>
  );
}

/** Rows of words: what is done with each part, and why. */
function List({ figure }: { figure: FigureData }) {
  return (
    <Box as="dl" borderBottomWidth="1px" borderColor="line" maxW="680px">
      {figure.bars.map((b) => (
        <Flex key={b.label} gap="4" borderTopWidth="1px" borderColor="line" py="2" wrap={{ base: "wrap", sm: "nowrap" }}>
          <Text as="dt" fontWeight={b.emphasised ? "700" : "400"} flex="0 0 180px">
            {b.emphasised && <span aria-hidden="true">● </span>}
            {b.label}
          </Text>
          <Text as="dd" flex="1">
            {b.text}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}

/** The ways of oil are drawn where its places are marked. */
const kinds = {
  curve: Curve,
  stack: Stack,
  circle: Circle,
  rotor: Rotor,
  bars: Bars,
  list: List,
  plug: Plug,
  stick: Stick,
  ways: () => null,
};

export function Figure({ figure }: { figure: FigureData }) {
  const Kind = kinds[figure.kind];
  return (
    <chakra.figure mt="5" aria-label={figure.title}>
      <Text as="figcaption" fontWeight="700" mb="1">
        {figure.title}
      </Text>
      <Kind figure={figure} />
      {figure.kind === "curve" && <Legend figure={figure} />}
      <Text textStyle="small" color="ink2" mt="1">
        {figure.words}
      </Text>
      {figure.kind === "curve" && <Numbers figure={figure} />}
    </chakra.figure>
  );
}
