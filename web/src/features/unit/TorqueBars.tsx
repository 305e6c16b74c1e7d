import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { number } from "../../shared/format";

const width = 620;
const row = 40;
const left = 176;
const right = 118;

/** Torque on each element that is on, against the mark of what it can hold at this pressure. */
export function TorqueBars({ elements }: { elements: Schemas["PowerElement"][] }) {
  const on = elements.filter((e) => e.on || e.holding);
  if (on.length === 0) return null;
  const most = Math.max(1, ...on.map((e) => Math.max(e.newtonMetres, e.holdNewtonMetres)));
  const x = (v: number) => left + (v / most) * (width - left - right);
  return (
    <Box as="figure" mt="3">
      <Text as="figcaption" fontWeight="600" color="ink2" mb="1">
        Torque on the elements, and the mark where each would slip
      </Text>
      <svg
        viewBox={`0 0 ${width} ${on.length * row + 4}`}
        width="100%"
        role="img"
        aria-label="Torque on the elements; the numbers are in the tables below"
      >
        {on.map((e, i) => {
          const y = i * row + 6;
          const colour = e.slips ? "fault" : "brass";
          return (
            <g key={e.id}>
              <text style={{ fontSize: 13.5 }} x={left - 10} y={y + 16} textAnchor="end" fill="var(--chakra-colors-ink)">
                {e.name}
              </text>
              <line x1={left} x2={width - right} y1={y + 22} y2={y + 22} stroke="var(--chakra-colors-line)" />
              {!e.shared && (
                <rect x={left} y={y} width={Math.max(0, x(e.newtonMetres) - left)} height="22" fill={`var(--chakra-colors-${colour})`} />
              )}
              {e.shared && (
                <text style={{ fontSize: 13 }} x={left + 8} y={y + 16} fill="var(--chakra-colors-ink2)">
                  shared with another path
                </text>
              )}
              {e.holdNewtonMetres > 0 && (
                <path
                  d={`M${x(e.holdNewtonMetres)} ${y - 4} v30 m-4 -30 h8`}
                  stroke="var(--chakra-colors-ink)"
                  strokeWidth="2"
                  fill="none"
                />
              )}
              <text style={{ fontSize: 13, fontWeight: 700 }} x={width - right + 8} y={y + 9} fill="var(--chakra-colors-ink)">
                {e.shared ? "" : e.torque}
              </text>
              <text style={{ fontSize: 12 }} x={width - right + 8} y={y + 24} fill="var(--chakra-colors-ink2)">
                {e.slips ? "slips" : e.margin > 0 ? `${number(e.margin, 1)} × in hand` : e.newtonMetres < 0.05 ? "nothing here" : ""}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
