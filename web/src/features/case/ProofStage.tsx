import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../shared/Choice";
import { SelectField } from "../../shared/fields";
import { percent } from "../../shared/format";
import { Problem } from "../../shared/states";
import { useCase, useCaseStatus } from "./useCase";

type Item = Schemas["Proof"];

function ProofRow({ item }: { item: Item }) {
  const { shown, actions } = useCase();
  const [note, setNote] = useState(item.note);
  const save = (result: string, text = note) => actions.proof.mutate({ item: item.item, result: result as "pass", note: text });
  return (
    <Grid
      templateColumns={{ base: "1fr", md: "minmax(0, 1fr) auto" }}
      gap="3"
      alignItems="center"
      py="2"
      borderTopWidth="1px"
      borderColor="line"
    >
      <Box>
        <Text fontWeight="600">{item.title}</Text>
        {item.failing && (
          <Text fontSize="13px" color="ink2">
            before: {item.failing}
          </Text>
        )}
        <Input
          mt="1"
          aria-label={`Note on ${item.title}`}
          placeholder="value or note"
          maxLength={400}
          value={note}
          disabled={shown.closed}
          onChange={(e) => setNote(e.target.value)}
          onBlur={() => note !== item.note && save(item.result)}
        />
      </Box>
      <Choice
        label={item.title}
        value={item.result}
        options={[
          ["pass", "✓ good now"],
          ["fail", "✕ still there"],
          ["open", "open"],
        ]}
        onChange={(r) => !shown.closed && save(r)}
      />
    </Grid>
  );
}

function Closing() {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const [root, setRoot] = useState(shown.suspects[0]?.id ?? "");
  const [outcome, setOutcome] = useState<Schemas["Closing"]["outcome"]>("cured");
  const open = shown.proof.filter((p) => p.result !== "pass").length;
  return (
    <Box as="section" aria-label="Close the case" mt="5" pt="3" borderTopWidth="2px" borderColor="line">
      <Text as="h3" fontWeight="700" mb="2">
        Close the case
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "1fr 220px auto" }} gap="3" alignItems="end">
        <SelectField
          label="Confirmed root cause"
          value={root}
          onChange={(e) => setRoot(e.target.value)}
          options={[
            ...shown.suspects.map((s): [string, string] => [s.id, `${s.title} (${percent(s.probability)} %)`]),
            ["", "none confirmed"],
          ]}
        />
        <SelectField
          label="Outcome"
          value={outcome}
          onChange={(e) => setOutcome(e.target.value as typeof outcome)}
          options={[
            ["cured", "cured, proven"],
            ["not-cured", "not cured"],
            ["declined", "customer declined"],
            ["no-fault", "no fault found"],
          ]}
        />
        <Button variant="solid" loading={status.close.isPending} onClick={() => actions.close.mutate({ root: root || undefined, outcome })}>
          Close the case
        </Button>
      </Grid>
      {open > 0 && outcome === "cured" && (
        <Text mt="2" color="ink2">
          {open} of {shown.proof.length} items of the proof are not yet shown as good.
        </Text>
      )}
      {status.close.isError && <Problem error={status.close.error} />}
    </Box>
  );
}

export function ProofStage() {
  const { shown, actions } = useCase();
  const agreed = shown.decisions.find((d) => d.choice === "accepted");
  return (
    <Box>
      <Text as="h2" fontSize="18px" fontWeight="700">
        Proof that it worked
      </Text>
      <Text color="ink2" mb="3">
        {agreed ? `Agreed: ${agreed.title}. ` : "No repair is recorded as agreed yet. "}The test that failed is repeated under the same
        conditions.
      </Text>
      {shown.proof.map((p) => (
        <ProofRow key={`${p.item}:${p.note}`} item={p} />
      ))}
      {shown.closed ? (
        <Flex mt="5" gap="4" align="center" borderTopWidth="2px" borderColor="line" pt="3" wrap="wrap">
          <Text flex="1">
            <b>Closed: {shown.outcome.replace("-", " ")}.</b> {shown.suspects.find((s) => s.id === shown.root)?.title ?? shown.root}
          </Text>
          <Button onClick={() => actions.reopen.mutate(undefined as never)}>Reopen</Button>
        </Flex>
      ) : (
        <Closing />
      )}
    </Box>
  );
}
