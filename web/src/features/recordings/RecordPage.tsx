import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { openCasesQuery, settingsQuery, unitQuery, unitsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { SelectField, TextField } from "../../shared/fields";
import { number, quoted, short } from "../../shared/format";
import { Title } from "../../shared/Title";
import { Bringing, useBringing } from "./BringIn";
import { recordShaking, recordSound, trusted, type Captured, type Recorder, type Running } from "./capture";
import { length, loadNames, roadUnit } from "./words";

type Sensor = "sound" | "shaking";

/** A recording made with the device in hand: what it is of is said before, so that both hands are free while it runs. */
export function RecordPage() {
  const [params] = useSearchParams();
  const [sensor, setSensor] = useState<Sensor>("sound");
  const [of, setOf] = useState({ case: params.get("case") ?? "", unit: "", vehicle: "", range: "", road: "", load: "", place: "" });
  const set = (n: Partial<typeof of>) => setOf({ ...of, ...n });
  const { data: cases } = useQuery(openCasesQuery);
  const { data: units } = useQuery(unitsQuery);
  const { data: settings } = useQuery(settingsQuery);
  const chosen = cases?.items.find((c) => c.id === of.case);
  const unit = units?.find((u) => (chosen ? u.name === chosen.unitName : u.id === of.unit))?.id ?? "";
  const { data: sheet } = useQuery({ ...unitQuery(unit), enabled: unit !== "" });
  const { per, unit: speed } = roadUnit(settings?.distance ?? "km");
  const { bring, sending, wrong } = useBringing({});
  const keep = (c: Captured) => {
    const road = Number(of.road.replace(",", ".")) / per;
    const roles = sensor === "sound" ? "sound" : "shaking,shaking,shaking";
    void bring([
      {
        name: c.file,
        body: c.body,
        said: {
          title: [sensor === "sound" ? "Sound" : "Shaking", of.place, of.range && `in ${of.range}`].filter(Boolean).join(", "),
          case: of.case,
          unit: of.case ? undefined : of.unit,
          vehicle: of.case ? undefined : of.vehicle,
          made: c.made,
          roles,
          held: of.place ? (sensor === "sound" ? of.place : [of.place, of.place, of.place].join("|")) : undefined,
          range: of.range,
          load: of.load,
          road: road > 0 ? road : undefined,
        },
      },
    ]);
  };
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full" maxW="1100px">
      <Title of="Record here" />
      <Text as="h1" textStyle="title" fontWeight="700">
        Record here
      </Text>
      <Text color="ink2" mb="3">
        With the microphone or the motion sensor of this device. A passenger holds it; the driver drives.
      </Text>
      {!trusted() && <NotTrusted />}
      <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) minmax(0, 1fr)" }} gap="8">
        <Grid gap="3" alignContent="start">
          <Choice
            label="What is recorded"
            value={sensor}
            options={[
              ["sound", "Sound: hum, whine, boom"],
              ["shaking", "Shaking: below 30 a second"],
            ]}
            onChange={setSensor}
          />
          <SelectField
            label="Case"
            value={of.case}
            options={[["", "none"], ...(cases?.items ?? []).map((c): [string, string] => [c.id, `${c.vehicle} ${quoted(c.words)}`])]}
            onChange={(e) => set({ case: e.target.value })}
          />
          {!of.case && (
            <Grid templateColumns="1fr 1fr" gap="3">
              <TextField label="Vehicle" value={of.vehicle} maxLength={120} onChange={(e) => set({ vehicle: e.target.value })} />
              <SelectField
                label="Unit"
                value={of.unit}
                options={[["", "not said"], ...(units ?? []).filter((u) => !u.generic).map((u): [string, string] => [u.id, u.name])]}
                onChange={(e) => set({ unit: e.target.value, range: "" })}
              />
            </Grid>
          )}
          <Grid templateColumns="1fr 1fr" gap="3">
            <SelectField
              label="Range"
              value={of.range}
              options={[["", "not said"], ...(sheet?.ranges ?? []).map((x): [string, string] => [x.id, x.name])]}
              onChange={(e) => set({ range: e.target.value })}
            />
            <SelectField label="Load" value={of.load} options={loadNames} onChange={(e) => set({ load: e.target.value })} />
            <TextField
              label={`Speed held, ${speed}`}
              help="left empty when it changes"
              inputMode="decimal"
              value={of.road}
              onChange={(e) => set({ road: e.target.value })}
            />
            <TextField
              label="Where it is held"
              help="seat rail, dash, tail housing"
              value={of.place}
              maxLength={60}
              onChange={(e) => set({ place: e.target.value })}
            />
          </Grid>
        </Grid>
        <Box>
          <Meter key={sensor} sensor={sensor} keep={keep} busy={!!sending} />
          <Bringing sending={sending} wrong={wrong} />
        </Box>
      </Grid>
    </Box>
  );
}

