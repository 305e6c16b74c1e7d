import type { Schemas } from "../../api/client";

/** A value in its window on one line: the window as a band, the value as a mark with its uncertainty as whiskers. */
export function WindowLine({ output }: { output: Schemas["Output"] }) {
  const { low, high, value, half } = output;
  if (low === undefined || high === undefined) return null;
  const room = (high - low || Math.abs(high) || 1) * 0.35;
  const from = Math.min(low - room, value - half - room / 3);
  const to = Math.max(high + room, value + half + room / 3);
  const x = (v: number) => 8 + ((v - from) / (to - from)) * 544;
  const outside = output.verdict === "below" || output.verdict === "above";
  const ink = `var(--chakra-colors-${outside ? "fault" : "ink"})`;
  return (
    <svg
      viewBox="0 0 560 46"
      width="100%"
      style={{ maxWidth: 560, display: "block" }}
      role="img"
      aria-label={`${output.text} in the window ${output.window ?? ""}`}
    >
      <line x1="8" x2="552" y1="24" y2="24" stroke="var(--chakra-colors-line)" strokeWidth="2" />
      <rect x={x(low)} y="12" width={Math.max(2, x(high) - x(low))} height="24" fill="var(--chakra-colors-window)" />
      {half > 0 && (
        <path
          d={`M${x(value - half)} 24H${x(value + half)}M${x(value - half)} 18v12M${x(value + half)} 18v12`}
          stroke={ink}
          strokeWidth="1.5"
        />
      )}
      <line
        x1={x(value)}
        x2={x(value)}
        y1="6"
        y2="42"
        stroke={ink}
        strokeWidth="4"
        strokeDasharray={output.verdict === "cannot-tell" ? "5 3" : undefined}
      />
    </svg>
  );
}
