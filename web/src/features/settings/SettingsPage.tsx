import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { setTheme, themeChoice, type ThemeChoice } from "../../app/colorMode";
import { answer, api, ProblemError, type Schemas, type Settings } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { Labelled, SelectField, TextField } from "../../shared/fields";
import { Loading, Problem } from "../../shared/states";
import { setWorker, worker } from "../../shared/worker";
import { Gauges } from "./Gauges";

const units: [keyof Settings & ("pressure" | "length" | "torque" | "volume" | "temperature" | "distance"), string, string[]][] = [
  ["pressure", "Pressure", ["psi", "bar", "kPa"]],
  ["length", "Length", ["mm", "in", "thou"]],
  ["torque", "Torque", ["N·m", "lbf·ft"]],
  ["volume", "Volume", ["L", "qt", "pt"]],
  ["temperature", "Temperature", ["°C", "°F"]],
  ["distance", "Distance", ["km", "mi"]],
];

type NumberName = "labourRate" | "fluidLitre" | "goodwill" | "tax" | "consumables";

/** Each with how it is labelled, and what it is typed in: money, or a share in per cent. */
const numbers: [NumberName, string, "money" | "share"][] = [
  ["labourRate", "Labour rate, per hour", "money"],
  ["fluidLitre", "Fluid, per litre", "money"],
  ["goodwill", "Goodwill for a return, beyond the work", "money"],
  ["tax", "Tax on top of an estimate", "share"],
  ["consumables", "Small parts, cleaning, disposal", "share"],
];
const typed = (kind: "money" | "share", v: number) => String(kind === "share" ? Number((100 * v).toFixed(4)) : v);
const read = (kind: "money" | "share", text: string) => Number(text.replace(",", ".")) / (kind === "share" ? 100 : 1);

function Device({ people }: { people: Schemas["Person"][] }) {
  const [theme, show] = useState<ThemeChoice>(themeChoice());
  const [who, setWho] = useState(worker());
  return (
    <Box as="section" mb="7">
      <Text as="h2" fontSize="17px" fontWeight="700" mb="2">
        This device
      </Text>
      <Flex gap="8" wrap="wrap" align="end">
        <Box>
          <Text fontSize="14px" fontWeight="600" mb="1.5">
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
            onChange={(t) => {
              setTheme(t);
              show(t);
            }}
          />
        </Box>
        <Box minW="220px">
          <SelectField
            label="Who works at it"
            value={who}
            onChange={(e) => {
              setWorker(e.target.value);
              setWho(e.target.value);
            }}
            options={[["", "first of the shop"], ...people.map((p): [string, string] => [p.name, `${p.name}, ${p.role}`])]}
          />
        </Box>
      </Flex>
    </Box>
  );
}

/** What can be saved of the settings: everything but the people. */
function input({ people, ...rest }: Settings): Schemas["SettingsInput"] {
  return rest;
}

function Shop({ saved }: { saved: Settings }) {
  const client = useQueryClient();
  const [form, setForm] = useState<Schemas["SettingsInput"]>(() => input(saved));
  const [figures, setFigures] = useState<Record<string, string>>(() =>
    Object.fromEntries(numbers.map(([n, , kind]) => [n, typed(kind, saved[n])])),
  );
  const save = useMutation({
    mutationFn: (body: Schemas["SettingsInput"]) => answer(api.PUT("/settings", { body })),
    onSuccess: (now) => {
      client.setQueryData(settingsQuery.queryKey, now);
      void client.invalidateQueries();
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const bad = numbers
    .filter(([n]) => !Number.isFinite(Number((figures[n] ?? "").replace(",", "."))) || (figures[n] ?? "").trim() === "")
    .map(([n]) => n);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (bad.length === 0)
      save.mutate({
        ...form,
        rev: saved.rev,
        ...Object.fromEntries(numbers.map(([n, , kind]) => [n, read(kind, figures[n]!)])),
      } as Schemas["SettingsInput"]);
  };
  return (
    <form onSubmit={submit}>
      <Text as="h2" fontSize="17px" fontWeight="700" mb="2">
        The shop
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "2fr 1fr" }} gap="4" mb="4">
        <TextField
          label="Name on the record"
          maxLength={120}
          value={form.shop}
          onChange={(e) => setForm({ ...form, shop: e.target.value })}
        />
        <TextField
          label="Currency"
          required
          maxLength={4}
          value={form.currency}
          onChange={(e) => setForm({ ...form, currency: e.target.value })}
        />
      </Grid>
      <Grid templateColumns={{ base: "1fr", md: "repeat(3, 1fr)" }} gap="4" mb="6">
        {numbers.map(([n, label, kind]) => (
          <TextField
            key={n}
            label={`${label}, ${kind === "money" ? form.currency : "%"}`}
            inputMode="decimal"
            value={figures[n]}
            onChange={(e) => setFigures({ ...figures, [n]: e.target.value })}
            error={
              bad.includes(n)
                ? "not a number; accepted: a number such as 84 or 84.50"
                : problem?.field === n
                  ? `${problem.detail}; accepted: ${problem.accepted}`
                  : undefined
            }
          />
        ))}
      </Grid>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4" mb="3">
        <Labelled label="Address on the record">
          <Textarea rows={3} maxLength={2000} value={form.address} onChange={(e) => setForm({ ...form, address: e.target.value })} />
        </Labelled>
        <Labelled label="Warranty, as it stands on the record">
          <Textarea rows={3} maxLength={2000} value={form.warranty} onChange={(e) => setForm({ ...form, warranty: e.target.value })} />
        </Labelled>
      </Grid>
      <label style={{ display: "flex", gap: 10, alignItems: "center", minHeight: 44, cursor: "pointer", marginBottom: 20 }}>
        <input
          type="checkbox"
          checked={form.guide ?? true}
          onChange={(e) => setForm({ ...form, guide: e.target.checked })}
          style={{ width: 20, height: 20 }}
        />
        <span>
          Guide prices of the app count where the <Link to="/prices">price book</Link> has none; otherwise such an option is not priced.
        </span>
      </label>
      <Text as="h2" fontSize="17px" fontWeight="700" mb="2">
        Units of measure
      </Text>
      <Text color="ink2" mb="2">
        Any unit may still be typed behind a number.
      </Text>
      <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(3, 1fr)" }} gap="4" mb="5">
        {units.map(([k, label, options]) => (
          <SelectField
            key={k}
            label={label}
            value={form[k]}
            onChange={(e) => setForm({ ...form, [k]: e.target.value })}
            options={options.map((o) => [o, o])}
          />
        ))}
      </Grid>
      {save.isError && !problem?.field && <Problem error={save.error} />}
      <Flex align="center" gap="4">
        <Button type="submit" variant="solid" loading={save.isPending}>
          Save
        </Button>
        {save.isSuccess && (
          <Text role="status" color="good">
            ✓ saved
          </Text>
        )}
      </Flex>
    </form>
  );
}

export function SettingsPage() {
  const { data, error, refetch } = useQuery(settingsQuery);
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="980px" w="full">
      <Flex justify="space-between" align="baseline" wrap="wrap" gap="3" mb="4">
        <Text as="h1" fontSize="24px" fontWeight="700">
          Settings
        </Text>
        <Flex gap="3">
          <Button asChild>
            <Link to="/prices">Price book</Link>
          </Button>
          <Button asChild>
            <Link to="/verify">Verify a record</Link>
          </Button>
        </Flex>
      </Flex>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the settings" />}
      {data && (
        <>
          <Device people={data.people} />
          <Shop key={data.rev} saved={data} />
          <Gauges />
        </>
      )}
    </Box>
  );
}
