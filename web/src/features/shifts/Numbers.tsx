import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import type { ShiftTold } from "../../api/shifts";
import { number } from "../../shared/format";
import { Pennant } from "./Pennant";

interface Row {
  name: string;
  unit: string;
  digits: number;
  value: Schemas["Uncertain"];
  window: Schemas["ShiftWindow"];
  out: boolean;
}

/** What is measured of a shift, each over the window that a sound one stays in. */
export function rowsOf(s: ShiftTold): Row[] {
  const rows: Row[] = [
    { name: "inertia time", unit: "s", digits: 2, value: s.inertia, window: s.windows.inertia, out: s.out.long || s.out.quick },
    { name: "flare", unit: "rpm", digits: 0, value: s.flare, window: s.windows.flare, out: s.out.flared },
  ];
  if (s.fill) rows.push({ name: "fill", unit: "s", digits: 2, value: s.fill, window: s.windows.fill, out: s.out.fillsLate });
  if (s.overlap) rows.push({ name: "both hold", unit: "s", digits: 2, value: s.overlap, window: s.windows.overlap, out: s.out.tied });
  if (s.after.u > 0)
    rows.push({ name: "slip after", unit: "rpm", digits: 0, value: s.after, window: s.windows.after, out: s.out.slipsAfter });
  return s.down ? rows.filter((r) => r.name !== "flare") : rows;
}

/** A window with the value in it: the value as a bar, its uncertainty as a line on the same scale. */
function Gauge({ r }: { r: Row }) {
  const w = 92;
  const { low, high } = r.window;
  const from = Math.min(low, r.value.value - r.value.u, 0);
  const to = Math.max(high, r.value.value + r.value.u);
  const room = (to - from) * 0.08 || 1;
  const x = (v: number) => ((v - from + room) / (to - from + 2 * room)) * w;
  const colour = r.out ? "var(--chakra-colors-fault)" : "var(--chakra-colors-ink)";
  return (
    <svg width={w} height="24" aria-hidden>
      <line x1="0" x2={w} y1="12" y2="12" stroke="var(--chakra-colors-slate)" />
      <rect
        x={x(low)}
        y="5"
        width={Math.max(2, x(high) - x(low))}
        height="14"
        fill="var(--chakra-colors-window)"
        stroke="var(--chakra-colors-good)"
        strokeWidth="0.8"
      />
      <line x1={x(r.value.value - r.value.u)} x2={x(r.value.value + r.value.u)} y1="12" y2="12" stroke={colour} strokeWidth="2" />
      <line x1={x(r.value.value)} x2={x(r.value.value)} y1="2" y2="22" stroke={colour} strokeWidth="3" />
    </svg>
  );
}

export function Numbers({ s }: { s: ShiftTold }) {
  const tidy = (v: number, d: number) => number(Math.abs(v) < 0.5 * 10 ** -d ? 0 : v, d);
  return (
    <Box>
      {rowsOf(s).map((r) => (
        <Grid
          key={r.name}
          templateColumns="minmax(0, 1fr) auto 92px"
          gap="3"
          alignItems="center"
          borderTopWidth="1px"
          borderColor="line"
          py="1.5"
        >
          <Box>
            <Text lineHeight="1.2">{r.name}</Text>
            <Flex align="center" gap="1.5" textStyle="fine" color="ink2">
              {r.out && <Pennant />}
              <Text>
                {r.out ? "out of " : ""}
                {tidy(r.window.low, r.digits)} to {tidy(r.window.high, r.digits)}
              </Text>
            </Flex>
          </Box>
          <Text textAlign="right" whiteSpace="nowrap">
            <Text as="span" fontSize="22px" fontWeight="700" lineHeight="1.1">
              {tidy(r.value.value, r.digits)}
            </Text>{" "}
            <Text as="span" textStyle="small" color="ink2">
              {r.unit}
              <br />± {tidy(r.value.u, r.digits)}
            </Text>
          </Text>
          <Gauge r={r} />
        </Grid>
      ))}
      {s.heat.map((h) => (
        <Text key={h.element} textStyle="small" color="ink2" borderTopWidth="1px" borderColor="line" py="1.5">
          Heat in {h.name}: <b>{number(h.joules / 1000, 1)} kJ</b>, by the sheet's friction.
        </Text>
      ))}
      <Text textStyle="fine" color="ink2" borderTopWidth="1px" borderColor="line" pt="1.5">
        {s.windows.shifts > 0
          ? `Windows from ${s.windows.shifts} sound shifts of this kind.`
          : "Usual windows. A drive of a sound unit says it better."}
      </Text>
    </Box>
  );
}
