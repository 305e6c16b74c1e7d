import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { recordingsQuery, type Recording } from "../../api/recordings";
import { Chip } from "../../shared/Chip";
import { Disclosed } from "../../shared/Disclosed";
import { SelectField, TextField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { useRecording } from "../recordings/useRecording";

type Change = NonNullable<Schemas["RecordingTrial"]["changed"]>[number];
const changes: [Change, string][] = [
  ["pressure", "pressure"],
  ["adaptation", "adaptation"],
  ["fluid", "fluid"],
  ["valve", "valve"],
  ["part", "part"],
  ["software", "software"],
];

/** What was changed since another drive: one thing at a time, so that its effect can be laid at it. */
export function TrialForm({ r }: { r: Recording }) {
  const done = useRecording(r);
  const { data: all } = useQuery(recordingsQuery());
  const [since, setSince] = useState(r.trial?.since ?? "");
  const [changed, setChanged] = useState<Change[]>(r.trial?.changed ?? []);
  const [note, setNote] = useState(r.trial?.note ?? "");
  const like = (all ?? []).filter((x) => x.id !== r.id && x.unit === r.unit && x.vehicle === r.vehicle);
  if (like.length === 0) return null;
  const toggle = (c: Change) => setChanged((l) => (l.includes(c) ? l.filter((x) => x !== c) : [...l, c]));
  return (
    <Box px={{ base: "3", md: "5" }} py="2" borderTopWidth="1px" borderColor="line">
      <Disclosed
        title={
          r.trial
            ? `Trial after “${r.trial.sinceTitle ?? ""}”: ${(r.trial.changed ?? []).join(", ")}`
            : "What was changed before this drive?"
        }
      >
        {done.error && <Problem error={done.error} />}
        <Flex gap="3" wrap="wrap" align="flex-end">
          <Box w={{ base: "full", md: "280px" }}>
            <SelectField
              label="Since this drive"
              value={since}
              options={[["", "nothing noted"], ...like.map((x): [string, string] => [x.id, x.title])]}
              onChange={(e) => setSince(e.target.value)}
            />
          </Box>
          <Flex gap="1" wrap="wrap" role="group" aria-label="What was changed">
            {changes.map(([c, t]) => (
              <Chip key={c} type="button" aria-pressed={changed.includes(c)} onClick={() => toggle(c)}>
                {t}
              </Chip>
            ))}
          </Flex>
          <Box w={{ base: "full", md: "220px" }}>
            <TextField label="What exactly" value={note} maxLength={120} onChange={(e) => setNote(e.target.value)} />
          </Box>
          <Button disabled={done.change.isPending} onClick={() => done.change.mutate({ trial: { since, changed, note } })}>
            Save
          </Button>
        </Flex>
        {changed.length > 1 && (
          <Text textStyle="note" mt="2" borderLeftWidth="3px" borderColor="brass" pl="2">
            Two things at once: what the drive shows cannot be laid at one of them. One change, one drive.
          </Text>
        )}
      </Disclosed>
    </Box>
  );
}
