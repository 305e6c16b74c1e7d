import { Box, Button, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { SelectField, TextField } from "../../shared/fields";
import type { useRecording } from "./useRecording";

const separators: [string, string][] = [
  [",", "comma"],
  [";", "semicolon"],
  ["\t", "tab"],
  ["|", "bar"],
];
const kinds: [Schemas["Layout"]["kind"], string][] = [
  ["s", "seconds"],
  ["ms", "milliseconds"],
  ["min", "minutes"],
  ["clock", "time of day"],
  ["row", "none: rows follow each other"],
];

/** How a table is read, when it was found wrong: read again so, and all of its shape from then on. */
export function LayoutForm({ layout, done }: { layout: Schemas["Layout"]; done: ReturnType<typeof useRecording> }) {
  const [l, setLayout] = useState(layout);
  const [heads, setHeads] = useState(String(layout.heads));
  const [step, setStep] = useState(String(layout.step));
  const set = (n: Partial<Schemas["Layout"]>) => setLayout({ ...l, ...n });
  return (
    <Box
      as="form"
      onSubmit={(e) => {
        e.preventDefault();
        const time = l.kind === "row" ? -1 : Math.max(0, l.time);
        done.reread.mutate({ ...l, time, heads: Number(heads) || 0, step: Number(step) || 0 });
      }}
    >
      <Grid templateColumns="1fr 1fr" gap="3" mb="3">
        <SelectField
          label="Between columns"
          value={l.separator}
          options={separators}
          onChange={(e) => set({ separator: e.target.value })}
        />
        <SelectField
          label="Decimal sign"
          value={l.decimal}
          options={[
            [".", "point"],
            [",", "comma"],
          ]}
          onChange={(e) => set({ decimal: e.target.value })}
        />
        <TextField label="Rows before values" inputMode="numeric" value={heads} onChange={(e) => setHeads(e.target.value)} />
        <SelectField
          label="Times as"
          value={l.kind}
          options={kinds}
          onChange={(e) => set({ kind: e.target.value as Schemas["Layout"]["kind"] })}
        />
        {l.kind === "row" ? (
          <TextField label="Seconds from row to row" value={step} onChange={(e) => setStep(e.target.value)} />
        ) : (
          <SelectField
            label="Column of times"
            value={String(Math.max(0, l.time))}
            options={l.columns.map((c, i): [string, string] => [String(i), c.name])}
            onChange={(e) => set({ time: Number(e.target.value) })}
          />
        )}
      </Grid>
      <Text color="ink2" textStyle="small" mb="2">
        Tables with these columns are read this way from now on.
      </Text>
      <Button type="submit" disabled={done.reread.isPending}>
        {done.reread.isPending ? "Reading …" : "Read it again"}
      </Button>
    </Box>
  );
}
