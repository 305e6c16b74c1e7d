import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { gaugesQuery } from "../../api/queries";
import { SelectField, TextField } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { Loading, Problem } from "../../shared/states";

type Gauge = Schemas["NewGauge"];

const dimensions: [string, string][] = [
  ["length", "length"],
  ["pressure", "pressure"],
  ["torque", "torque"],
  ["angle", "angle"],
  ["force", "force"],
  ["rotational-speed", "speed of rotation"],
  ["volume", "volume"],
  ["temperature", "temperature"],
];

/** What changing the gauges does; it outlives the rows, which begin anew with what was saved. */
function useSave(saved: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ rev, ...body }: Schemas["Gauges"] & { rev: string }) =>
      answer(api.PUT("/gauges", { body, params: { header: { "If-Match": rev } } })),
    onSuccess: (now) => {
      client.setQueryData(gaugesQuery.queryKey, now);
      void client.invalidateQueries({ queryKey: ["instrument"] });
      saved();
    },
  });
}

/** The list as it was when its change began: it is held to that, so that what others saved meanwhile is not overwritten. */
function Rows({ list, save, anew }: { list: Schemas["GaugeList"]; save: ReturnType<typeof useSave>; anew: () => void }) {
  const [{ gauges: saved, rev }] = useState(list);
  const [rows, setRows] = useState<Gauge[]>(() =>
    saved.map(({ id, name, dimension, resolution, uncertainty, until }) => ({ id, name, dimension, resolution, uncertainty, until })),
  );
  const set = (i: number, change: Partial<Gauge>) => setRows((all) => all.map((r, k) => (k === i ? { ...r, ...change } : r)));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate({ gauges: rows, rev });
  };
  return (
    <form onSubmit={submit}>
      {rows.length === 0 && <Text color="ink2">None yet: instruments take the usual gauge of the trade.</Text>}
      {rows.map((r, i) => {
        const overdue = saved.find((g) => g.id === r.id)?.overdue;
        return (
          <Box key={r.id ?? `new-${i}`} py="3" borderTopWidth="1px" borderColor="line" role="group" aria-label={r.name || "new gauge"}>
            <Grid templateColumns={{ base: "1fr", md: "2fr 1fr 1fr 1fr 1fr auto" }} gap="3" alignItems="end">
              <TextField label="Gauge" required maxLength={120} value={r.name} onChange={(e) => set(i, { name: e.target.value })} />
              <SelectField label="Reads" value={r.dimension} options={dimensions} onChange={(e) => set(i, { dimension: e.target.value })} />
              <TextField
                label="Resolution"
                placeholder="0.01 mm"
                value={r.resolution ?? ""}
                onChange={(e) => set(i, { resolution: e.target.value })}
              />
              <TextField
                label="Uncertainty ±"
                placeholder="0.02 mm"
                value={r.uncertainty ?? ""}
                onChange={(e) => set(i, { uncertainty: e.target.value })}
              />
              <TextField label="Calibrated until" type="date" value={r.until ?? ""} onChange={(e) => set(i, { until: e.target.value })} />
              <Button variant="ghost" onClick={() => setRows((all) => all.filter((_, k) => k !== i))}>
                Remove
              </Button>
            </Grid>
            {overdue && (
              <Text color="fault" textStyle="note" mt="1">
                <b>Calibration has ended.</b> You can still use it; the result says so.
              </Text>
            )}
          </Box>
        );
      })}
      {save.isError && <Problem error={save.error} />}
      {list.rev !== rev && (
        <Flex role="note" align="center" gap="3" mt="2" wrap="wrap">
          <Text fontWeight="600">Somebody else changed the gauges meanwhile.</Text>
          <Button onClick={anew}>Show theirs, leave mine</Button>
        </Flex>
      )}
      <Flex gap="3" mt="3" align="center">
        <Button onClick={() => setRows((all) => [...all, { name: "", dimension: "length", resolution: "", uncertainty: "", until: "" }])}>
          Add a gauge
        </Button>
        <Button type="submit" variant="solid" loading={save.isPending}>
          Save the gauges
        </Button>
        <Text role="status" color="ink2">
          {save.isSuccess ? "Saved" : ""}
        </Text>
      </Flex>
    </form>
  );
}

/** The measuring tools of the shop: what they resolve, how far they can be off, and until when they were checked. */
export function Gauges() {
  const { data, error } = useQuery(gaugesQuery);
  const [turn, setTurn] = useState(0);
  const anew = () => setTurn((n) => n + 1);
  const save = useSave(anew);
  return (
    <Section id="gauges" title="Gauges" about="Resolution, how far off they can be, and until when they are calibrated.">
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the gauges" />}
      {data && (
        <Rows
          key={turn}
          list={data}
          save={save}
          anew={() => {
            save.reset();
            anew();
          }}
        />
      )}
    </Section>
  );
}
