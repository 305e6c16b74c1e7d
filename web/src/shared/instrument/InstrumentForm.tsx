import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import { Link } from "react-router";
import { ProblemError, type Schemas } from "../../api/client";
import { Choice } from "../Choice";
import { Select } from "../fields";
import { Problem } from "../states";
import { Columns } from "./Columns";
import { DebrisSwatch } from "./DebrisSwatch";
import { Figure } from "./Figures";
import { Grades } from "./Grades";
import { LeakMap } from "./LeakMap";
import { ListenMap } from "./ListenMap";
import { Result } from "./Result";
import { Steps } from "./Steps";
import { entryOf, textOf, type Entry, type Input } from "./typed";

type Instrument = Schemas["Instrument"];
type ResultData = Schemas["Result"];

export interface Measured {
  values: Record<string, string>;
  gauge?: string;
  again: boolean;
}

const TextEntry = chakra("input", {
  base: {
    fontFamily: "body",
    w: "full",
    minW: "0",
    h: "44px",
    px: "10px",
    fontSize: "16px",
    fontWeight: "600",
    bg: "panel",
    borderWidth: "1px",
    borderColor: "slate",
    borderRadius: "4px",
    _placeholder: { color: "ink2", fontWeight: "400" },
    "&[aria-invalid=true]": { borderColor: "fault", boxShadow: "inset 0 0 0 1px {colors.fault}" },
  },
});

/** One input; what the server understood of it stands at its right, over the field. */
function Field({ input, entry, read, set, wrong }: { input: Input; entry: Entry; read?: string; set: (e: Entry) => void; wrong: boolean }) {
  const id = `in-${input.id}`;
  if (input.shown === "grades") return <Grades input={input} value={entry.text} set={(text) => set({ ...entry, text })} />;
  return (
    <Box py="1.5">
      <Flex justify="space-between" gap="2" align="baseline">
        <chakra.label htmlFor={id} textStyle="label" fontWeight="600">
          {input.label}
        </chakra.label>
        {(read || input.optional) && (
          <Text textStyle="fine" color="ink2" textAlign="right">
            {read ? `= ${read}` : "if known"}
          </Text>
        )}
      </Flex>
      {input.kind === "choice" ? (
        <Flex gap="2" align="center">
          {input.shown === "debris" && <DebrisSwatch kind={input.of} />}
          <Select id={id} value={entry.text} onChange={(e) => set({ ...entry, text: e.target.value })}>
            {input.options.map((o) => (
              <option key={o.id} value={o.id}>
                {o.title}
              </option>
            ))}
          </Select>
        </Flex>
      ) : (
        <Flex gap="1">
          <TextEntry
            id={id}
            inputMode={input.kind === "count" ? "numeric" : "text"}
            autoComplete="off"
            value={entry.text}
            placeholder={input.example && `such as ${input.example}`}
            aria-invalid={wrong}
            aria-describedby={input.help ? `${id}-help` : undefined}
            onChange={(e) => set({ ...entry, text: e.target.value })}
          />
          {input.dimension === "ratio" && input.unit !== "" && (
            <Text alignSelf="center" w="28px" textAlign="center">
              {input.unit}
            </Text>
          )}
          {input.kind !== "count" && input.dimension !== "ratio" && (
            <Select
              w={input.units.some((u) => u.length > 7) ? "148px" : "104px"}
              flexShrink={0}
              aria-label={`Unit of ${input.label}`}
              value={entry.unit}
              onChange={(e) => set({ ...entry, unit: e.target.value })}
            >
              {input.units.map((u) => (
                <option key={u} value={u}>
                  {u}
                </option>
              ))}
            </Select>
          )}
        </Flex>
      )}
      {input.from && (
        <Text textStyle="fine" color="ink2" fontStyle="italic">
          ← {input.from}
        </Text>
      )}
      {input.help && (
        <Text id={`${id}-help`} textStyle="fine" color="ink2" mt="0.5">
          {input.help}
        </Text>
      )}
    </Box>
  );
}

