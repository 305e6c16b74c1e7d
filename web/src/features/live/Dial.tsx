import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { number } from "../../shared/format";
import { ticks } from "../shifts/traces";

const css = (name: string) => `var(--chakra-colors-${name})`;
const from = -210;
const sweep = 240;

const at = (share: number, radius: number): [number, number] => {
  const a = ((from + sweep * Math.max(0, Math.min(1, share))) * Math.PI) / 180;
  return [80 + radius * Math.cos(a), 76 + radius * Math.sin(a)];
};

/** A dial with its number under the needle; `wanted` is a hollow mark of what the sheet expects. */
export function Dial({ channel, value, wanted }: { channel: Schemas["LiveChannel"]; value: number | undefined; wanted?: number }) {
  const { low, high } = channel;
  const share = (v: number) => (v - low) / (high - low);
  const marks = ticks(low, high, 6);
  const thousands = Math.abs(high) >= 1000;
  const arc = (a: number, b: number, r: number) => {
    const [x0, y0] = at(a, r);
    const [x1, y1] = at(b, r);
    return `M${x0} ${y0} A${r} ${r} 0 ${(b - a) * sweep > 180 ? 1 : 0} 1 ${x1} ${y1}`;
  };
  const [nx, ny] = at(value === undefined ? 0 : share(value), 52);
  return (
    <Box textAlign="center" w="168px">
      <svg
        width="160"
        height="128"
        viewBox="0 0 160 128"
        role="img"
        aria-label={`${channel.name} ${value === undefined ? "not there" : number(value, channel.decimals)} ${channel.unit}`}
      >
        <path d={arc(0, 1, 62)} fill="none" stroke={css("slate")} strokeWidth="1.5" />
        {marks.map((v) => {
          const [x0, y0] = at(share(v), 62);
          const [x1, y1] = at(share(v), 55);
          const [tx, ty] = at(share(v), 72);
          return (
            <g key={v}>
              <line x1={x0} y1={y0} x2={x1} y2={y1} stroke={css("ink2")} strokeWidth="1.5" />
              <text x={tx} y={ty + 4} textAnchor="middle" fill={css("ink2")} style={{ fontSize: 10 }}>
                {thousands ? number(v / 1000, v % 1000 ? 1 : 0) : number(v)}
              </text>
            </g>
          );
        })}
        {wanted !== undefined && wanted > low && wanted < high && (
          <path
            d="M0 -5 L5 4 L-5 4 Z"
            transform={`translate(${at(share(wanted), 47).join(" ")}) rotate(${from + sweep * share(wanted) + 90})`}
            fill="none"
            stroke={css("ink")}
            strokeWidth="1.6"
          />
        )}
        <line x1="80" y1="76" x2={nx} y2={ny} stroke={css("brass")} strokeWidth="3" strokeLinecap="round" />
        <circle cx="80" cy="76" r="5" fill={css("ink")} />
        <text x="80" y="108" textAnchor="middle" fill={css("ink")} style={{ fontSize: 22, fontWeight: 700 }}>
          {value === undefined ? "–" : number(value, channel.decimals)}
        </text>
        <text x="80" y="123" textAnchor="middle" fill={css("ink2")} style={{ fontSize: 11 }}>
          {channel.unit}
          {thousands ? ", marks in thousands" : ""}
        </text>
      </svg>
      <Text textStyle="small" fontWeight="600" lineHeight="1.2">
        {channel.name}
      </Text>
    </Box>
  );
}
