import { memo } from "react";
import type { Box, Placed, Seen } from "./layout";

/** What is drawn how: by the kind of part. */
const solid = new Set(["seal", "o-ring", "ring", "snap-ring", "gasket", "key"]);
const toothed = new Set(["gear", "sun", "ring-gear", "sprocket", "pump-gear", "final-drive", "differential"]);
const rolling = new Set(["bearing", "needle", "one-way", "thrust"]);
const springs = new Set(["return-spring", "spring"]);
const uncut = new Set(["shaft", "rail", "nut", "plug", "shim", "bushing"]);

interface Scale {
  x: (mm: number) => number;
  y: (mm: number) => number;
  k: number;
}

export type { Scale };

const ink = "var(--chakra-colors-ink)";
const ink2 = "var(--chakra-colors-ink2)";
const panel = "var(--chakra-colors-panel)";
const slate = "var(--chakra-colors-slate)";

function Rect({ b, s, fill, width = 1, round }: { b: Box; s: Scale; fill: string; width?: number; round?: number }) {
  return (
    <rect
      x={s.x(b[0])}
      y={s.y(b[3])}
      width={Math.max(1, (b[1] - b[0]) * s.k)}
      height={Math.max(1, (b[3] - b[2]) * s.k)}
      rx={round}
      fill={fill}
      stroke={ink}
      strokeWidth={width}
      strokeLinejoin="round"
    />
  );
}

/** A converter is round at its rim; its hub is not. */
const radiusOf = (b: Box, s: Scale) => (b[3] - b[2] > 40 ? Math.min((b[1] - b[0]) * s.k * 0.45, 26) : 0);

/** Plates of a pack, in their order from the piston: steels reach outward to the drum, lined ones inward to the hub. */
function Plates({ box, s, plates, turned }: { box: Box; s: Scale; plates: string[]; turned: boolean }) {
  const [x0, x1, y0, y1] = box;
  const weight = (k: string) => (k === "backing" ? 2.1 : 1);
  const order = turned ? [...plates].reverse() : plates;
  const total = order.reduce((t, k) => t + weight(k), 0) * 1.08;
  const up = y1 > 0;
  // Where each plate begins: the widths of those before it.
  const starts = order.map((_, i) => x0 + (order.slice(0, i).reduce((t, k) => t + weight(k), 0) / total) * (x1 - x0));
  return (
    <>
      {order.map((k, i) => {
        const w = (weight(k) / total) * (x1 - x0);
        const from = starts[i]!;
        const inner = Math.min(5, (y1 - y0) / 5);
        const lined = k === "lined";
        const b: Box = lined ? [from, from + w, y0, y1 - inner] : [from, from + w, y0 + inner, y1];
        const flipped: Box = up ? b : [b[0], b[1], y0 + y1 - b[3], y0 + y1 - b[2]];
        return (
          <Rect
            key={i}
            b={flipped}
            s={s}
            fill={lined ? "var(--chakra-colors-lining)" : k === "backing" ? "url(#cut-a)" : slate}
            width={0.7}
          />
        );
      })}
    </>
  );
}

function Spring({ box, s }: { box: Box; s: Scale }) {
  const [x0, x1, y0, y1] = box;
  const turns = 5;
  const points = Array.from({ length: turns * 2 + 1 }, (_, i) => {
    const x = s.x(x0 + ((x1 - x0) * i) / (turns * 2));
    return `${x},${s.y(i % 2 ? y1 : y0)}`;
  });
  return <polyline points={points.join(" ")} fill="none" stroke={ink} strokeWidth="1" strokeLinejoin="round" />;
}

function Rolling({ box, s }: { box: Box; s: Scale }) {
  const w = (box[1] - box[0]) * s.k;
  const h = (box[3] - box[2]) * s.k;
  const r = Math.max(1.2, Math.min(w, h) / 2 - 1);
  const many = Math.max(1, Math.min(4, Math.floor(Math.max(w, h) / (2 * r + 3))));
  const along = w > h;
  return (
    <>
      <Rect b={box} s={s} fill={panel} width={0.8} />
      {Array.from({ length: many }, (_, i) => {
        const f = (i + 0.5) / many;
        return (
          <circle
            key={i}
            cx={s.x(along ? box[0] + (box[1] - box[0]) * f : (box[0] + box[1]) / 2)}
            cy={s.y(along ? (box[2] + box[3]) / 2 : box[2] + (box[3] - box[2]) * f)}
            r={r}
            fill={panel}
            stroke={ink}
            strokeWidth="1"
          />
        );
      })}
    </>
  );
}