/** The gauge that what is read was read with; one whose calibration has ended says so. */
function GaugeChoice({ instrument, value, set }: { instrument: Instrument; value: string; set: (id: string) => void }) {
  const chosen = instrument.gauges.find((g) => g.id === value);
  if (!instrument.gauge && instrument.gauges.length === 0) return null;
  return (
    <Box py="1.5">
      {instrument.gauges.length > 0 ? (
        <chakra.label display="block" textStyle="label">
          <Box as="span" fontWeight="600">
            Read with
          </Box>
          <Select value={value} onChange={(e) => set(e.target.value)}>
            <option value="">{instrument.gauge ? `usual: ${instrument.gauge}` : "the usual gauge"}</option>
            {instrument.gauges.map((g) => (
              <option key={g.id} value={g.id}>
                {g.name}
                {g.overdue ? `, calibration ended ${g.until}` : ""}
              </option>
            ))}
          </Select>
        </chakra.label>
      ) : (
        <Text textStyle="small" color="ink2">
          Usual gauge: {instrument.gauge}. The shop’s own are listed in Settings.
        </Text>
      )}
      {chosen?.overdue && (
        <Text color="fault" textStyle="note" role="alert">
          <b>Calibration ended on {chosen.until}.</b> What it reads may be off by more than its uncertainty.
        </Text>
      )}
    </Box>
  );
}

