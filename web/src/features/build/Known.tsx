import { Box, Button, Grid, Text } from "@chakra-ui/react";
import { Disclosed } from "../../shared/Disclosed";
import { SelectField, TextField } from "../../shared/fields";
import { FluidFields } from "./FluidFields";
import { Offers } from "./Offers";
import { freeID, type Sheet, type View } from "./sheet";

interface Limit {
  id: string;
  name: string;
  element?: string;
  dimension: string;
  window: string;
}

const limitsOf = (s: Sheet) => (s.limits as Limit[] | undefined) ?? [];

/** What a practitioner may know beside chart and ratios: stall speed, fluid, limits. What is left empty is left out. */
export function Known({
  sheet,
  view,
  change,
  take,
}: {
  sheet: Sheet;
  view: View;
  change: (f: (s: Sheet) => Sheet) => void;
  take: (path: string) => Promise<void>;
}) {
  const converter = sheet.converter as { stall?: string } | undefined;
  const limits = limitsOf(sheet);
  const offered = view.limits.filter((o) => !limits.some((l) => l.id === o.id)); // one just added is not there twice
  const setLimits = (f: (l: Limit[]) => Limit[]) => change((s) => ({ ...s, limits: f(limitsOf(s)) }));
  const add = (id: string) => {
    const found = offered.find((l) => l.id === id);
    const free = freeID(
      limits.map((l) => l.id),
      "limit-",
    );
    setLimits((l) => [...l, { ...(found ?? { id: free, name: "", dimension: id }), window: "" }]);
  };
  return (
    <Disclosed title={`What else you know: stall speed, fluid, ${limits.length} limits`}>
      {converter && (
        <Box maxW="320px" mb="3">
          <TextField
            label="Stall speed"
            maxLength={30}
            placeholder="1950 to 2150 rpm"
            value={converter.stall ?? ""}
            onChange={(e) => change((s) => ({ ...s, converter: { ...(s.converter as object), stall: e.target.value } }))}
          />
        </Box>
      )}
      <FluidFields sheet={sheet} change={change} />
      <Text fontWeight="700" mt="4">
        Limits
      </Text>
      {limits.map((l, i) => (
        <Grid
          key={l.id}
          templateColumns={{ base: "1fr", md: "1fr 220px auto" }}
          gap="3"
          alignItems="end"
          borderTopWidth="1px"
          borderColor="line"
          py="2"
        >
          <TextField
            label="What is measured"
            maxLength={60}
            value={l.name}
            onChange={(e) => setLimits((all) => all.map((x, j) => (j === i ? { ...x, name: e.target.value } : x)))}
          />
          <TextField
            label="From, to"
            aria-label={`Window of ${l.name}`}
            maxLength={40}
            placeholder={l.dimension === "pressure" ? "55 to 65 psi" : "1.2 to 1.8 mm"}
            value={l.window}
            onChange={(e) => setLimits((all) => all.map((x, j) => (j === i ? { ...x, window: e.target.value } : x)))}
          />
          <Button variant="ghost" aria-label={`Take ${l.name} off`} onClick={() => setLimits((all) => all.filter((_, j) => j !== i))}>
            Take off
          </Button>
        </Grid>
      ))}
      <Box maxW="320px" mt="2">
        <SelectField
          label="Add a limit"
          value=""
          options={[
            ["", "choose"],
            ...offered.map((l): [string, string] => [l.id, l.name]),
            ["length", "another length"],
            ["pressure", "another pressure"],
            ["torque", "a torque"],
          ]}
          onChange={(e) => e.target.value && add(e.target.value)}
        />
      </Box>
      <Offers offers={view.offers} take={take} />
    </Disclosed>
  );
}
