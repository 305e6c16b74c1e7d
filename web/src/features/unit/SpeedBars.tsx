import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { number } from "../../shared/format";

const width = 620;
const row = 27;
const left = 176;
const right = 92;

/** Speed of every member as a bar to either side of standing still. */
export function SpeedBars({ members }: { members: Schemas["PowerMember"][] }) {
  const known = members.filter((m) => m.known).map((m) => m.speed);
  const low = Math.min(0, ...known);
  const high = Math.max(1, ...known);
  const x = (v: number) => left + ((v - low) / (high - low)) * (width - left - right);
  return (
    <Box as="figure" mt="4">
      <Text as="figcaption" fontWeight="600" color="ink2" mb="1">
        Speed of every member
      </Text>
      <svg
        viewBox={`0 0 ${width} ${members.length * row + 4}`}
        width="100%"
        role="img"
        aria-label="Speed of every member; the numbers are in the tables below"
      >
        <line x1={x(0)} x2={x(0)} y1="0" y2={members.length * row} stroke="var(--chakra-colors-ink2)" />
        {members.map((m, i) => {
          const y = i * row + 4;
          return (
            <g key={m.id}>
              <text style={{ fontSize: 13 }} x={left - 10} y={y + 13} textAnchor="end" fill="var(--chakra-colors-ink)">
                {m.name}
              </text>
              {m.known && (
                <rect
                  x={Math.min(x(0), x(m.speed))}
                  y={y}
                  width={Math.abs(x(m.speed) - x(0))}
                  height="16"
                  fill="var(--chakra-colors-slate)"
                />
              )}
              <text
                style={{ fontSize: 13, fontWeight: m.known && m.speed === 0 ? "700" : "400" }}
                x={width - right + 8}
                y={y + 13}
                fill="var(--chakra-colors-ink)"
              >
                {!m.known ? "free" : m.speed === 0 ? "stands" : `${number(Math.round(m.speed))} rpm`}
              </text>
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
