import { Box, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { gearQuery } from "../../api/queries";
import { NumberField } from "../../shared/NumberField";
import { Problem } from "../../shared/states";
import { Heading, Table } from "../../shared/Table";
import { ratio, type Unit } from "./unit";
import { useForm } from "../../shared/useForm";
import { useSettled } from "../../shared/useSettled";

/** Which gear two speeds are: for a scan tool, a recording, or two marks and a stroboscope. */
export function GearFinder({ unit }: { unit: Unit }) {
  const [seen, put] = useForm({ in: "", out: "" });
  const { data, error } = useQuery(gearQuery(unit.id, unit.version, useSettled(seen)));
  return (
    <Box mt="5" data-noprint>
      <Heading note="Input and output speed as read: which range that is, and what slips if none fits.">Which gear is this?</Heading>
      <Grid templateColumns="1fr 1fr" gap="3">
        <NumberField
          kind="rotational-speed"
          unit="rpm"
          label="Input speed as read"
          placeholder="2000 rpm"
          value={seen.in}
          maxLength={40}
          onChange={(e) => put({ in: e.target.value })}
        />
        <NumberField
          kind="rotational-speed"
          unit="rpm"
          label="Output speed as read"
          placeholder="1365 rpm"
          value={seen.out}
          maxLength={40}
          onChange={(e) => put({ out: e.target.value })}
        />
      </Grid>
      {error && seen.in && seen.out && <Problem error={error} />}
      {data && !error && (
        <Box mt="2">
          <Text fontWeight="700" role="status">
            {data.sentence}
          </Text>
          <Table
            label="Ranges by nearness"
            head={[`observed ${data.observed}`, ">ratio", ">input beside it", ""]}
            rows={data.matches.slice(0, 3).map((m) => [m.range, ratio(m.ratio), m.slip, m.fits ? "fits" : ""])}
          />
          {data.slips.length > 0 && !data.matches[0]?.fits && (
            <Table
              label="Slip of each element"
              head={["if this element alone slips", ">across it"]}
              rows={data.slips.map((s) => [s.name, s.slip])}
            />
          )}
        </Box>
      )}
    </Box>
  );
}
