import { Box, Text } from "@chakra-ui/react";
import { boltsWords } from "./PartFacts";
import type { StackPart } from "./layout";

type Bolts = StackPart["bolts"][number];

/** Bolts where they sit, with the turn of each; those that are tightened first are darker. */
export function BoltFigure({ bolts }: { bolts: Bolts }) {
  const wide = bolts.lie !== "circle";
  const [w, h] = wide ? [260, 150] : [150, 150];
  const x = (v: number) => w / 2 + v * (w / 2 - 18);
  const y = (v: number) => h / 2 + v * (wide ? h - 36 : h / 2 - 18);
  const one = bolts.count === 1;
  return (
    <Box>
      {!one && (
        <svg
          viewBox={`0 0 ${w} ${h}`}
          width={w}
          style={{ maxWidth: "100%", display: "block" }}
          role="img"
          aria-label={`Order of the ${bolts.count} bolts, seen from the side that is tightened: ${[...bolts.places]
            .map((p, i) => [p.turn, i + 1])
            .sort((a, b) => a[0]! - b[0]!)
            .map((p) => p[1])
            .join(", ")}, counted from the top round`}
        >
          {wide ? (
            <rect x="4" y="4" width={w - 8} height={h - 8} rx="10" fill="var(--chakra-colors-panel)" stroke="var(--chakra-colors-slate)" />
          ) : (
            <circle cx={w / 2} cy={h / 2} r={h / 2 - 4} fill="var(--chakra-colors-panel)" stroke="var(--chakra-colors-slate)" />
          )}
          {bolts.places.map((p, i) => (
            <g key={i}>
              <circle
                cx={x(p.x)}
                cy={y(p.y)}
                r="11"
                fill={p.turn === 1 ? "var(--chakra-colors-ink)" : "var(--chakra-colors-page)"}
                stroke="var(--chakra-colors-ink)"
              />
              <text
                x={x(p.x)}
                y={y(p.y) + 4}
                textAnchor="middle"
                style={{ fontSize: 11.5, fontWeight: 700 }}
                fill={p.turn === 1 ? "var(--chakra-colors-page)" : "var(--chakra-colors-ink)"}
              >
                {p.turn}
              </text>
            </g>
          ))}
        </svg>
      )}
      <Text textStyle="small">{boltsWords(bolts)}</Text>
    </Box>
  );
}