function NotTrusted() {
  return (
    <Box role="alert" bg="brassSoft" borderLeftWidth="4px" borderColor="brass" px="4" py="3" my="3" maxW="760px">
      <Text fontWeight="700">This page may not use the microphone or the motion sensor</Text>
      <Text>
        A browser gives them to a page on its own machine, or over HTTPS. At the machine that runs Inner Compass open http://127.0.0.1:
        {location.port || 80}. Or record with the device's own app, and bring its file in.
      </Text>
    </Box>
  );
}

function Meter({ sensor, keep, busy }: { sensor: Sensor; keep: (c: Captured) => void; busy: boolean }) {
  const [running, setRunning] = useState<Running>();
  const [error, setError] = useState<string>();
  const recorder = useRef<Recorder | undefined>(undefined);
  useEffect(() => () => recorder.current?.drop(), []);
  const start = async () => {
    setError(undefined);
    try {
      recorder.current = await (sensor === "sound" ? recordSound : recordShaking)(setRunning);
      setRunning((r) => r ?? { seconds: 0, rate: 0, peak: 0, level: 0, clipped: false });
    } catch (e) {
      setError(e instanceof Error ? wordsOf(e) : "It could not be started.");
    }
  };
  const stop = async () => {
    try {
      const made = await recorder.current?.stop();
      if (made) keep(made);
    } catch (e) {
      setError(e instanceof Error ? e.message : "It could not be kept.");
    }
    recorder.current = undefined;
    setRunning(undefined);
  };
  // Sound by its logarithm, from 60 dB below full scale; shaking straight, up to 10 m/s².
  const share = (v: number) => (sensor === "sound" ? Math.max(0, 1 + Math.log10(Math.max(v, 1e-3)) / 3) : Math.min(1, v / 10));
  const word = !running
    ? ""
    : sensor === "sound"
      ? `${short(20 * Math.log10(Math.max(running.peak, 1e-4)), 0)} dB of full scale`
      : `${short(running.peak, 1)} m/s²`;
  return (
    <Box as="section" aria-label="Recorder" borderWidth="1px" borderColor="line" p="5">
      <Text textStyle="display" fontWeight="700" aria-live="off">
        {running ? length(running.seconds) : "Ready"}
      </Text>
      <Text color="ink2" minH="22px">
        {running ? `${running.rate ? number(running.rate) : "…"} samples a second` : "30 seconds and a change of speed tell most."}
      </Text>
      <Box
        my="4"
        h="22px"
        bg="line"
        position="relative"
        role="meter"
        aria-label="Level"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * share(running?.peak ?? 0))}
      >
        <Box h="full" bg="ink" w={`${100 * share(running?.level ?? 0)}%`} />
        <Box position="absolute" top="0" h="full" w="3px" bg="brass" left={`${100 * share(running?.peak ?? 0)}%`} />
      </Box>
      <Flex minH="24px" justify="space-between">
        <Text>{word}</Text>
        {running?.clipped && (
          <Text role="alert" color="fault" fontWeight="700">
            ▲ Too loud: it clips. Hold it farther away.
          </Text>
        )}
      </Flex>
      {error && (
        <Text role="alert" color="fault" my="2">
          {error}
        </Text>
      )}
      <Flex gap="3" mt="3">
        {running ? (
          <>
            <Button variant="solid" onClick={() => void stop()}>
              Stop and keep
            </Button>
            <Button
              onClick={() => {
                recorder.current?.drop();
                recorder.current = undefined;
                setRunning(undefined);
              }}
            >
              Drop it
            </Button>
          </>
        ) : (
          <Button variant="solid" disabled={!trusted() || busy} onClick={() => void start()}>
            Record
          </Button>
        )}
      </Flex>
      <Text color="ink2" textStyle="note" mt="4">
        {sensor === "sound"
          ? "A microphone of a phone may hear nothing below 200 Hz: feel shakes with the motion sensor. A clap at the start brings two devices onto one time."
          : "Press it firmly onto what shakes. Sensors give 60 to 100 samples a second: what shakes quicker than half of that shows at a wrong place."}
      </Text>
    </Box>
  );
}

function wordsOf(e: Error): string {
  if (e.name === "NotAllowedError")
    return "The microphone was not allowed. Allow it in the browser's settings for this page, then try again.";
  if (e.name === "NotFoundError") return "This device has no microphone.";
  return e.message;
}
