import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { traceQuery, type Recording } from "../../api/recordings";
import type { ShiftsTold } from "../../api/shifts";
import { number } from "../../shared/format";
import { moment } from "../recordings/words";
import { channelsOf, curve, reach, ticks, valueAt } from "./traces";
import { useWidth } from "./useWidth";

const css = (name: string) => `var(--chakra-colors-${name})`;
const span = 1.6;

/** Two seconds of the slip where it swings deepest: what the driver feels. */
export function SlipPlot({ r, told, s }: { r: Recording; told: ShiftsTold; s: Schemas["ConverterShudder"] }) {
  const { ref, width } = useWidth<HTMLDivElement>();
  const used = channelsOf(told, { on: [], off: [] });
  const middle = (s.from + s.to) / 2;
  const part = { from: middle - span / 2, to: middle + span / 2 };
  const channels = [used.engine, used.turbine].flatMap((c) => (c ? [c.channel] : []));
  const { data } = useQuery(traceQuery(r.id, channels, part, 300, `slip ${JSON.stringify(r.layout ?? null)}`));
  const engine = curve(data, 0);
  const turbine = curve(data, 1);
  const slip = {
    at: engine.at,
    value: engine.value.map((v, i) => {
      const t = valueAt(turbine, engine.at[i] ?? 0);
      return v === undefined || t === undefined ? undefined : v - t;
    }),
  };
  const left = 58;
  const height = 150;
  const bottom = 26;
  const [low, high] = reach([slip], 0.2);
  const x = (t: number) => left + ((t - part.from) / span) * (width - left - 138);
  const y = (v: number) => 10 + ((high - v) / (high - low)) * (height - bottom - 10);
  const d = slip.at.flatMap((t, i) => (slip.value[i] === undefined ? [] : [`${x(t).toFixed(1)} ${y(slip.value[i] ?? 0).toFixed(1)}`]));
  return (
    <Box as="section" aria-label="Shudder" ref={ref} borderTopWidth="1px" borderColor="line" pt="2">
      <Flex px={{ base: "3", md: "5" }} justify="space-between" gap="3" wrap="wrap">
        <Text fontWeight="700">
          Slip of the converter clutch at {moment(middle, 0.1)}, {s.gear}
        </Text>
        <Text color="ink2" textStyle="small">
          {number(100 * s.throttle)} % throttle{s.fluid ? ` · ${number(s.fluid)} °C` : ""} · engine {number(s.engine)} rpm
        </Text>
      </Flex>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`The slip swings ${number(s.hertz, 1)} times a second, ${number(s.depth)} rpm deep`}
        style={{ display: "block", fontSize: 12 }}
      >
        {ticks(low, high, 3).map((v) => (
          <g key={v}>
            <line x1={left} x2={width - 138} y1={y(v)} y2={y(v)} stroke={css("line")} />
            <text x={left - 7} y={y(v) + 4} textAnchor="end" fill={css("ink2")}>
              {number(v)}
            </text>
          </g>
        ))}
        <path d={d.length > 1 ? `M${d.join("L")}` : ""} fill="none" stroke={css("ink")} strokeWidth="1.8" strokeLinejoin="round" />
        {ticks(0, span, Math.floor(width / 140)).map((v) => (
          <text key={v} x={x(part.from + v)} y={height - 8} textAnchor="middle" fill={css("ink2")}>
            {number(v, 1)}
          </text>
        ))}
        <text x={width - 128} y={30} fill={css("ink")} style={{ fontSize: 20, fontWeight: 700 }}>
          {number(s.hertz, 1)} Hz
        </text>
        <text x={width - 128} y={50} fill={css("ink2")}>
          ± {number(s.depth)} rpm{s.atLeast ? " or more" : ""}
        </text>
        <text x={width - 128} y={height - 8} fill={css("ink2")}>
          s · rpm slip
        </text>
      </svg>
    </Box>
  );
}
