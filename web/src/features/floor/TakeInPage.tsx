import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api, isAway, ProblemError, type Schemas } from "../../api/client";
import { answered, keyOf } from "../../api/keys";
import { settingsQuery, unitsQuery, visitsQuery } from "../../api/queries";
import { Labelled, SelectField, TextField } from "../../shared/fields";
import { day } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { Problem } from "../../shared/states";
import { useForm } from "../../shared/useForm";
import { useSettled } from "../../shared/useSettled";
import { Title } from "../../shared/Title";

/** Visits of the same vehicle before this one: a return is linked to the one that it is a return of. */
function Before({ visits, earlier, choose }: { visits: Schemas["Visit"][]; earlier: string; choose: (id: string) => void }) {
  if (visits.length === 0) return null;
  return (
    <Box role="radiogroup" aria-label="Been here before">
      <Text fontWeight="600" textStyle="label">
        Been here before
      </Text>
      {[{ id: "", words: "", declined: [] as string[], root: "", outcome: "", at: "" }, ...visits].map((v) => (
        <label key={v.id} style={{ display: "flex", gap: 10, alignItems: "center", minHeight: 44, cursor: "pointer" }}>
          <input
            type="radio"
            name="earlier"
            checked={earlier === v.id}
            onChange={() => choose(v.id)}
            style={{ width: 20, height: 20, flex: "none" }}
          />
          {v.id === "" ? (
            "no return of any of them"
          ) : (
            <span>
              a return of: <b>“{v.words}”</b> {day(v.at)}
              {v.root && ` · ${v.root}`}
              {v.outcome && ` · ${v.outcome.replace("-", " ")}`}
              {v.declined.length > 0 && ` · declined then: ${v.declined.join(", ")}`}
            </span>
          )}
        </label>
      ))}
    </Box>
  );
}

const place = "take in";
const noComplaint = "No complaint, looked after in time";
const empty: Schemas["Intake"] = { words: "", vehicle: "", customer: "", distance: "", unit: "", bay: "", owner: "", preventive: false };

export function TakeInPage() {
  const navigate = useNavigate();
  const units = useQuery(unitsQuery);
  const settings = useQuery(settingsQuery);
  const [form, put] = useForm(empty);
  const visits = useQuery(visitsQuery(useSettled(form.vehicle), useSettled(form.customer ?? "")));
  const [earlier, setEarlier] = useState("");
  const save = useMutation({
    mutationFn: async (body: Schemas["Intake"]) => {
      const key = keyOf(place, body);
      const made = await answer(api.POST("/cases", { params: { header: { "Idempotency-Key": key } }, body }));
      const known = visits.data?.some((v) => v.id === earlier);
      const params = { path: { id: made.id }, header: { "Idempotency-Key": `${key}.earlier` } };
      if (known) await answer(api.PUT("/cases/{id}/earlier", { params, body: { id: earlier } }));
      return made.id;
    },
    onError: (e, body) => {
      if (!isAway(e)) answered(place, keyOf(place, body));
    },
    onSuccess: (id, body) => {
      answered(place, keyOf(place, body));
      void navigate(`/cases/${id}/complaint`);
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const wrong = (field: string) => (problem?.field === field ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined);
  const set = (field: keyof Schemas["Intake"]) => (e: { target: { value: string } }) => put({ [field]: e.target.value });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const words = form.words.trim() === "" && form.preventive ? noComplaint : form.words;
    save.mutate({ ...form, words, unit: form.unit || units.data?.[0]?.id || "" });
  };
  return (
    <Box as="main" px="5" py="5" maxW="760px" w="full">
      <Title of="Take in a vehicle" />
      <Text as="h1" textStyle="title" fontWeight="700" mb="1">
        Take in a vehicle
      </Text>
      <Text color="ink2" mb="5">
        The complaint in the customer’s own words. What you find yourself comes after, and is kept apart.
      </Text>
      <form onSubmit={submit}>
        <Grid gap="4">
          <Labelled
            label={form.preventive ? "What is it here for?" : "What does the customer say?"}
            error={wrong("words")}
            required={!form.preventive}
          >
            <Textarea
              autoFocus
              rows={3}
              maxLength={400}
              placeholder={form.preventive ? noComplaint : undefined}
              value={form.words}
              onChange={set("words")}
            />
          </Labelled>
          <label style={{ display: "flex", gap: 10, alignItems: "center", minHeight: 44, cursor: "pointer" }}>
            <input
              type="checkbox"
              checked={form.preventive}
              onChange={(e) => put({ preventive: e.target.checked })}
              style={{ width: 20, height: 20, flex: "none" }}
            />
            No complaint: service is due, or it is out for other work
          </label>
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4">
            <TextField label="Vehicle" required maxLength={120} value={form.vehicle} onChange={set("vehicle")} error={wrong("vehicle")} />
            <SelectField label="Unit" value={form.unit} onChange={set("unit")} options={(units.data ?? []).map((u) => [u.id, u.name])} />
            <NumberField
              label="Distance or hours"
              kind="distance"
              help="such as 142310 km, 88000 mi or 6120 h"
              maxLength={40}
              value={form.distance}
              onChange={set("distance")}
              error={wrong("distance")}
            />
            <TextField label="Customer" maxLength={120} value={form.customer} onChange={set("customer")} />
            <TextField label="Bay" maxLength={120} value={form.bay} onChange={set("bay")} />
            <SelectField
              label="Who works on it"
              value={form.owner}
              onChange={set("owner")}
              options={[["", "not decided"], ...(settings.data?.people ?? []).map((p): [string, string] => [p.name, p.name])]}
            />
          </Grid>
          <Before visits={visits.data ?? []} earlier={earlier} choose={setEarlier} />
          {save.error && !wrong("words") && !wrong("vehicle") && !wrong("distance") && <Problem error={save.error} />}
          <Flex gap="3">
            <Button type="submit" variant="solid" loading={save.isPending}>
              Open the case
            </Button>
            <Button asChild variant="ghost">
              <Link to="/">Back to the Floor</Link>
            </Button>
          </Flex>
        </Grid>
      </form>
    </Box>
  );
}
