import { Box, Button, Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { Recording } from "../../api/recordings";
import { Select } from "../../shared/fields";
import { short } from "../../shared/format";
import type { useRecording } from "./useRecording";
import { rateWord, roleNames } from "./words";

type Role = Schemas["Channel"]["role"];

/** What each channel is: its name, its unit, what it measures, where it was held. Said once, tables of this shape are read so. */
export function Channels({ r, done }: { r: Recording; done: ReturnType<typeof useRecording> }) {
  const [said, setSaid] = useState(r.channels);
  const set = (i: number, c: Partial<Schemas["Channel"]>) => setSaid((all) => all.map((x, k) => (k === i ? { ...x, ...c } : x)));
  const changed = JSON.stringify(said) !== JSON.stringify(r.channels);
  return (
    <Box
      as="form"
      onSubmit={(e) => {
        e.preventDefault();
        done.change.mutate({
          channels: said.map((c) => ({
            name: c.name,
            unit: c.unit,
            role: c.role,
            from: c.from,
            ...(c.role === "pulses" && { turns: c.turns }),
            ...((c.role === "pulses" || c.role === "pressure") && { of: c.of }),
          })),
        });
      }}
    >
      {said.map((c, i) => (
        <Box key={i} borderTopWidth="1px" borderColor="line" py="2">
          <Grid templateColumns="minmax(0, 1fr) 84px" gap="2">
            <Input
              aria-label={`Name of channel ${i + 1}`}
              value={c.name}
              maxLength={120}
              onChange={(e) => set(i, { name: e.target.value })}
            />
            <Input
              aria-label={`Unit of ${c.name}`}
              placeholder="unit"
              value={c.unit}
              maxLength={16}
              onChange={(e) => set(i, { unit: e.target.value })}
            />
            <Select
              aria-label={`What ${c.name} is`}
              value={c.role}
              onChange={(e) => set(i, { role: e.target.value as Role })}
              gridColumn="span 2"
            >
              {Object.entries(roleNames).map(([v, t]) => (
                <option key={v} value={v}>
                  {t}
                </option>
              ))}
            </Select>
            {(c.role === "sound" || c.role === "shaking") && (
              <Input
                aria-label={`Where ${c.name} was held`}
                placeholder="where it was held: seat rail, dash"
                value={c.from}
                maxLength={120}
                onChange={(e) => set(i, { from: e.target.value })}
                gridColumn="span 2"
              />
            )}
            {c.role === "pressure" && (
              <Input
                aria-label={`Element of ${c.name}`}
                placeholder="element, as on the sheet; by its name when left out"
                value={c.of ?? ""}
                maxLength={40}
                onChange={(e) => set(i, { of: e.target.value })}
                gridColumn="span 2"
              />
            )}
            {c.role === "pulses" && (
              <>
                <Input
                  aria-label={`Pulses of ${c.name} in a turn`}
                  placeholder="pulses in a turn"
                  type="number"
                  step="any"
                  value={c.turns || ""}
                  onChange={(e) => set(i, { turns: Number(e.target.value) })}
                />
                <Select aria-label={`What ${c.name} turns with`} value={c.of} onChange={(e) => set(i, { of: e.target.value })}>
                  <option value="">output</option>
                  <option value="engine">engine</option>
                </Select>
              </>
            )}
          </Grid>
          <Text color="ink2" textStyle="small" mt="1">
            {c.values > 0 ? `${short(c.low, 2)} to ${short(c.high, 2)} ${c.unit}, ${rateWord(c.rate)}` : "no values"}
          </Text>
        </Box>
      ))}
      <Button type="submit" disabled={!changed || done.change.isPending}>
        Save the channels
      </Button>
    </Box>
  );
}
