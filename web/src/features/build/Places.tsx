import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Disclosed } from "../../shared/Disclosed";
import { SelectField, TextField } from "../../shared/fields";
import { accessNames } from "../../shared/format";
import { Nudge } from "./Nudge";
import type { Sheet } from "./sheet";

interface Part {
  id: string;
  name: string;
  access: string;
  hours: number;
  zone: number[];
}

const steps = [
  ["◂", "Move it forward", 0, -3],
  ["▸", "Move it back", 0, 3],
  ["▴", "Move it up", 1, 3],
  ["▾", "Move it down", 1, -3],
  ["wider", "Wider", 2, 3],
  ["narrower", "Narrower", 2, -3],
  ["taller", "Taller", 3, 3],
  ["lower", "Lower", 3, -3],
] as const;

const partsOf = (s: Sheet) => (s.parts as Part[] | undefined) ?? [];
const levelsOf = (s: Sheet) => ((s.access as { level: string }[] | undefined) ?? []).map((a) => a.level);

/** The unit from its left side: parts are tapped to be changed, an empty place to put one there. */
export function Places({ sheet, change }: { sheet: Sheet; change: (f: (s: Sheet) => Sheet) => void }) {
  const [picked, setPicked] = useState("");
  const parts = partsOf(sheet);
  const part = parts.find((p) => p.id === picked);
  const put = (next: Partial<Part>) => change((s) => ({ ...s, parts: partsOf(s).map((p) => (p.id === picked ? { ...p, ...next } : p)) }));
  const add = (x: number, y: number) => {
    let n = 1;
    while (parts.some((p) => p.id === `part-${n}`)) n++;
    const zone = [Math.min(90, Math.max(0, Math.round(x - 5))), Math.min(85, Math.max(0, Math.round(y - 6))), 10, 12];
    change((s) => ({ ...s, parts: [...partsOf(s), { id: `part-${n}`, name: "", access: levelsOf(s)[0] ?? "", hours: 0.5, zone }] }));
    setPicked(`part-${n}`);
  };
  return (
    <Disclosed title={`Parts and where they sit: ${parts.length}`}>
      <Text color="ink2" textStyle="small">
        From the left side, front at the left. Tap a part to change it, an empty place to put one there.
      </Text>
      <svg
        viewBox="0 0 760 300"
        width="100%"
        style={{ maxWidth: 760, cursor: "crosshair" }}
        role="group"
        aria-label="Parts from the left side"
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          add(((e.clientX - box.left) / box.width) * 100, 100 - ((e.clientY - box.top) / box.height) * 100);
        }}
      >
        <rect x="0" y="0" width="760" height="300" fill="none" stroke="var(--chakra-colors-line)" />
        {parts.map((p) => {
          const [x = 0, y = 0, w = 0, h = 0] = p.zone;
          const on = p.id === picked;
          return (
            <g
              key={p.id}
              role="button"
              tabIndex={0}
              aria-label={p.name || p.id}
              aria-pressed={on}
              style={{ cursor: "pointer" }}
              onClick={(e) => {
                e.stopPropagation();
                setPicked(on ? "" : p.id);
              }}
              onKeyDown={(e) => e.key === "Enter" && setPicked(on ? "" : p.id)}
            >
              <rect
                x={x * 7.6}
                y={(100 - y - h) * 3}
                width={w * 7.6}
                height={h * 3}
                rx="3"
                fill={on ? "var(--chakra-colors-brass-soft)" : "var(--chakra-colors-panel)"}
                stroke={on ? "var(--chakra-colors-brass)" : "var(--chakra-colors-slate)"}
                strokeWidth={on ? 2.5 : 1.2}
              />
              <text x={x * 7.6 + 4} y={(100 - y - h) * 3 + 14} fill="var(--chakra-colors-ink)" style={{ fontSize: 12 }}>
                {p.name.length > w * 1.2 ? `${p.name.slice(0, Math.max(2, Math.floor(w * 1.2)))}…` : p.name}
              </text>
            </g>
          );
        })}
      </svg>
      {part && (
        <Box borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="2">
          <Grid templateColumns={{ base: "1fr", md: "1fr 200px 140px" }} gap="3" alignItems="end">
            <TextField label="Part" maxLength={60} value={part.name} onChange={(e) => put({ name: e.target.value })} />
            <SelectField
              label="Reached with"
              value={part.access}
              onChange={(e) => put({ access: e.target.value })}
              options={levelsOf(sheet).map((l): [string, string] => [l, accessNames[l] ?? l])}
            />
            <TextField
              label="Hours to renew it"
              inputMode="decimal"
              maxLength={5}
              value={String(part.hours)}
              onChange={(e) => put({ hours: Number(e.target.value.replace(",", ".")) || 0 })}
            />
          </Grid>
          <Flex gap="2" wrap="wrap" mt="3" align="center">
            <Nudge box={part.zone} steps={steps} least={0} put={(zone) => put({ zone })} />
            <Button
              ml="auto"
              onClick={() => {
                change((s) => ({ ...s, parts: partsOf(s).filter((p) => p.id !== picked) }));
                setPicked("");
              }}
            >
              Take it off
            </Button>
          </Flex>
        </Box>
      )}
    </Disclosed>
  );
}