/** One part, its upper half cut open. The cut of parts that touch leans to different sides. */
function cutOf(p: Placed, box: Box, i: number, s: Scale) {
  const kind = p.part.kind;
  const lean = p.index % 2 ? "url(#cut-a)" : "url(#cut-b)";
  if (kind === "pack") return <Plates key={i} box={box} s={s} plates={p.part.plates} turned={p.part.out === "front"} />;
  if (springs.has(kind)) return <Spring key={i} box={box} s={s} />;
  if (rolling.has(kind)) return <Rolling key={i} box={box} s={s} />;
  if (kind === "converter") return <Rect key={i} b={box} s={s} fill={lean} width={1.2} round={radiusOf(box, s)} />;
  if (kind === "band") return <Rect key={i} b={box} s={s} fill="var(--chakra-colors-lining)" />;
  if (kind === "disc") return <Rect key={i} b={box} s={s} fill={i === 0 ? "var(--chakra-colors-lining)" : lean} />;
  const fill = solid.has(kind)
    ? ink
    : toothed.has(kind)
      ? "url(#teeth)"
      : uncut.has(kind)
        ? panel
        : kind === "filter"
          ? "url(#mesh)"
          : lean;
  return <Rect key={i} b={box} s={s} fill={fill} />;
}

/** The upper half of a part. */
export const Cut = memo(function Cut({ p, s }: { p: Placed; s: Scale }) {
  return <g>{p.upper.map((b, i) => cutOf(p, b, i, s))}</g>;
});

/** A piece of the lower half, from outside. */
export const Outside = memo(function Outside({ of: { p, box }, s }: { of: Seen; s: Scale }) {
  const kind = p.part.kind;
  const [x0, x1, y0, y1] = box;
  if (kind === "converter") return <Rect b={box} s={s} fill={panel} width={1.1} round={radiusOf(box, s)} />;
  if (springs.has(kind)) return null;
  const lines = toothed.has(kind) || kind === "carrier" ? Math.min(9, Math.floor(((y1 - y0) * s.k) / 9)) : 0;
  return (
    <g>
      <Rect b={box} s={s} fill={solid.has(kind) ? ink2 : kind === "band" ? "var(--chakra-colors-lining)" : panel} width={0.9} />
      {Array.from({ length: lines }, (_, j) => (
        <line key={j} x1={s.x(x0)} x2={s.x(x1)} y1={s.y(y0) - 5 - j * 7} y2={s.y(y0) - 5 - j * 7} stroke={slate} strokeWidth="0.8" />
      ))}
      {kind === "pack" &&
        Array.from({ length: p.part.plates.length - 1 }, (_, j) => {
          const x = s.x(x0 + ((x1 - x0) * (j + 1)) / p.part.plates.length);
          return <line key={j} x1={x} x2={x} y1={s.y(y1)} y2={s.y(y0)} stroke={slate} strokeWidth="0.8" />;
        })}
    </g>
  );
});

/** Patterns of the drawing; once for each svg. */
export function Patterns() {
  return (
    <defs>
      <pattern id="cut-a" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" fill={panel} />
        <line x1="0" y1="0" x2="0" y2="5" stroke={ink2} strokeWidth="0.9" />
      </pattern>
      <pattern id="cut-b" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
        <rect width="5" height="5" fill={panel} />
        <line x1="0" y1="0" x2="0" y2="5" stroke={ink2} strokeWidth="0.9" />
      </pattern>
      <pattern id="teeth" width="5" height="4" patternUnits="userSpaceOnUse">
        <rect width="5" height="4" fill={panel} />
        <line x1="0" y1="1" x2="5" y2="1" stroke={ink2} strokeWidth="0.8" />
      </pattern>
      <pattern id="mesh" width="4" height="4" patternUnits="userSpaceOnUse">
        <rect width="4" height="4" fill={panel} />
        <path d="M0 0L4 4M4 0L0 4" stroke={slate} strokeWidth="0.7" />
      </pattern>
    </defs>
  );
}
