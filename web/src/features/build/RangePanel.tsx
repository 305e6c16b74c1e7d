import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Choice } from "../../shared/Choice";
import { SelectField, TextField } from "../../shared/fields";
import { rangesOf, renamedRange, withoutRange, type Sheet, type SheetRange } from "./sheet";

/** One row of the chart: its name, where the lever stands, what it does, and what it shifts up from. */
export function RangePanel({
  sheet,
  range,
  change,
  close,
  renamed,
}: {
  sheet: Sheet;
  range: SheetRange;
  change: (f: (s: Sheet) => Sheet) => void;
  close: () => void;
  renamed: (id: string) => void;
}) {
  const [id, setID] = useState(range.id);
  const put = (part: Partial<SheetRange>) =>
    change((s) => ({ ...s, ranges: rangesOf(s).map((r) => (r.id === range.id ? { ...r, ...part } : r)) }));
  const others = rangesOf(sheet).filter((r) => r.id !== range.id);
  const taken = others.some((r) => r.id === id);
  const rename = () => {
    const next = id.trim();
    if (next === "" || taken || next === range.id) return;
    change((s) => renamedRange(s, range.id, next));
    renamed(next);
  };
  return (
    <Box as="section" aria-label={`Row ${range.id}`} borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="3">
      <Grid templateColumns={{ base: "1fr", md: "110px 1fr 110px 1fr auto auto" }} gap="3" alignItems="end">
        <TextField
          label="Row"
          maxLength={8}
          value={id}
          error={taken ? "another row is called so" : undefined}
          onChange={(e) => setID(e.target.value.replace(/[^A-Za-z0-9-]/g, ""))}
          onBlur={rename}
        />
        <TextField label="Name" maxLength={60} value={range.name} onChange={(e) => put({ name: e.target.value })} />
        <TextField label="Lever at" maxLength={12} value={range.selector} onChange={(e) => put({ selector: e.target.value })} />
        <SelectField
          label="Shifts up from"
          value={range.from ?? ""}
          onChange={(e) => put({ from: e.target.value || undefined })}
          options={[
            ["", "nothing: it pulls away"],
            ...others.filter((r) => r.outcome === "forward").map((r): [string, string] => [r.id, r.id]),
          ]}
        />
        <Button
          onClick={() => {
            change((s) => withoutRange(s, range.id));
            close();
          }}
        >
          Take it off
        </Button>
        <Button variant="solid" onClick={close}>
          Done
        </Button>
      </Grid>
      <Flex mt="3" gap="3" align="center">
        <Text fontWeight="600" textStyle="label">
          It drives
        </Text>
        <Choice
          label="It drives"
          value={range.outcome}
          options={[
            ["forward", "forward"],
            ["reverse", "backward"],
            ["neutral", "nothing"],
          ]}
          onChange={(outcome) => put({ outcome })}
        />
      </Flex>
    </Box>
  );
}
