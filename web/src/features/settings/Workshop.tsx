import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api, ProblemError, type Schemas } from "../../api/client";
import { workshopQuery } from "../../api/queries";
import { Labelled, TextField } from "../../shared/fields";
import { NumberField } from "../../shared/NumberField";
import { Section } from "../../shared/Section";
import { Loading, Problem } from "../../shared/states";

const dayNames = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];
const order = [1, 2, 3, 4, 5, 6, 0]; // a week as a shop has it, Monday first

type FigureName = "bayRate" | "lead" | "machine" | "restock" | "sendBack";

const rows = (names: string[]) => names.join("\n");
const lines = (text: string) =>
  text
    .split("\n")
    .map((l) => l.trim())
    .filter(Boolean);

function Form({ saved }: { saved: Schemas["Workshop"] }) {
  const client = useQueryClient();
  const [form, setForm] = useState(() => ({ ...saved, bays: rows(saved.bays), people: rows(saved.people), closed: rows(saved.closed) }));
  const put = (change: Partial<typeof form>) => setForm((old) => ({ ...old, ...change }));
  const save = useMutation({
    mutationFn: () => {
      const { rev, currency: _, ...rest } = form;
      return answer(
        api.PUT("/workshop", {
          body: { ...rest, bays: lines(form.bays), people: lines(form.people), closed: lines(form.closed) },
          params: { header: { "If-Match": String(rev) } },
        }),
      );
    },
    onSuccess: (now) => {
      client.setQueryData(workshopQuery.queryKey, now);
      put({ rev: now.rev });
      void client.invalidateQueries({ queryKey: ["week"] });
      void client.invalidateQueries({ queryKey: ["job"] });
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const wrong = (field: string) => (problem?.field?.startsWith(field) ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined);
  const figures: [FigureName, string, "money" | "percent"][] = [
    ["bayRate", "Bay held up, an hour", "money"],
    ["lead", "Days until an ordered part is here", "money"],
    ["machine", "Days at the machine shop", "money"],
    ["restock", "A return costs, % of the price", "percent"],
    ["sendBack", "and besides, each", "money"],
  ];
  const priced: FigureName[] = ["bayRate", "sendBack"];
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  const span = (i: number, change: Partial<Schemas["WorkshopDay"]>) =>
    put({ days: form.days.map((d, k) => (k === i ? { ...d, ...change } : d)) });
  return (
    <form onSubmit={submit}>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4" mb="4">
        <Labelled label="Bays, one on each line" error={wrong("bays")}>
          <Textarea rows={4} value={form.bays} onChange={(e) => put({ bays: e.target.value })} />
        </Labelled>
        <Labelled label="Who works at them, one on each line" error={wrong("people")}>
          <Textarea rows={4} value={form.people} onChange={(e) => put({ people: e.target.value })} />
        </Labelled>
      </Grid>
      <Box role="group" aria-label="Opening hours">
        {order.map((i) => (
          <Grid
            key={i}
            templateColumns={{ base: "84px 1fr 1fr", md: "110px 150px 150px minmax(0, 1fr)" }}
            gap="3"
            py="1"
            alignItems="center"
          >
            <Text textStyle="label" fontWeight="600">
              {dayNames[i]}
            </Text>
            <TextField
              label=""
              aria-label={`${dayNames[i]}, opens`}
              type="time"
              value={form.days[i]!.from}
              onChange={(e) => span(i, { from: e.target.value })}
            />
            <TextField
              label=""
              aria-label={`${dayNames[i]}, closes`}
              type="time"
              value={form.days[i]!.to}
              onChange={(e) => span(i, { to: e.target.value })}
            />
            <Text color={wrong(`days[${i}]`) ? "fault" : "ink2"} textStyle="note">
              {wrong(`days[${i}]`) ?? (form.days[i]!.from === form.days[i]!.to ? "closed" : "")}
            </Text>
          </Grid>
        ))}
        <Grid templateColumns={{ base: "84px 1fr 1fr", md: "110px 150px 150px minmax(0, 1fr)" }} gap="3" py="1" alignItems="center">
          <Text textStyle="label" fontWeight="600">
            Break
          </Text>
          <TextField
            label=""
            aria-label="Break, from"
            type="time"
            value={form.break.from}
            onChange={(e) => put({ break: { ...form.break, from: e.target.value } })}
          />
          <TextField
            label=""
            aria-label="Break, to"
            type="time"
            value={form.break.to}
            onChange={(e) => put({ break: { ...form.break, to: e.target.value } })}
          />
          <Text color="fault" textStyle="note">
            {wrong("break")}
          </Text>
        </Grid>
      </Box>
      <Grid templateColumns={{ base: "1fr", md: "repeat(3, 1fr)" }} gap="4" my="4" alignItems="end">
        {figures.map(([n, label, kind]) => (
          <NumberField
            key={n}
            label={priced.includes(n) ? `${label}, ${saved.currency}` : label}
            kind={kind}
            required
            value={form[n]}
            onChange={(e) => put({ [n]: e.target.value })}
            error={wrong(n)}
          />
        ))}
      </Grid>
      <Box maxW="300px">
        <Labelled label="Closed days, one on each line" help="such as 2026-12-24" error={wrong("closed")}>
          <Textarea rows={3} value={form.closed} onChange={(e) => put({ closed: e.target.value })} />
        </Labelled>
      </Box>
      {save.isError && !problem?.field && <Problem error={save.error} />}
      <Flex gap="4" mt="3" align="center">
        <Button type="submit" variant="solid" loading={save.isPending}>
          Save bays and hours
        </Button>
        <Text role="status" color="good">
          {save.isSuccess && "✓ saved"}
        </Text>
      </Flex>
    </form>
  );
}

/** What there is to work with: bays, people, hours, and what it costs to wait. */
export function Workshop() {
  const { data, error } = useQuery(workshopQuery);
  return (
    <Section
      id="workshop"
      title="Bays, people, hours"
      about="The week is planned by them. What waiting and returns cost decides which parts to order before a unit is open."
    >
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the workshop" />}
      {data && <Form saved={data} />}
    </Section>
  );
}
