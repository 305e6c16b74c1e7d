import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { ProblemError, type Schemas } from "../../api/client";
import { Choice } from "../../shared/Choice";
import { SelectField, TextField } from "../../shared/fields";
import { percent } from "../../shared/format";
import { NumberField, Understood } from "../../shared/NumberField";
import { Problem } from "../../shared/states";
import { RootOpen } from "./RootOpen";
import { useCase, useCaseStatus } from "./useCase";
import { useForm } from "../../shared/useForm";

type Item = Schemas["Proof"];

function ProofRow({ item }: { item: Item }) {
  const { shown, actions } = useCase();
  const [note, setNote] = useState(item.note);
  const [problem, setProblem] = useState<unknown>();
  const save = (result: string, text = note) =>
    actions.proof.mutate(
      { item: item.item, result: result as "pass", note: text },
      { onError: setProblem, onSuccess: () => setProblem(undefined) },
    );
  const valued = item.kind === "value";
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
          <Text textStyle="small" color="ink2">
            {item.kind === "repeat" ? "before: " : ""}
            {item.failing}
          </Text>
        )}
        {valued && (
          <Text textStyle="small" color="ink2">
            window {item.window}
          </Text>
        )}
        <Input
          mt="1"
          maxW={valued ? "220px" : undefined}
          aria-label={`${valued ? "Value of" : "Note on"} ${item.title}`}
          placeholder={valued ? `value in ${item.unit}, or with its unit` : "value or note"}
          maxLength={400}
          value={note}
          disabled={shown.closed}
          onChange={(e) => setNote(e.target.value)}
          onBlur={() => note !== item.note && save(valued ? (note.trim() ? "pass" : "open") : item.result)}
        />
        {valued && <Understood kind={item.dimension} unit={item.unit} text={note} />}
        {problem ? <Problem error={problem} /> : null}
      </Box>
      {valued ? (
        <Text fontWeight="700" color={item.result === "fail" ? "fault" : item.result === "pass" ? "good" : "ink2"} minW="170px">
          {item.result === "pass" ? "✓ inside" : item.result === "fail" ? "✕ outside its window" : "not measured yet"}
        </Text>
      ) : (
        <Choice
          label={item.title}
          value={item.result}
          options={[
            ["pass", item.kind === "repeat" ? "✓ good now" : "✓ done"],
            ["fail", item.kind === "repeat" ? "✕ still there" : "✕ not good"],
            ["open", "open"],
          ]}
          onChange={(r) => !shown.closed && save(r)}
        />
      )}
    </Grid>
  );
}

const groups: [Item["kind"][], string][] = [
  [["tighten", "value"], "As it was put together"],
  [["set"], "Filled, set, taught"],
  [["repeat"], "What failed, done again"],
  [["tell"], "With the customer"],
];

