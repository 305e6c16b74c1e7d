import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { setTheme, themeChoice, type ThemeChoice } from "../../app/colorMode";
import { answer, api, ProblemError, type Schemas, type Settings } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { restyled } from "../../shared/format";
import { Labelled, TextField } from "../../shared/fields";
import { NumberField } from "../../shared/NumberField";
import { Loading, Problem } from "../../shared/states";
import { setWorker, worker } from "../../shared/worker";
import { Gauges } from "./Gauges";
import { OwnWords } from "./OwnWords";
import { Workshop } from "./Workshop";
import { Section } from "../../shared/Section";
import { roleNames, useSession } from "../../shared/session";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { Switch } from "../../shared/Switch";
import { useForm } from "../../shared/useForm";
import { Title } from "../../shared/Title";
import { setSingleKeys, singleKeys } from "../../shared/useSingleKey";

const units: [keyof Settings & ("pressure" | "length" | "torque" | "volume" | "temperature" | "distance"), string, string[]][] = [
  ["pressure", "Pressure", ["psi", "bar", "kPa"]],
  ["length", "Length", ["mm", "in", "thou"]],
  ["torque", "Torque", ["N·m", "lbf·ft"]],
  ["volume", "Volume", ["L", "qt", "pt"]],
  ["temperature", "Temperature", ["°C", "°F"]],
  ["distance", "Distance", ["km", "mi"]],
];

type FigureName = "labourRate" | "fluidLitre" | "goodwill" | "tax" | "consumables";

/** Each with how it is labelled, and what it is typed in: money, or a share in per cent. */
const figures: [FigureName, string, "money" | "percent"][] = [
  ["labourRate", "Labor rate, per hour", "money"],
  ["fluidLitre", "Fluid, per liter", "money"],
  ["goodwill", "Goodwill for a return", "money"],
  ["tax", "Tax on top of an estimate", "percent"],
  ["consumables", "Small parts, cleaning, disposal", "percent"],
];

function Device({ people }: { people: Schemas["Person"][] }) {
  const { session } = useSession();
  const [theme, show] = useState<ThemeChoice>(themeChoice());
  const [who, setWho] = useState(worker());
  const [single, setSingle] = useState(singleKeys());
  const chooseTheme = (t: ThemeChoice) => {
    setTheme(t);
    show(t);
  };
  const chooseWho = (name: string) => {
    setWorker(name);
    setWho(name);
  };
  return (
    <Section id="device" title="This device" about="Kept on this tablet or computer alone.">
      <Flex gap="8" wrap="wrap" align="start">
        <Box>
          <Text textStyle="label" fontWeight="600" mb="1.5">
            Theme
          </Text>
          <Choice
            label="Theme"
            value={theme}
            options={[
              ["system", "as the device"],
              ["light", "light, desk"],
              ["dark", "dark, bay"],
            ]}
            onChange={chooseTheme}
          />
        </Box>
        <Box hidden={session?.needed}>
          <Text textStyle="label" fontWeight="600" mb="1.5">
            Who works at it
          </Text>
          <Choice
            label="Who works at it"
            value={who}
            options={[["", "first of the shop"], ...people.map((p): [string, string] => [p.name, `${p.name}, ${roleNames[p.role]}`])]}
            onChange={chooseWho}
          />
        </Box>
      </Flex>
      <Box mt="2">
        <Switch
          on={single}
          set={(on) => {
            setSingleKeys(on);
            setSingle(on);
          }}
        >
          Single keys act (n, h, z, 1 to 6)
        </Switch>
      </Box>
    </Section>
  );
}

/** What can be saved of the settings: not the people, nor what the app says of itself. */
function input({ people, styles, systems, customers, rev, ...rest }: Settings): Schemas["SettingsInput"] {
  return rest;
}

/** The form with its figures as the chosen style writes them. */
function rewritten(form: Schemas["SettingsInput"], numbers: string): Schemas["SettingsInput"] {
  const text = (n: FigureName) => restyled(form[n] ?? "", form.numbers, numbers);
  return { ...form, numbers, ...Object.fromEntries(figures.map(([n]) => [n, text(n)])) };
}