/** An instrument at work: inputs, what they come to as they are typed, and the way into the case. */
export function InstrumentForm({
  instrument,
  compute,
  computeKey,
  put,
  putting,
  putProblem,
  mayRepeat = false,
  startAgain = false,
  narrow = false,
  closed = false,
  given,
  onward,
  children,
}: {
  instrument: Instrument;
  compute: (m: Measured, signal: AbortSignal) => Promise<ResultData>;
  computeKey: unknown[];
  put?: (m: Measured) => void;
  putting?: boolean;
  putProblem?: unknown;
  mayRepeat?: boolean;
  startAgain?: boolean;
  narrow?: boolean;
  closed?: boolean;
  /** Values that it begins with, carried over from another instrument. */
  given?: Record<string, string>;
  /** The address of an instrument that goes on with the result. */
  onward: (next: Schemas["Follow"]) => string;
  children?: ReactNode;
}) {
  const [asked, setAsked] = useState(startAgain);
  const again = asked && mayRepeat;
  const standing = (blank: boolean) =>
    Object.fromEntries(
      instrument.inputs.map((i) => [
        i.id,
        blank && i.gauged ? { text: "", unit: i.unit } : entryOf({ ...i, typed: given?.[i.id] ?? i.typed }),
      ]),
    );
  const [entries, setEntries] = useState<Record<string, Entry>>(() => standing(again));
  const [gauge, setGauge] = useState("");
  const values = Object.fromEntries(instrument.inputs.map((i) => [i.id, textOf(i, entries[i.id] ?? entryOf(i))]));
  const missing = instrument.inputs.filter((i) => !i.optional && values[i.id] === "");
  const typed = instrument.inputs.some((i) => values[i.id] !== "");
  const measured: Measured = { values, gauge: gauge || undefined, again };
  const result = useQuery({
    queryKey: [...computeKey, values, gauge],
    queryFn: ({ signal }) => compute(measured, signal),
    enabled: typed && missing.length === 0,
    placeholderData: (old) => old,
    retry: false,
  });
  const problem = result.error instanceof ProblemError ? result.error.problem : undefined;
  const data = typed && missing.length === 0 && !problem ? result.data : undefined;
  // Until the answer to what stands there now has come, nothing is said of it: the last answer would be of other figures.
  const read = result.isPlaceholderData ? {} : (data?.read ?? {});
  const set = (id: string, e: Entry) => setEntries((all) => ({ ...all, [id]: e }));
  const choose = (now: boolean) => {
    setAsked(now);
    setEntries(standing(now));
  };
  const showExample = () =>
    setEntries(
      Object.fromEntries(
        instrument.inputs.map((i) => [
          i.id,
          values[i.id] === "" && !i.optional ? entryOf({ ...i, typed: i.example }) : (entries[i.id] ?? entryOf(i)),
        ]),
      ),
    );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (!put || !data) return;
    put(measured);
    setAsked(false);
  };
  const columns = instrument.inputs.length > 1 && instrument.inputs.every((i) => i.feeds.length > 0 || i.window);
  const zones = instrument.leaks ? instrument.inputs.filter((i) => i.shown === "zone") : [];
  const heard = instrument.inputs.filter((i) => i.shown === "listen");
  const plain = instrument.inputs.filter((i) => !zones.includes(i) && !heard.includes(i));
  const fields = columns ? (
    <Columns
      inputs={instrument.inputs}
      values={Object.fromEntries(Object.entries(entries).map(([id, e]) => [id, e.text]))}
      set={(id, text) => set(id, { text, unit: entries[id]?.unit ?? "" })}
      points={data?.points ?? []}
      read={read}
      wrong={problem?.field}
      others={instrument.inputs[0]?.units.slice(0, 4) ?? []}
    />
  ) : (
    <Grid templateColumns={narrow ? { base: "1fr", md: "1fr 1fr" } : "1fr"} columnGap="5" alignItems="end">
      {plain.map((i) => (
        <Field
          key={i.id}
          input={i}
          entry={entries[i.id] ?? entryOf(i)}
          read={read[i.id]}
          set={(e) => set(i.id, e)}
          wrong={problem?.field === `values.${i.id}`}
        />
      ))}
    </Grid>
  );
  const waiting =
    instrument.inputs.length === 0
      ? "Choose a unit: its ranges are what is measured."
      : missing.length > 0
        ? `Still needed: ${missing.map((i) => i.label.toLowerCase()).join("; ")}.`
        : "";
  return (
    <form onSubmit={submit} aria-label={instrument.title}>
      {!narrow && instrument.cautions.length > 0 && (
        <Box bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" my="2" role="note" aria-label="Caution">
          {instrument.cautions.map((c, i) => (
            <Text key={c}>
              <b>⚠</b> {c}
              {i === instrument.cautions.length - 1 && " The maker’s procedure goes first."}
            </Text>
          ))}
        </Box>
      )}
      {instrument.steps.length > 0 && <Steps title="How it is read on this unit" steps={instrument.steps} />}
      {mayRepeat && (
        <Flex my="2">
          <Choice
            label="This measurement"
            value={again ? "again" : "corrects"}
            options={[
              ["corrects", "corrects the last"],
              ["again", "is a second one: both count"],
            ]}
            onChange={(v) => choose(v === "again")}
          />
        </Flex>
      )}
      <Grid
        templateColumns={
          narrow || columns
            ? "1fr"
            : instrument.leaks || heard.length > 0
              ? { base: "1fr", lg: "minmax(0, 1fr) 330px" }
              : { base: "1fr", md: "minmax(250px, 300px) minmax(0, 1fr)", lg: "minmax(320px, 400px) minmax(0, 1fr)" }
        }
        gap={{ base: "4", md: "5", lg: "8" }}
      >
        <Box>
          {instrument.leaks ? (
            <LeakMap
              places={instrument.leaks}
              inputs={new Map(zones.map((i) => [i.of, i.id]))}
              values={values}
              set={(id, text) => set(id, { text, unit: "" })}
              ways={data?.figures.find((f) => f.kind === "ways")?.ways ?? []}
            />
          ) : heard.length > 0 ? (
            <ListenMap inputs={heard} values={values} set={(id, text) => set(id, { text, unit: "" })} />
          ) : (
            fields
          )}
          <GaugeChoice instrument={instrument} value={gauge} set={setGauge} />
        </Box>
        <Box>
          <Box aria-live="polite">
            {problem ? (
              <Text color="fault">
                <b>{problem.detail}.</b> Accepted: {problem.accepted}
              </Text>
            ) : data ? (
              <Result result={data} />
            ) : (
              <>
                <Text color="ink2">{waiting || instrument.answers}</Text>
                {!put && missing.length > 0 && missing.every((i) => i.example) && (
                  <Button mt="2" onClick={showExample}>
                    Show an example
                  </Button>
                )}
              </>
            )}
          </Box>
          {put && (
            <Flex mt="3" gap="3" align="center" wrap="wrap">
              <Button type="submit" variant="solid" disabled={!data || closed} loading={putting}>
                Put into case <kbd>↵</kbd>
              </Button>
              <Text textStyle="small" color="ink2">
                {data && data.stated.length === 0
                  ? "Kept with the case; it changes no suspect."
                  : data?.stated.map((s) => s.title).join("; ")}
              </Text>
            </Flex>
          )}
          {putProblem ? <Problem error={putProblem} /> : null}
          {data?.figures.map((f) => f.kind !== "ways" && <Figure key={f.title} figure={f} />)}
          {instrument.leaks && <Box mt="4">{fields}</Box>}
          {data && data.next.length > 0 && (
            <Flex as="nav" aria-label="Goes on with" mt="3" gap="2" align="center" wrap="wrap">
              <Text fontWeight="600">Go on with it:</Text>
              {data.next.map((n) => (
                <Button key={n.name} asChild>
                  <Link to={onward(n)}>{n.title}</Link>
                </Button>
              ))}
            </Flex>
          )}
          {children}
          <Text textStyle="fine" color="ink2" mt="4">
            Source: {instrument.source}. Limits: {instrument.limits}.
          </Text>
        </Box>
      </Grid>
    </form>
  );
}
