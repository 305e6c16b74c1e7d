import type { Schemas } from "../../api/client";

type Input = Schemas["InstrumentInput"];

const height = 112;

/** One scale for all columns: from below the lowest window to above the highest, with room for what was measured. */
function scale(all: Input[], value?: number) {
  const ends = all.flatMap((i) => (i.window ? [i.window.low, i.window.high] : []));
  if (value !== undefined) ends.push(value);
  const low = Math.min(...ends);
  const high = Math.max(...ends);
  const margin = (high - low || 1) * 0.45;
  return (v: number) => height - 6 - ((v - low + margin) / (high - low + 2 * margin)) * (height - 12);
}

/** The window of a value with the value in it; a triangle beside the line says that it is outside. */
export function WindowFigure({ input, point, all }: { input: Input; point?: Schemas["Point"]; all: Input[] }) {
  if (!input.window) return null;
  const y = scale(all, point?.value.value);
  const top = y(input.window.high);
  const outside = point && (point.verdict === "below" || point.verdict === "above");
  const colour = outside ? "var(--chakra-colors-fault)" : "var(--chakra-colors-ink)";
  const at = point ? Math.min(height - 3, Math.max(3, y(point.value.value))) : 0;
  const words = point ? `${point.value.value.toPrecision(3)} ${point.value.unit}: ${point.verdict.replace("-", " ")}` : "not measured";
  return (
    <svg viewBox={`0 0 60 ${height}`} height={height} width="100%" role="img" aria-label={`${input.label}: ${words}`}>
      <line x1="30" x2="30" y1="4" y2={height - 4} stroke="var(--chakra-colors-line)" strokeWidth="2" />
      <rect x="20" y={top} width="20" height={Math.max(2, y(input.window.low) - top)} fill="var(--chakra-colors-window)" />
      {point && (
        <line
          x1="17"
          x2="43"
          y1={at}
          y2={at}
          stroke={colour}
          strokeWidth="3"
          strokeDasharray={point.verdict === "cannot-tell" ? "4 3" : undefined}
        />
      )}
      {outside && <path d={`M46 ${at}l7 -4v8Z`} fill={colour} />}
    </svg>
  );
}