function Shop({ saved }: { saved: Settings }) {
  const client = useQueryClient();
  const [form, put, setForm] = useForm<Schemas["SettingsInput"]>(() => input(saved));
  const save = useMutation({
    mutationFn: (body: Schemas["SettingsInput"]) =>
      answer(api.PUT("/settings", { body, params: { header: { "If-Match": String(saved.rev) } } })),
    onSuccess: (now) => {
      client.setQueryData(settingsQuery.queryKey, now);
      void client.invalidateQueries();
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const wrong = (field: string) => (problem?.field === field ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(form);
  };
  return (
    <form onSubmit={submit}>
      <Section
        id="rates"
        title="The shop and its rates"
        about="Name, address and warranty are printed on records. Rates price every check and option."
      >
        <Grid templateColumns={{ base: "1fr", md: "2fr 1fr" }} gap="4" mb="4">
          <TextField label="Name on the record" maxLength={120} value={form.shop} onChange={(e) => put({ shop: e.target.value })} />
          <TextField label="Currency" required maxLength={4} value={form.currency} onChange={(e) => put({ currency: e.target.value })} />
        </Grid>
        <Grid templateColumns={{ base: "1fr", md: "repeat(3, 1fr)" }} gap="4" mb="4" alignItems="end">
          {figures.map(([n, label, kind]) => (
            <NumberField
              key={n}
              label={`${label}, ${kind === "money" ? form.currency : "%"}`}
              kind={kind}
              numbers={form.numbers}
              required
              value={form[n] ?? ""}
              onChange={(e) => put({ [n]: e.target.value })}
              error={wrong(n)}
            />
          ))}
        </Grid>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4" mb="3">
          <Labelled label="Address on the record">
            <Textarea rows={3} maxLength={2000} value={form.address} onChange={(e) => put({ address: e.target.value })} />
          </Labelled>
          <Labelled label="Warranty, as printed on records">
            <Textarea rows={3} maxLength={2000} value={form.warranty} onChange={(e) => put({ warranty: e.target.value })} />
          </Labelled>
        </Grid>
        <Switch on={form.guide ?? true} set={(guide) => put({ guide })}>
          The app’s guide prices count where the <Link to="/prices">price book</Link> has none
        </Switch>
      </Section>
      <Section id="measure" title="Units of measure" about="You can still type any unit after a number.">
        {units.map(([k, label, options]) => (
          <Flex key={k} align="center" gap="3" py="1" wrap="wrap">
            <Text w="110px" textStyle="label" fontWeight="600">
              {label}
            </Text>
            <Choice
              label={label}
              value={form[k] ?? ""}
              options={options.map((o): [string, string] => [o, o])}
              onChange={(v) => put({ [k]: v })}
            />
          </Flex>
        ))}
      </Section>
      <Section id="numbers" title="Numbers and days" about="When an offer ends, what is due, the dates on a record.">
        <Flex align="center" gap="3" mb="3" wrap="wrap">
          <Text w="110px" textStyle="label" fontWeight="600">
            Written
          </Text>
          <Choice
            label="Numbers are written"
            value={form.numbers ?? ""}
            options={saved.styles.map((s): [string, string] => [s, s])}
            onChange={(v) => setForm(rewritten(form, v))}
          />
        </Flex>
        <Box maxW="420px">
          <TextField
            label="Time zone of the shop"
            placeholder="such as America/Chicago"
            maxLength={64}
            value={form.zone}
            onChange={(e) => put({ zone: e.target.value })}
            error={wrong("zone")}
          />
        </Box>
      </Section>
      {save.isError && !problem?.field && <Problem error={save.error} />}
      <Flex align="center" gap="4" py="3" borderTopWidth="1px" borderColor="line" position="sticky" bottom="0" bg="page" zIndex="2">
        <Button type="submit" variant="solid" loading={save.isPending}>
          Save
        </Button>
        <Text role="status" color="good">
          {save.isSuccess && "✓ saved"}
        </Text>
      </Flex>
    </form>
  );
}

export function SettingsPage() {
  const { data, error, refetch } = useQuery(settingsQuery);
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Settings" />
      <ShopPlaces title="Settings" />
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the settings" />}
      {data && (
        <>
          <Device people={data.people} />
          <Shop key={data.rev} saved={data} />
          <Workshop />
          <Gauges />
          <OwnWords />
        </>
      )}
    </Box>
  );
}
