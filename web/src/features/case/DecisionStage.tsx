import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { optionsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { newKey } from "../../shared/key";
import { Labelled, TextField } from "../../shared/fields";
import { money, percent } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { OptionRow } from "./OptionRow";
import { useCase, useCaseStatus } from "./useCase";

type Row = Schemas["OptionRow"];

function Choose({ row, currency }: { row: Row; currency: string }) {
  const { actions } = useCase();
  const status = useCaseStatus();
  const [form, setForm] = useState({ choice: "accepted" as "accepted" | "declined", words: "", ceiling: "" });
  return (
    <Box as="section" aria-label="Customer’s choice" borderTopWidth="1px" borderColor="line" pt="3" mt="4">
      <Text as="h3" fontWeight="700" mb="2">
        Customer’s choice: {row.title}, {money(currency, row.sure)} now
      </Text>
      <Grid templateColumns={{ base: "1fr", lg: "auto 1fr 220px auto" }} gap="4" alignItems="end">
        <Choice
          label="Choice"
          value={form.choice}
          options={[
            ["accepted", "takes it"],
            ["declined", "declines it"],
          ]}
          onChange={(choice) => setForm({ ...form, choice })}
        />
        <Labelled label="In the customer’s words">
          <Textarea rows={1} maxLength={400} value={form.words} onChange={(e) => setForm({ ...form, words: e.target.value })} />
        </Labelled>
        <TextField
          label="Ceiling named"
          maxLength={120}
          value={form.ceiling}
          onChange={(e) => setForm({ ...form, ceiling: e.target.value })}
        />
        <Button
          variant="solid"
          loading={status.decide.isPending}
          onClick={() =>
            actions.decide.mutate(
              { key: newKey(), option: row.id, ...form },
              { onSuccess: () => setForm({ choice: "accepted", words: "", ceiling: "" }) },
            )
          }
        >
          Record the choice
        </Button>
      </Grid>
      {status.decide.isError && <Problem error={status.decide.error} />}
      <Text color="ink2" fontSize="13px" mt="2">
        Freezes the suspects, the readings and the prices as they stand now. The record can be printed again years later.
      </Text>
    </Box>
  );
}

function Recorded() {
  const { shown } = useCase();
  if (shown.decisions.length === 0) return null;
  return (
    <Box as="section" aria-label="Recorded decisions" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        Recorded
      </Text>
      {shown.decisions.map((d) => (
        <Flex key={d.id} borderTopWidth="1px" borderColor="line" py="2" justify="space-between" gap="4" wrap="wrap" align="center">
          <Text>
            <b>
              {d.choice === "accepted" ? "Agreed" : "Declined"}: {d.title}
            </b>{" "}
            · {d.root} {percent(d.rootShare)} %{d.words && ` · “${d.words}”`}
          </Text>
          <Button asChild>
            <a href={`/api/cases/${shown.id}/decisions/${d.id}/record`} target="_blank" rel="noreferrer">
              Record to print
            </a>
          </Button>
        </Flex>
      ))}
    </Box>
  );
}

export function DecisionStage() {
  const { shown } = useCase();
  const { data, error, refetch } = useQuery(optionsQuery(shown.id, shown.rev));
  const [picked, setPicked] = useState("");
  if (error) return <Problem error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the options" />;
  const best = data.rows[0];
  const chosen = data.rows.find((r) => r.id === picked) ?? best;
  const leader = shown.suspects[0];
  const most = Math.max(...data.rows.map((r) => Math.max(r.high, r.expected)), 1);
  return (
    <Box>
      <Text as="h2" fontSize="19px" fontWeight="700">
        {data.headline}
      </Text>
      <Text color="ink2" mb="3">
        Leading suspect: {leader?.title}, {percent(leader?.probability ?? 0)} % · cheapest in expectation stands first ·{" "}
        {shown.surprise.limits}
      </Text>
      <Box role="radiogroup" aria-label="Repair options">
        {data.rows.map((r, i) => (
          <OptionRow
            key={r.id}
            row={r}
            first={i === 0}
            most={most}
            currency={data.currency}
            picked={r.id === chosen?.id}
            pick={() => setPicked(r.id)}
          />
        ))}
      </Box>
      <Text mt="3" fontWeight="600">
        {data.sentence}
      </Text>
      {shown.heading.best.length === 0 && <Text color="ink2">{shown.heading.stop}</Text>}
      {shown.heading.best[0] && (
        <Text color="ink2">
          Before deciding: “{shown.heading.best[0].title}” would save about {money(data.currency, shown.heading.best[0].saves)} in
          expectation.
        </Text>
      )}
      {chosen && !shown.closed && <Choose row={chosen} currency={data.currency} />}
      <Recorded />
    </Box>
  );
}
