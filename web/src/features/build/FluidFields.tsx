import { Box, Grid, Text } from "@chakra-ui/react";
import { Choice } from "../../shared/Choice";
import { TextField } from "../../shared/fields";
import type { Sheet } from "./sheet";

interface Level {
  at?: string;
  engine?: string;
  selector?: string;
  temperature?: string;
  steps?: string[];
  [more: string]: unknown;
}

interface Fluid {
  kind?: string;
  capacity?: string;
  refill?: string;
  level?: Level;
  [more: string]: unknown;
}

/** The fluid, how much of it, and how its level is read; what is left out is not said of the unit. */
export function FluidFields({ sheet, change }: { sheet: Sheet; change: (f: (s: Sheet) => Sheet) => void }) {
  const fluid = (sheet.fluid as Fluid | undefined) ?? {};
  const level = fluid.level ?? {};
  const put = (next: Partial<Fluid>) => change((s) => ({ ...s, fluid: { ...(s.fluid as Fluid | undefined), ...next } }));
  // Read another way, the steps of the first are wrong; left out, nothing is said.
  const readAt = (at: string) => put({ level: at === "" ? {} : at === level.at ? level : { at } });
  const text = (key: "kind" | "capacity" | "refill") => ({
    value: fluid[key] ?? "",
    onChange: (e: { target: { value: string } }) => put({ [key]: e.target.value || undefined }),
  });
  return (
    <Box>
      <Grid templateColumns="repeat(auto-fit, minmax(180px, 1fr))" gap="3" mb="3">
        <TextField label="Kind of fluid" maxLength={60} {...text("kind")} />
        <TextField label="Filling, dry" maxLength={20} placeholder="8.3 L" {...text("capacity")} />
        <TextField label="Filling after a drain" maxLength={20} placeholder="4.1 L" {...text("refill")} />
      </Grid>
      <Text fontWeight="600" textStyle="label" mb="1">
        Level is read at
      </Text>
      <Choice
        label="Level is read at"
        value={level.at ?? ""}
        options={[
          ["stick", "a dipstick"],
          ["plug", "a plug"],
          ["", "left out"],
        ]}
        onChange={readAt}
      />
      {level.at && (
        <Grid templateColumns="repeat(auto-fit, minmax(180px, 1fr))" gap="3" mt="3" alignItems="end">
          <Box>
            <Text fontWeight="600" textStyle="label" mb="1.5">
              With the engine
            </Text>
            <Choice
              label="With the engine"
              value={level.engine ?? ""}
              options={[
                ["running", "running"],
                ["off", "off"],
              ]}
              onChange={(engine) => put({ level: { ...level, engine } })}
            />
          </Box>
          <TextField
            label="Fluid at"
            maxLength={30}
            placeholder="35 to 45 °C"
            value={level.temperature ?? ""}
            onChange={(e) => put({ level: { ...level, temperature: e.target.value || undefined } })}
          />
        </Grid>
      )}
    </Box>
  );
}