function Closing() {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const agreed = shown.decisions.findLast((d) => d.choice === "accepted");
  const [root, setRoot] = useState(shown.suspects[0]?.id ?? "");
  const [outcome, setOutcome] = useState<Schemas["Closing"]["outcome"]>("cured");
  const [damages, setDamages] = useState<string[]>([]);
  const [learnt, setLearnt] = useState("");
  const [why, setWhy] = useState("");
  const open = shown.proof.filter((p) => p.result !== "pass").length;
  const cured = outcome === "cured";
  return (
    <Box as="section" aria-label="Close the case" mt="5" pt="3" borderTopWidth="2px" borderColor="line">
      <Text as="h3" fontWeight="700" mb="2">
        Close the case
      </Text>
      <Choice
        label="Outcome"
        value={outcome}
        options={[
          ["cured", "cured, proven"],
          ["not-cured", "not cured"],
          ["declined", "customer declined"],
          ["no-fault", "no fault found"],
        ]}
        onChange={setOutcome}
      />
      <Box mt="3" maxW="560px">
        <SelectField
          label="Confirmed root cause"
          value={root}
          onChange={(e) => setRoot(e.target.value)}
          options={[
            ...shown.suspects.map((s): [string, string] => [s.id, `${s.title} (${percent(s.probability)} %)`]),
            ["", "none confirmed"],
          ]}
        />
      </Box>
      {shown.suspicion.damages.length > 0 && (
        <Flex role="group" aria-label="Damage that was found" gap="3" wrap="wrap" align="center" mt="2">
          <Text fontWeight="600">Damage that was found:</Text>
          {shown.suspicion.damages.map((d) => (
            <label key={d.id} style={{ display: "flex", gap: 8, alignItems: "center", minHeight: 44, cursor: "pointer" }}>
              <input
                type="checkbox"
                style={{ width: 20, height: 20 }}
                checked={damages.includes(d.id)}
                onChange={() => setDamages((old) => (old.includes(d.id) ? old.filter((x) => x !== d.id) : [...old, d.id]))}
              />
              {d.title}
            </label>
          ))}
        </Flex>
      )}
      {status.close.error instanceof ProblemError && status.close.error.problem.field === "why" && (
        <Box mt="2" maxW="720px">
          <TextField label="Why it is closed as cured all the same" maxLength={1000} value={why} onChange={(e) => setWhy(e.target.value)} />
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", md: "1fr auto" }} gap="3" alignItems="end" mt="2">
        <TextField
          label="What was learned"
          maxLength={2000}
          placeholder="worth knowing the next time"
          value={learnt}
          onChange={(e) => setLearnt(e.target.value)}
        />
        <Button
          variant="solid"
          disabled={cured && open > 0}
          loading={status.close.isPending}
          onClick={() =>
            actions.close.mutate({
              root: root || undefined,
              outcome,
              damages,
              learnt,
              why: why || undefined,
              curedBy: cured ? agreed?.option : undefined,
            })
          }
        >
          Close the case
        </Button>
      </Grid>
      {cured && open > 0 && (
        <Text mt="2">
          <b>
            {open} of {shown.proof.length} items of the proof have not passed.
          </b>{" "}
          Cured is what was proven: show them as good, or close it as not cured.
        </Text>
      )}
      {status.close.isError && <Problem error={status.close.error} />}
    </Box>
  );
}

/** When it is to be looked at again: by day, by distance, into a calendar. */
function FollowUp() {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const [form, put] = useForm({ day: shown.dueAt, distance: shown.dueDistance, note: shown.dueNote });
  return (
    <Box as="section" aria-label="Recheck" mt="5" pt="3" borderTopWidth="1px" borderColor="line">
      <Text as="h3" fontWeight="700" mb="2">
        Look at it again
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "170px 170px 1fr auto auto" }} gap="3" alignItems="start">
        <TextField label="On" type="date" value={form.day} onChange={(e) => put({ day: e.target.value })} />
        <NumberField
          label="or at"
          kind="distance"
          placeholder="such as 144000 km"
          maxLength={40}
          value={form.distance}
          onChange={(e) => put({ distance: e.target.value })}
        />
        <TextField label="for" maxLength={400} value={form.note} onChange={(e) => put({ note: e.target.value })} />
        <Button mt={{ md: "6.5" }} loading={status.followUp.isPending} onClick={() => actions.followUp.mutate(form)}>
          Note it
        </Button>
        {shown.dueAt && (
          <Button asChild mt={{ md: "6.5" }}>
            <a href={`/api/cases/${shown.id}/calendar`} download>
              For the calendar
            </a>
          </Button>
        )}
      </Grid>
      {status.followUp.isError && <Problem error={status.followUp.error} />}
      {(shown.dueAt || shown.dueDistance) && (
        <Text mt="1" color="ink2">
          Noted: {[shown.dueAt, shown.dueDistance, shown.dueNote].filter(Boolean).join(", ")}.
        </Text>
      )}
    </Box>
  );
}

export function ProofStage() {
  const { shown, actions } = useCase();
  const agreed = shown.decisions.findLast((d) => d.choice === "accepted");
  const waiting = shown.decisions.find((d) => d.waiting);
  return (
    <Box>
      {waiting && (
        <Box role="note" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="4" py="2" mb="3">
          The decision that {waiting.by} noted waits for a countersign. The case cannot be closed before that.
        </Box>
      )}
      <Text as="h2" textStyle="heading" fontWeight="700">
        Proof that it worked
      </Text>
      <Text color="ink2" mb="3">
        {agreed ? `Agreed: ${agreed.title}. ` : "No repair is recorded as agreed yet. "}The test that failed is repeated under the same
        conditions.
      </Text>
      <RootOpen />
      {groups.map(([kinds, title]) => {
        const items = shown.proof.filter((p) => kinds.includes(p.kind));
        return (
          items.length > 0 && (
            <Box as="section" aria-label={title} key={title} mt="3">
              <Text as="h3" fontWeight="700" textStyle="body" color="ink2">
                {title} · {items.filter((p) => p.result === "pass").length} of {items.length}
              </Text>
              {items.map((p) => (
                <ProofRow key={`${p.item}:${p.note}`} item={p} />
              ))}
            </Box>
          )
        );
      })}
      {shown.closed ? (
        <Flex mt="5" gap="4" align="center" borderTopWidth="2px" borderColor="line" pt="3" wrap="wrap">
          <Text flex="1">
            <b>Closed: {shown.outcome.replace("-", " ")}.</b> {shown.suspects.find((s) => s.id === shown.root)?.title ?? shown.root}
            {shown.learnt && ` Learned: ${shown.learnt}`}
          </Text>
          <Button onClick={() => actions.reopen.mutate(undefined)}>Reopen</Button>
        </Flex>
      ) : (
        <Closing />
      )}
      <FollowUp key={`${shown.dueAt} ${shown.dueDistance} ${shown.dueNote}`} />
    </Box>
  );
}
