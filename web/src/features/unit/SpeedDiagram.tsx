import { Text } from "@chakra-ui/react";
import type { Unit } from "./unit";

const width = 620;
const height = 330;
const margin = { left: 46, right: 44, top: 22, bottom: 34 };

/** Members at their lever positions, so that every range is a straight line. */
function columns(unit: Unit) {
  const places = unit.lever.map((p) => p.position);
  const low = Math.min(...places);
  const span = Math.max(...places) - low || 1;
  return unit.lever
    .map((p) => ({
      id: p.member,
      name: unit.members.find((m) => m.id === p.member)?.name ?? p.member,
      x: margin.left + ((p.position - low) / span) * (width - margin.left - margin.right),
    }))
    .sort((a, b) => a.x - b.x);
}

/** Speed of every member in every range, input at one: a standing member lies on the zero line. */
export function SpeedDiagram({ unit, picked }: { unit: Unit; picked: string }) {
  const cols = columns(unit);
  const driving = unit.ranges.filter((r) => r.driving);
  const all = driving.flatMap((r) => r.speeds.filter((s) => s.known && cols.some((c) => c.id === s.member)).map((s) => s.speed));
  const low = Math.floor(Math.min(0, ...all) * 2) / 2;
  const high = Math.ceil(Math.max(1, ...all) * 2) / 2;
  const y = (v: number) => margin.top + ((high - v) / (high - low)) * (height - margin.top - margin.bottom);
  const ticks = Array.from({ length: Math.round((high - low) / 0.5) + 1 }, (_, i) => low + i * 0.5).filter(
    (t) => Number.isInteger(t) || high - low <= 2.5,
  );
  const order = [...driving].sort((a, b) => Number(a.id === picked) - Number(b.id === picked));
  const current = driving.find((r) => r.id === picked);
  if (cols.length === 0) return null; // no single lever: the bars below say it all
  return (
    <figure style={{ marginTop: 16 }}>
      <Text as="figcaption" fontWeight="600" color="ink2" mb="1">
        On one lever: every range is a straight line, input = 1{current && `, ${current.name.toLowerCase()}`}
      </Text>
      <svg viewBox={`0 0 ${width} ${height}`} width="100%" role="img" aria-label="Speed of every member by range; the numbers are below">
        {ticks.map((t) => (
          <g key={t}>
            <line
              x1={margin.left}
              x2={width - margin.right}
              y1={y(t)}
              y2={y(t)}
              stroke="var(--chakra-colors-line)"
              strokeDasharray={t === 0 ? undefined : "2 4"}
            />
            <text style={{ fontSize: 12 }} x={margin.left - 8} y={y(t) + 4} textAnchor="end" fill="var(--chakra-colors-ink2)">
              {t.toString().replace("-", "−")}×
            </text>
          </g>
        ))}
        {cols.map((c) => (
          <g key={c.id}>
            <line x1={c.x} x2={c.x} y1={margin.top - 8} y2={height - margin.bottom} stroke="var(--chakra-colors-line)" />
            <text style={{ fontSize: 12 }} x={c.x} y={height - 12} textAnchor="middle" fill="var(--chakra-colors-ink2)">
              {c.name}
            </text>
          </g>
        ))}
        {order.map((r) => {
          const lead = r.id === picked;
          const points = cols.flatMap((c) => r.speeds.filter((s) => s.member === c.id && s.known).map((s) => [c.x, y(s.speed)] as const));
          return (
            <g
              key={r.id}
              stroke={lead ? "var(--chakra-colors-brass)" : "var(--chakra-colors-slate)"}
              fill={lead ? "var(--chakra-colors-brass)" : "var(--chakra-colors-slate)"}
            >
              <polyline points={points.map((p) => p.join(",")).join(" ")} fill="none" strokeWidth={lead ? 3.5 : 1.2} />
              {points.map(([x, v], i) => (
                <circle key={i} cx={x} cy={v} r={lead ? 5 : 2.5} />
              ))}
              {lead && points.length > 0 && (
                <text
                  style={{ fontSize: 13, fontWeight: 700 }}
                  x={points[points.length - 1]![0] + 10}
                  y={points[points.length - 1]![1] + 4}
                  stroke="none"
                  fill="var(--chakra-colors-ink)"
                >
                  {r.id}
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </figure>
  );
}
