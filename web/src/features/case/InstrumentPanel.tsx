import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api, ProblemError, type Schemas } from "../../api/client";
import { Choice } from "../../shared/Choice";
import { Problem } from "../../shared/states";
import { lookedOnce } from "./FindingRow";
import { WindowFigure } from "./WindowFigure";
import { newKey } from "../../shared/key";
import { useCase, useCaseStatus } from "./useCase";

type Input = Schemas["InstrumentInput"];

const Entry = chakra("input", {
  base: {
    fontFamily: "body",
    w: "full",
    h: "48px",
    minW: "62px",
    textAlign: "center",
    fontSize: "18px",
    fontWeight: "700",
    bg: "panel",
    borderWidth: "1px",
    borderColor: "line",
    _focusVisible: { outline: "2px solid", outlineColor: "brass", position: "relative" },
  },
});

const range = (w: Schemas["Window"]) => `${Number(w.low.toPrecision(3))}–${Number(w.high.toPrecision(3))}`;

/** The result of what is typed so far; asked anew at every keystroke, the last one shown until the next is there. */
function useResult(check: string, values: Record<string, string>) {
  const { shown } = useCase();
  const typed = Object.fromEntries(Object.entries(values).filter(([, v]) => v.trim() !== ""));
  return useQuery({
    queryKey: ["measure", shown.id, check, typed],
    queryFn: () =>
      answer(api.POST("/cases/{id}/checks/{check}/measure", { params: { path: { id: shown.id, check } }, body: { values: typed } })),
    enabled: Object.keys(typed).length > 0,
    placeholderData: (old) => old,
    retry: false,
  });
}

function Columns({
  inputs,
  values,
  set,
  points,
  wrong,
}: {
  inputs: Input[];
  values: Record<string, string>;
  set: (id: string, v: string) => void;
  points: Schemas["Point"][];
  wrong?: string;
}) {
  return (
    <Box overflowX="auto" p="2px">
      <chakra.table w="full" borderCollapse="collapse" style={{ tableLayout: "fixed" }} minW={inputs.length > 3 ? "560px" : undefined}>
        <tbody>
          <tr>
            <chakra.td w="86px" />
            {inputs.map((i) => (
              <chakra.th key={i.id} scope="col" fontSize="13.5px" fontWeight="600" pb="1">
                {i.label}
              </chakra.th>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" fontSize="13px">
              {inputs[0]?.unit}
            </chakra.th>
            {inputs.map((i) => (
              <td key={i.id}>
                <WindowFigure input={i} point={points.find((p) => p.input === i.id)} all={inputs} />
              </td>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" fontSize="13.5px">
              measured
            </chakra.th>
            {inputs.map((i) => (
              <chakra.td key={i.id} p="0">
                <Entry
                  inputMode="decimal"
                  aria-label={`${i.label}, ${i.unit}`}
                  maxLength={80}
                  value={values[i.id] ?? ""}
                  aria-invalid={wrong === `values.${i.id}`}
                  borderColor={wrong === `values.${i.id}` ? "fault" : "line"}
                  onChange={(e) => set(i.id, e.target.value)}
                />
              </chakra.td>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" fontSize="13px">
              expected
            </chakra.th>
            {inputs.map((i) => (
              <chakra.td key={i.id} textAlign="center" fontSize="13px" color="ink2" pt="1">
                {i.window ? range(i.window) : ""}
              </chakra.td>
            ))}
          </tr>
          {inputs.some((i) => i.feeds.length > 0) && (
            <tr>
              <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" fontSize="13px">
                feeds
              </chakra.th>
              {inputs.map((i) => (
                <chakra.td key={i.id} textAlign="center" fontSize="12.5px" color="ink2">
                  {i.feeds.join(" ") || "–"}
                </chakra.td>
              ))}
            </tr>
          )}
        </tbody>
      </chakra.table>
    </Box>
  );
}

export function InstrumentPanel({
  check,
  instrument,
  startAgain,
}: {
  check: Schemas["Check"];
  instrument: Schemas["Instrument"];
  startAgain: boolean;
}) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const once = check.findings.some(lookedOnce) && !shown.closed;
  const [asked, setAsked] = useState(startAgain);
  const again = asked && once;
  const blank = () => Object.fromEntries(instrument.inputs.map((i) => [i.id, ""]));
  const last = () => Object.fromEntries(instrument.inputs.map((i) => [i.id, i.typed]));
  const [values, setValues] = useState<Record<string, string>>(() => (again ? blank() : last()));
  const choose = (now: boolean) => {
    setAsked(now);
    setValues(now ? blank() : last());
  };
  const result = useResult(check.id, values);
  const problem = result.error instanceof ProblemError ? result.error.problem : undefined;
  const put = (e: FormEvent) => {
    e.preventDefault();
    const typed = Object.fromEntries(Object.entries(values).filter(([, v]) => v.trim() !== ""));
    actions.put.mutate({ check: check.id, values: typed, key: newKey(), again });
    setAsked(false);
  };
  const ready = result.data && !problem && Object.values(values).some((v) => v.trim());
  return (
    <Box as="section" aria-label={instrument.title} mt="3">
      <form onSubmit={put}>
        <Flex justify="space-between" gap="3" wrap="wrap" mb="2">
          <Text as="h3" fontWeight="700">
            {instrument.title}
          </Text>
          <Text color="ink2" fontSize="13.5px">
            {instrument.gauge} · other units may be typed: {instrument.inputs[0]?.units.slice(0, 4).join(", ")}
          </Text>
        </Flex>
        {once && (
          <Flex mb="2">
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
        <Columns
          inputs={instrument.inputs}
          values={values}
          set={(id, v) => setValues({ ...values, [id]: v })}
          points={problem ? [] : (result.data?.points ?? [])}
          wrong={problem?.field}
        />
        <Flex mt="3" pt="3" borderTopWidth="1px" borderColor="line" justify="space-between" align="center" gap="4" wrap="wrap">
          <Box flex="1 1 280px" aria-live="polite">
            {problem ? (
              <Text color="fault">
                <b>{problem.detail}.</b> Accepted: {problem.accepted}
              </Text>
            ) : ready && result.data ? (
              <>
                <Text>
                  <b>{result.data.headline}</b> {result.data.detail}
                </Text>
                {result.data.outputs.map((o) => (
                  <Text key={o.label}>
                    {o.label}: <b>{o.text}</b>
                  </Text>
                ))}
              </>
            ) : (
              <Text color="ink2">{instrument.answers}</Text>
            )}
          </Box>
          <Button type="submit" variant="solid" disabled={!ready || shown.closed} loading={status.put.isPending}>
            Put into case <kbd>↵</kbd>
          </Button>
        </Flex>
        {status.put.isError && <Problem error={status.put.error} />}
        <Text fontSize="12.5px" color="ink2" mt="2">
          Source: {instrument.source}. Limits: {instrument.limits}.
        </Text>
      </form>
    </Box>
  );
}
