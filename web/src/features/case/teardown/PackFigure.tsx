import { Box } from "@chakra-ui/react";
import { number } from "../../../shared/format";
import { Patterns } from "../../../shared/stack/PartShape";
import type { Pack } from "./useBench";

const ink = "var(--chakra-colors-ink)";
const names: Record<string, string> = { lined: "friction", steel: "steel", wave: "wave", dished: "dished", backing: "backing" };

interface Props {
  pack: Pack;
  picked: number; // plate from the piston, from 1; 0 for none
  pick: (n: number) => void;
}

/**
 * A pack plate by plate in its true proportions along the shaft, the piston at the right: steels reach up to the drum, friction plates down
 * to the hub. The gap is the clearance; below it stands its window with the value in it.
 */
export function PackFigure({ pack, picked, pick }: Props) {
  const width = 660;
  const left = 34;
  const plates = pack.plates.map((p, i) => ({ ...p, n: i + 1 })).reverse();
  const thick = plates.reduce((t, p) => t + Math.max(p.thick, 0.4), 0);
  const gap = pack.known ? Math.max(pack.roomAt, 0.2) : thick * 0.08;
  const k = (width - left - 108) / (thick + gap);
  // A number needs its room: plates that are thinner are drawn so, with every second number a line lower.
  const starts: number[] = [];
  plates.reduce((at, p) => (starts.push(at), at + Math.max(p.thick, 0.4) * k), left);
  const end = starts.length ? starts[starts.length - 1]! + Math.max(plates[plates.length - 1]!.thick, 0.4) * k : left;
  const piston = end + gap * k;
  const outside = pack.verdict === "above" || pack.verdict === "below";
  return (
    <Box overflowX="auto" tabIndex={0} role="region" aria-label="Drawing of the plates">
      <svg
        viewBox={`0 0 ${width} 190`}
        width="100%"
        style={{ minWidth: 560, display: "block" }}
        role="group"
        aria-label={`Plates of the pack, piston at the right; ${pack.room ? `clearance ${pack.room}, window ${pack.window}` : "clearance not known yet"}`}
      >
        <Patterns />
        <rect x={left - 26} y={24} width="18" height="24" fill={ink} />
        <text x={left - 17} y={62} textAnchor="middle" style={{ fontSize: 11 }} fill="var(--chakra-colors-ink2)">
          snap
        </text>
        {plates.map((p, i) => {
          const x = starts[i]!;
          const w = Math.max(p.thick, 0.4) * k;
          const lined = p.kind === "lined";
          const y = lined ? 42 : 22;
          const h = lined ? 84 : 80;
          const low = i % 2 ? 14 : 0;
          const bad = p.verdict && p.verdict !== "kept";
          return (
            <g
              key={p.n}
              role="button"
              tabIndex={0}
              aria-pressed={picked === p.n}
              aria-label={`Plate ${p.n} from the piston, ${names[p.kind] ?? p.kind}, ${p.text || "thickness not known"}${p.change ? `, ${p.change} from new` : ""}${p.verdict ? `, ${p.verdict}` : ""}`}
              onClick={() => pick(picked === p.n ? 0 : p.n)}
              onKeyDown={(e) =>
                (e.key === "Enter" || e.key === " ") && (e.preventDefault(), e.stopPropagation(), pick(picked === p.n ? 0 : p.n))
              }
              style={{ cursor: "pointer" }}
            >
              <rect x={x - 2} y={4} width={w + 4} height={150} fill={picked === p.n ? "var(--chakra-colors-brass-soft)" : "transparent"} />
              {lined ? (
                <>
                  <rect x={x} y={y} width={w} height={h} fill="var(--chakra-colors-panel)" stroke={ink} />
                  <rect x={x} y={y} width={w * 0.24} height={h - 18} fill="var(--chakra-colors-lining)" stroke={ink} strokeWidth="0.7" />
                  <rect
                    x={x + w * 0.76}
                    y={y}
                    width={w * 0.24}
                    height={h - 18}
                    fill="var(--chakra-colors-lining)"
                    stroke={ink}
                    strokeWidth="0.7"
                  />
                </>
              ) : p.kind === "wave" || p.kind === "dished" ? (
                <path
                  d={
                    p.kind === "wave"
                      ? `M${x} ${y}q${w * 0.5} ${h / 4} 0 ${h / 2}t0 ${h / 2}h${w}q${w * 0.5} ${-h / 4} 0 ${-h / 2}t0 ${-h / 2}z`
                      : `M${x} ${y}q${w * 0.7} ${h / 2} 0 ${h}h${w}q${w * 0.7} ${-h / 2} 0 ${-h}z`
                  }
                  fill="var(--chakra-colors-slate)"
                  stroke={ink}
                />
              ) : (
                <rect
                  x={x}
                  y={y}
                  width={w}
                  height={h}
                  fill={p.kind === "backing" ? "url(#cut-a)" : "var(--chakra-colors-slate)"}
                  stroke={ink}
                />
              )}
              {bad && (
                <text
                  x={x + w / 2}
                  y={y + 40}
                  textAnchor="middle"
                  style={{ fontSize: 15, fontWeight: 700 }}
                  fill="var(--chakra-colors-fault)"
                >
                  ▲
                </text>
              )}
              <text
                x={x + w / 2}
                y={142 + low}
                textAnchor="middle"
                style={{ fontSize: 12.5, fontWeight: p.measured ? 700 : 400 }}
                fill={p.measured ? ink : "var(--chakra-colors-ink2)"}
              >
                {p.thick > 0 ? number(p.thick, 2) : "?"}
              </text>
              {p.change && (
                <text x={x + w / 2} y={170 + low} textAnchor="middle" style={{ fontSize: 11 }} fill="var(--chakra-colors-ink2)">
                  {p.change.replace(/ .*$/, "")}
                </text>
              )}
            </g>
          );
        })}
        <rect
          x={end}
          y={10}
          width={Math.max(gap * k, 2)}
          height={130}
          fill="var(--chakra-colors-brass-soft)"
          stroke="var(--chakra-colors-brass)"
        />
        <path d={`M${piston} 22h22v80h44v22h-66z`} fill="url(#cut-b)" stroke={ink} />
        <text x={piston + 33} y={142} textAnchor="middle" style={{ fontSize: 11.5 }} fill="var(--chakra-colors-ink2)">
          piston
        </text>
        <text
          x={end + (gap * k) / 2}
          y={30}
          textAnchor="middle"
          style={{ fontSize: 11.5, fontWeight: 700 }}
          fill={outside ? "var(--chakra-colors-fault)" : ink}
        >
          {pack.known ? number(pack.roomAt, 2) : ""}
        </text>
      </svg>
    </Box>
  );
}

