import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { openCasesQuery, unitsQuery } from "../../api/queries";
import type { Recording } from "../../api/recordings";
import { Disclosed } from "../../shared/Disclosed";
import { Select, SelectField, TextField } from "../../shared/fields";
import { longMoment, number, quoted, short } from "../../shared/format";
import { Channels } from "./Channels";
import { JoinForm } from "./JoinForm";
import { LayoutForm } from "./LayoutForm";
import type { useRecording } from "./useRecording";
import { loadNames } from "./words";

type Done = ReturnType<typeof useRecording>;

/** What a recording is of, how it was driven, what its channels are, how it was read. */
export function About({ r, done }: { r: Recording; done: Done }) {
  return (
    <Box as="section" aria-label="What it is" px="4" py="3">
      <Of r={r} done={done} />
      <Disclosed title={`Channels: ${r.channels.length}`} open={!r.channels.some((c) => c.role === "sound" || c.role === "shaking")}>
        <Channels key={r.revision} r={r} done={done} />
      </Disclosed>
      <Disclosed title="Speeds from another recording" open={!!r.joined}>
        <JoinForm key={r.revision} r={r} />
      </Disclosed>
      {r.layout && (
        <Disclosed title="How the table was read">
          <LayoutForm key={r.revision} layout={r.layout} done={done} />
        </Disclosed>
      )}
      <Disclosed title="File" open={r.told.length > 0}>
        <Text>
          {r.file}, {bytes(r.size)}
          {r.packed && ", packed"}. {number(r.rows)} rows. Brought in {longMoment(r.at)}
          {r.by && ` by ${r.by}`}.
        </Text>
        {r.made && <Text>{r.made}</Text>}
        {r.told.map((t) => (
          <Text key={t} borderLeftWidth="3px" borderColor="brass" pl="2" my="1">
            {t}
          </Text>
        ))}
        <Flex gap="4" wrap="wrap" mt="1">
          <a href={`/api/recordings/${r.id}/file`} style={{ minHeight: 44, alignContent: "center", fontWeight: 600 }}>
            As it came
          </a>
          <a href={`/api/recordings/${r.id}/file?as=table`} style={{ minHeight: 44, alignContent: "center", fontWeight: 600 }}>
            As a table
          </a>
          {r.kind === "sound" && (
            <a href={`/api/recordings/${r.id}/file?as=sound`} style={{ minHeight: 44, alignContent: "center", fontWeight: 600 }}>
              As sound
            </a>
          )}
        </Flex>
        <TakeAway done={done} />
      </Disclosed>
    </Box>
  );
}

const bytes = (n: number) => (n < 1 << 20 ? `${number(n / 1024)} KiB` : `${number(n / (1 << 20), 1)} MiB`);

function TakeAway({ done }: { done: Done }) {
  const navigate = useNavigate();
  const [sure, setSure] = useState(false);
  return sure ? (
    <Flex gap="3" align="center" wrap="wrap">
      <Text>Gone for good, with its file.</Text>
      <Button onClick={() => done.remove.mutate(undefined, { onSuccess: () => void navigate("/recordings") })}>Take it away</Button>
      <Button onClick={() => setSure(false)}>Keep it</Button>
    </Flex>
  ) : (
    <Button mt="2" onClick={() => setSure(true)}>
      Take this recording away
    </Button>
  );
}

/** Vehicle, unit and drive: what the sources are worked out from. */
function Of({ r, done }: { r: Recording; done: Done }) {
  const { data: cases } = useQuery(openCasesQuery);
  const { data: units } = useQuery(unitsQuery);
  const [vehicle, setVehicle] = useState(r.vehicle);
  const driven = (d: Partial<Schemas["Driven"]>) => done.change.mutate({ driven: { ...r.driven, ...d } });
  return (
    <>
      <Text as="h2" textStyle="subheading" fontWeight="700" mb="2">
        Of what
      </Text>
      <Grid gap="3">
        <SelectField
          label="Case"
          value={r.case}
          options={[["", "none"], ...(cases?.items ?? []).map((c): [string, string] => [c.id, `${c.vehicle} ${quoted(c.words)}`])]}
          onChange={(e) => done.change.mutate({ case: e.target.value })}
        />
        {r.case ? (
          <Text>
            {r.vehicle}, {r.unitName}. <Link to={`/cases/${r.case}`}>To the case</Link>
          </Text>
        ) : (
          <>
            <TextField
              label="Vehicle"
              value={vehicle}
              maxLength={120}
              onChange={(e) => setVehicle(e.target.value)}
              onBlur={() => vehicle !== r.vehicle && done.change.mutate({ vehicle })}
            />
            <SelectField
              label="Unit"
              value={r.unit}
              options={[["", "not said yet"], ...(units ?? []).filter((u) => !u.generic).map((u): [string, string] => [u.id, u.name])]}
              onChange={(e) => done.change.mutate({ unit: e.target.value, driven: { ...r.driven, range: undefined } })}
            />
          </>
        )}
        <Grid templateColumns="1fr 1fr" gap="3">
          <SelectField
            label="Range driven"
            value={r.driven.range ?? ""}
            options={[["", "not said"], ...r.ranges.map((x): [string, string] => [x.id, x.name])]}
            onChange={(e) => driven({ range: e.target.value || undefined })}
          />
          <label>
            <Text as="span" fontWeight="600" textStyle="label" display="block" mb="1.5">
              Load
            </Text>
            <Select
              value={r.driven.load ?? ""}
              onChange={(e) => driven({ load: (e.target.value || undefined) as Schemas["Driven"]["load"] })}
            >
              {loadNames.map(([v, t]) => (
                <option key={v} value={v}>
                  {t}
                </option>
              ))}
            </Select>
          </label>
        </Grid>
        {r.driven.slip ? <Text color="ink2">Converter slips by {short(100 * r.driven.slip)} %.</Text> : null}
      </Grid>
    </>
  );
}
