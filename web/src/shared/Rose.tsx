import { Box } from "@chakra-ui/react";
import type { Schemas } from "../api/client";
import { percent } from "./format";

type Rose = Schemas["Rose"];

/** A point at a compass bearing (0 = up, clockwise) and radius. */
const at = (bearing: number, r: number) => {
  const a = ((bearing - 90) * Math.PI) / 180;
  return [r * Math.cos(a), r * Math.sin(a)] as const;
};

function sector(bearing: number, half: number, r: number) {
  const [x1, y1] = at(bearing - half, r);
  const [x2, y2] = at(bearing + half, r);
  return `M0 0L${x1.toFixed(2)} ${y1.toFixed(2)}A${r.toFixed(2)} ${r.toFixed(2)} 0 0 1 ${x2.toFixed(2)} ${y2.toFixed(2)}Z`;
}

/** Area, not radius, is proportional to the share, so that a sector is not read as more than it is. */
const reach = (share: number, full: number) => Math.max(2, full * Math.sqrt(share));

function words(rose: Rose) {
  const named = [...rose.systems]
    .sort((a, b) => b.share - a.share)
    .slice(0, 3)
    .map((s) => `${s.title} ${percent(s.share)} %`);
  return `Suspicion by system: ${named.join(", ")}`;
}

function Needle({ rose, full }: { rose: Rose; full: number }) {
  const i = rose.systems.findIndex((s) => s.id === rose.leader);
  if (i < 0) return null;
  const [x, y] = at(i * 45, full * (0.25 + 0.75 * (1 - rose.doubt)));
  const [lx, ly] = at(i * 45 - 90, full * 0.055);
  return (
    <g>
      <path d={`M${lx} ${ly}L${x} ${y}L${-lx} ${-ly}Z`} fill="var(--chakra-colors-ink)" />
      <circle r={full * 0.09} fill="var(--chakra-colors-ink)" />
      <circle r={full * 0.035} fill="var(--chakra-colors-page)" />
    </g>
  );
}

function Sectors({ rose, full }: { rose: Rose; full: number }) {
  return rose.systems.map((s, i) => (
    <path
      key={s.id}
      d={sector(i * 45, 20, reach(s.share, full))}
      fill={s.id === rose.leader ? "var(--chakra-colors-brass)" : "var(--chakra-colors-slate)"}
    />
  ));
}

/** The small rose of a row; the words stand beside it in the row. */
export function SmallRose({ rose }: { rose: Rose }) {
  return (
    <svg viewBox="-26 -26 52 52" width="48" height="48" role="img" aria-label={words(rose)}>
      <circle r="24" fill="none" stroke="var(--chakra-colors-line)" />
      <Sectors rose={rose} full={24} />
      <Needle rose={rose} full={24} />
    </svg>
  );
}

/** The large rose of a case, with the name of each system around it. */
export function LargeRose({ rose }: { rose: Rose }) {
  const full = 58;
  return (
    <Box>
      <svg viewBox="-160 -84 320 168" width="100%" role="img" aria-label={words(rose)} style={{ display: "block" }}>
        {[1, 0.66, 0.33].map((f) => (
          <circle key={f} r={full * f} fill="none" stroke="var(--chakra-colors-line)" />
        ))}
        <Sectors rose={rose} full={full} />
        <Needle rose={rose} full={full} />
        {rose.systems.map((s, i) => {
          const [x, y] = at(i * 45, full + 10);
          const anchor = Math.abs(x) < 1 ? "middle" : x > 0 ? "start" : "end";
          const lead = s.id === rose.leader;
          return (
            <text
              style={{ fontSize: 11.5, fontWeight: lead ? 700 : 400 }}
              key={s.id}
              x={x}
              y={y + (Math.abs(x) < 1 ? (y > 0 ? 8 : 0) : 4)}
              textAnchor={anchor}
              fill={lead ? "var(--chakra-colors-ink)" : "var(--chakra-colors-ink2)"}
            >
              {s.title}
            </text>
          );
        })}
      </svg>
    </Box>
  );
}
