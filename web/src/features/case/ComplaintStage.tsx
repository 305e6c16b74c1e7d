import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { ProblemError } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { Labelled, SelectField, TextField } from "../../shared/fields";
import { NumberField } from "../../shared/NumberField";
import { quoted } from "../../shared/format";
import { InWords } from "./InWords";
import { InterviewPanel } from "./InterviewPanel";
import { Questions } from "./Questions";
import { SaidWords } from "./SaidWords";
import { useCase, useCaseStatus } from "./useCase";
import { useForm } from "../../shared/useForm";

/** What the form holds, and what it is called. */
const fields: ["words" | "vehicle" | "distance" | "customer" | "bay" | "owner" | "waitsFor", string][] = [
  ["words", "The customer’s words"],
  ["vehicle", "Vehicle"],
  ["distance", "Distance or hours"],
  ["customer", "Customer"],
  ["bay", "Bay"],
  ["owner", "Who works on it"],
  ["waitsFor", "Waits for"],
];

function Visit({ done }: { done: () => void }) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const settings = useQuery(settingsQuery);
  const [began] = useState(shown.rev);
  const [stale, setStale] = useState(false);
  const [form, put] = useForm({
    words: shown.words,
    vehicle: shown.vehicle,
    distance: shown.distance,
    customer: shown.customer,
    bay: shown.bay,
    owner: shown.owner,
    waitsFor: shown.waitsFor,
  });
  const set = (field: keyof typeof form) => (e: { target: { value: string } }) => put({ [field]: e.target.value });
  const problem = status.update.error instanceof ProblemError ? status.update.error.problem : undefined;
  const differs = fields.filter(([f]) => form[f] !== shown[f]);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    // Refused as old, the form shows what stands now; saved again, it is meant to take the place of that.
    actions.update.mutate(
      { ...form, began: stale ? shown.rev : began },
      { onSuccess: done, onError: (e) => setStale(e instanceof ProblemError && e.problem.status === 412) },
    );
  };
  return (
    <form onSubmit={submit}>
      <Grid gap="3" mb="4">
        <Labelled label="The customer’s words" required>
          <Textarea rows={2} maxLength={1200} value={form.words} onChange={set("words")} />
        </Labelled>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3">
          <TextField label="Vehicle" required maxLength={120} value={form.vehicle} onChange={set("vehicle")} />
          <NumberField
            label="Distance or hours"
            kind="distance"
            maxLength={40}
            value={form.distance}
            onChange={set("distance")}
            error={problem?.field === "distance" ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined}
          />
          <TextField label="Customer" maxLength={120} value={form.customer} onChange={set("customer")} />
          <TextField label="Bay" maxLength={120} value={form.bay} onChange={set("bay")} />
          <SelectField
            label="Who works on it"
            value={form.owner}
            onChange={set("owner")}
            options={[["", "not decided"], ...(settings.data?.people ?? []).map((p): [string, string] => [p.name, p.name])]}
          />
          <TextField
            label="Waits for"
            help="empty when nobody is waited for"
            maxLength={120}
            value={form.waitsFor}
            onChange={set("waitsFor")}
          />
        </Grid>
        {stale && (
          <Box role="alert" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="4" py="3">
            <Text fontWeight="700">Somebody else changed it meanwhile. Nothing of yours is saved yet.</Text>
            {differs.map(([f, label]) => (
              <Text key={f}>
                {label} now: {shown[f] ? quoted(shown[f]) : "empty"}
              </Text>
            ))}
            <Text color="ink2">Saved again, what stands in the form takes its place.</Text>
          </Box>
        )}
        <Flex gap="2">
          <Button type="submit" variant="solid" loading={status.update.isPending}>
            Save
          </Button>
          <Button variant="ghost" onClick={done}>
            Leave as it was
          </Button>
        </Flex>
      </Grid>
    </form>
  );
}

export function ComplaintStage() {
  const { shown, actions } = useCase();
  const navigate = useNavigate();
  const [editing, setEditing] = useState(false);
  const onward = () => {
    if (shown.stage === "complaint" && !shown.closed) actions.update.mutate({ stage: "road" });
    void navigate(`/cases/${shown.id}/road`);
  };
  return (
    <Box>
      {editing ? <Visit done={() => setEditing(false)} /> : <SaidWords edit={() => setEditing(true)} />}
      {!editing && <InterviewPanel />}
      <Questions />
      <InWords stage="complaint" source="customer" />
      <Flex mt="4" pt="4" borderTopWidth="1px" borderColor="line" justify="end">
        <Button onClick={onward}>To the road test</Button>
      </Flex>
    </Box>
  );
}
