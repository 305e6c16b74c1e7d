import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answer, api, isAway, ProblemError, type Schemas } from "../../api/client";
import { answered, keyOf } from "../../api/keys";
import { readWordsQuery, settingsQuery, unitsQuery, vehiclesQuery, visitsQuery } from "../../api/queries";
import { Labelled, SelectField, TextField } from "../../shared/fields";
import { day } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { meaning } from "../../shared/said";
import { Problem } from "../../shared/states";
import { Switch } from "../../shared/Switch";
import { Suggest } from "../../shared/Suggest";
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

/** What the words say as they are typed: seen here, taken in the case. */
function Understood({ unit, words }: { unit: string; words: string }) {
  const text = useSettled(words.trim());
  const { data } = useQuery({ ...readWordsQuery(unit, text), enabled: text !== "" });
  if (text === "" || !data || data.phrases.length === 0) return null;
  return (
    <Box>
      <Text color="ink2" textStyle="small" mb="1">
        Understood so far. Take or strike it once the case is open.
      </Text>
      <Flex as="ul" aria-label="Understood so far" aria-live="polite" wrap="wrap" gap="2" listStyleType="none">
        {data.phrases.map((p) => (
          <Box
            as="li"
            key={p.ref}
            px="3"
            py="1.5"
            bg="panel"
            borderBottomWidth="3px"
            borderColor={p.offers.length > 0 ? "brass" : "slate"}
            borderBottomStyle={p.offers.length > 0 ? "dashed" : "dotted"}
          >
            {meaning(p)}
          </Box>
        ))}
      </Flex>
    </Box>
  );
}

/** A vehicle with its customer, as it is offered. */
const nameOf = (v: Schemas["KnownVehicle"]) => (v.customer ? `${v.vehicle}, ${v.customer}` : v.vehicle);

const place = "take in";
const noComplaint = "No complaint, looked after in time";
const empty: Schemas["Intake"] = {
  words: "",
  vehicle: "",
  customer: "",
  distance: "",
  unit: "",
  bay: "",
  owner: "",
  preventive: false,
  nearest: false,
};

/** What was typed before a unit was built for it, in this tab alone. */
const keptAt = "inner-compass.take-in";
function kept(): Schemas["Intake"] {
  const text = sessionStorage.getItem(keptAt);
  return text ? { ...empty, ...(JSON.parse(text) as Schemas["Intake"]) } : empty;
}

