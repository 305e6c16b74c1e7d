import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { Orders, Recording } from "../../api/recordings";
import { short } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { ticks } from "./mapLayout";

const size = { width: 866, height: 420, left: 58, top: 60, right: 20, bottom: 46 };

/** At one speed the map is a spectrum: lines as they stand, sources as ticks above. */
export function Steady({ r, o, channel }: { r: Recording; o: Orders; channel: number }) {
  const top = Math.max(60, 1.25 * Math.max(...o.ridges.map((x) => x.hertz), 80));
  const { data, error } = useQuery({
    queryKey: ["recordings", r.id, "spectrum", channel, top],
    queryFn: ({ signal }) =>
      answer(api.GET("/recordings/{id}/spectrum", { signal, params: { path: { id: r.id }, query: { channel, top } } })),
  });
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the spectrum" />;
  const most = Math.max(...data.amplitude.slice(1), 1e-12) * 1.1;
  const x = (hz: number) => size.left + (hz / top) * (size.width - size.left - size.right);
  const y = (a: number) => size.height - size.bottom - (a / most) * (size.height - size.top - size.bottom);
  const path = data.amplitude.map((a, i) => `${i ? "L" : "M"}${x(i * data.step).toFixed(1)} ${y(a).toFixed(1)}`).join("");
  const named = o.sources.filter((q) => q.hertz > 0 && q.hertz < top && !q.quiet).slice(0, 14);
  return (
    <svg
      viewBox={`0 0 ${size.width} ${size.height}`}
      width="100%"
      role="img"
      aria-label="Spectrum at one speed. The table has the sources."
    >
      {ticks(top).map((t) => (
        <g key={t}>
          <line x1={x(t)} x2={x(t)} y1={size.top} y2={size.height - size.bottom} stroke="var(--chakra-colors-line)" />
          <text x={x(t)} y={size.height - size.bottom + 18} textAnchor="middle" style={{ fontSize: 13 }} fill="var(--chakra-colors-ink2)">
            {short(t, 1)}
          </text>
        </g>
      ))}
      <text x={size.width - size.right} y={size.height - 8} textAnchor="end" style={{ fontSize: 13 }} fill="var(--chakra-colors-ink2)">
        Hz, up: {data.unit || "of full scale"}
      </text>
      <path d={path} fill="none" stroke="var(--chakra-colors-ink)" strokeWidth="1.4" />
      {named.map((q) => (
        <g key={q.ids.join()} transform={`translate(${x(q.hertz)} ${size.top})`}>
          <line y2={-8} stroke="var(--chakra-colors-brass)" strokeWidth="2" />
          <text transform="translate(3 -12) rotate(-35)" style={{ fontSize: 11.5 }} fill="var(--chakra-colors-ink)">
            {q.name.length > 22 ? `${q.name.slice(0, 21)}…` : q.name}
          </text>
        </g>
      ))}
      {data.peaks.slice(0, 6).map((p) => (
        <text
          key={p.hertz}
          x={x(p.hertz)}
          y={y(p.amplitude) - 5}
          textAnchor="middle"
          style={{ fontSize: 12 }}
          fontWeight="600"
          fill="var(--chakra-colors-ink)"
        >
          {short(p.hertz, 1)}
        </text>
      ))}
    </svg>
  );
}