/** A value in its window: the bar is its ± (two standard uncertainties), hollow where the gauge cannot tell. */
export function Gauge({
  low,
  high,
  at,
  u,
  verdict,
  label,
  digits = 2,
}: {
  low: number;
  high: number;
  at?: number;
  u: number;
  verdict: string;
  label: string;
  digits?: number;
}) {
  const span = Math.max(high - low, 1e-9);
  const from = Math.min(low - span * 0.45, at === undefined ? low : at - span * 0.15);
  const to = Math.max(high + span * 0.45, at === undefined ? high : at + span * 0.15);
  const x = (v: number) => 10 + ((v - from) / (to - from)) * 440;
  const bad = verdict === "above" || verdict === "below";
  return (
    <svg viewBox="0 0 460 58" width="100%" style={{ maxWidth: 560, display: "block" }} role="img" aria-label={label}>
      <line x1="10" x2="450" y1="30" y2="30" stroke="var(--chakra-colors-slate)" />
      <rect
        x={x(low)}
        y="18"
        width={x(high) - x(low)}
        height="24"
        fill="var(--chakra-colors-window)"
        stroke="var(--chakra-colors-ink2)"
        strokeWidth="0.6"
      />
      {at !== undefined && (
        <>
          <rect x={x(at - 2 * u)} y="26" width={Math.max(1, x(at + 2 * u) - x(at - 2 * u))} height="8" fill="var(--chakra-colors-slate)" />
          <line
            x1={x(at)}
            x2={x(at)}
            y1="14"
            y2="46"
            stroke={bad ? "var(--chakra-colors-fault)" : ink}
            strokeWidth={verdict === "cannot-tell" ? 1.5 : 3}
          />
          {bad && <path d={`M${x(at) - 7} 3h14l-7 11z`} fill="var(--chakra-colors-fault)" />}
        </>
      )}
      <text x={x(low)} y="55" textAnchor="middle" style={{ fontSize: 12 }} fill="var(--chakra-colors-ink2)">
        {number(low, digits)}
      </text>
      <text x={x(high)} y="55" textAnchor="middle" style={{ fontSize: 12 }} fill="var(--chakra-colors-ink2)">
        {number(high, digits)}
      </text>
    </svg>
  );
}