export function TakeInPage() {
  const navigate = useNavigate();
  const units = useQuery(unitsQuery);
  const settings = useQuery(settingsQuery);
  const vehicles = useQuery(vehiclesQuery);
  const [params] = useSearchParams();
  const [form, put] = useForm(() => (params.has("kept") ? kept() : empty));
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
  const [noUnit, setNoUnit] = useState(false);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (!form.unit) return setNoUnit(true);
    const words = form.words.trim() === "" && form.preventive ? noComplaint : form.words;
    save.mutate({ ...form, words });
  };
  const before = vehicles.data?.find((v) => v.vehicle === form.vehicle && v.customer === form.customer);
  // A vehicle that was here before brings its unit and its owner; the distance is asked anew.
  const chooseVehicle = (value: string) => {
    const known = vehicles.data?.find((v) => nameOf(v) === value);
    put(known ? { vehicle: known.vehicle, customer: known.customer, unit: known.unit } : { vehicle: value });
  };
  // Come from a search for a vehicle: it is filled in once, as if it had been chosen here.
  const [wanted, setWanted] = useState(params.get("vehicle") ?? "");
  if (wanted && vehicles.data) {
    const known = vehicles.data.find((v) => v.vehicle === wanted);
    setWanted("");
    chooseVehicle(known ? nameOf(known) : wanted);
  }
  // Come from a unit that was built for this vehicle: it is chosen, once.
  const [built, setBuilt] = useState(params.get("unit") ?? "");
  if (built && units.data) {
    setBuilt("");
    if (units.data.some((u) => u.id === built)) put({ unit: built, nearest: false });
  }
  const unitWrong = wrong("unit") ?? (noUnit && !form.unit ? "Choose a unit. Not on file? Take the nearest by kind." : undefined);
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Take in a vehicle" />
      <Text as="h1" textStyle="title" fontWeight="700" mb="3">
        Take in a vehicle
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
              maxLength={1200}
              textStyle={{ base: "heading", md: "title" }}
              lineHeight="1.35"
              placeholder={form.preventive ? noComplaint : "It slips when it gets warm, mostly going uphill."}
              value={form.words}
              onChange={set("words")}
            />
          </Labelled>
          <Understood unit={form.unit ?? ""} words={form.words} />
          <Grid templateColumns={{ base: "1fr", md: "1.3fr 1.3fr 1fr" }} gap="4" alignItems="start">
            <Suggest
              label="Vehicle"
              free
              required
              placeholder="Mail van 4"
              all={(vehicles.data ?? []).map((v) => ({ value: nameOf(v), label: nameOf(v), about: `${v.unitName}, here ${day(v.at)}` }))}
              value={form.vehicle}
              choose={chooseVehicle}
              error={wrong("vehicle")}
            />
            <Box>
              <Suggest
                label="Unit"
                required
                placeholder="name or kind: four-speed, transaxle"
                all={(units.data ?? []).map((u) => ({ value: u.id, label: u.name, about: u.summary }))}
                value={form.unit ?? ""}
                choose={(unit) => put({ unit })}
                error={unitWrong}
              />
              <Link
                to="/units/build?for=take-in"
                onClick={() => sessionStorage.setItem(keptAt, JSON.stringify(form))}
                style={{ minHeight: 44, display: "inline-flex", alignItems: "center", textDecoration: "underline" }}
              >
                Not on file? Build it, what you typed is kept
              </Link>
              {form.unit && (
                <Switch on={form.nearest ?? false} set={(nearest) => put({ nearest })}>
                  not this unit: the nearest on file
                </Switch>
              )}
            </Box>
            <NumberField
              label="Distance or hours"
              kind="distance"
              help={before?.distance ? `last time ${before.distance}` : "such as 142310 km, 88000 mi or 6120 h"}
              maxLength={40}
              value={form.distance}
              onChange={set("distance")}
              error={wrong("distance")}
            />
          </Grid>
          <Before visits={visits.data ?? []} earlier={earlier} choose={setEarlier} />
          {save.error && !wrong("words") && !wrong("vehicle") && !wrong("distance") && !wrong("unit") && <Problem error={save.error} />}
          <Flex gap="3" wrap="wrap" align="center">
            <Button type="submit" variant="solid" loading={save.isPending}>
              Open the case <kbd>↵</kbd>
            </Button>
            <Button asChild variant="ghost">
              <Link to="/">Back to the Floor</Link>
            </Button>
            <Box ml="auto">
              <Switch on={form.preventive ?? false} set={(preventive) => put({ preventive })}>
                No complaint: service is due, or it is out for other work
              </Switch>
            </Box>
          </Flex>
          <details>
            <summary style={{ minHeight: 44, display: "flex", alignItems: "center", cursor: "pointer", fontWeight: 600 }}>
              Customer, bay, who works on it
            </summary>
            <Grid templateColumns={{ base: "1fr", md: "1fr 1fr 1fr" }} gap="4" pt="2">
              <TextField label="Customer" maxLength={120} value={form.customer} onChange={set("customer")} />
              <TextField label="Bay" maxLength={120} value={form.bay} onChange={set("bay")} />
              <SelectField
                label="Who works on it"
                value={form.owner}
                onChange={set("owner")}
                options={[["", "not decided"], ...(settings.data?.people ?? []).map((p): [string, string] => [p.name, p.name])]}
              />
            </Grid>
          </details>
        </Grid>
      </form>
    </Box>
  );
}
