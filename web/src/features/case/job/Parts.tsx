import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { percent, plainDay, roughly, number, short } from "../../../shared/format";
import { Select } from "../../../shared/fields";
import type { Job, JobPart } from "./useJob";

const why: Record<JobPart["why"], string> = {
  work: "renewed by the work",
  once: "never used again",
  with: "goes with another",
  noted: "noted at the bench",
  maybe: "may be found bad",
};

type Stock = Schemas["JobStock"];

const states: [string, string][] = [
  ["", "not here"],
  ["shelf", "on the shelf"],
  ["ordered", "ordered"],
  ["here", "here"],
];

function Row({ part, currency, saving, put }: { part: JobPart; currency: string; saving: boolean; put: (state: string) => void }) {
  return (
    <Flex py="1.5" gap="3" borderTopWidth="1px" borderColor="line" align="center" justify="space-between">
      <Box minW="0" flex="1">
        <Text textStyle="label" fontWeight="600" lineHeight="1.2">
          {part.count > 1 && `${part.count} × `}
          {part.name}
        </Text>
        <Text textStyle="small" color="ink2">
          {part.need < 0.9995 && <b>{percent(part.need)} % · </b>}
          {part.why === "with" ? part.with : why[part.why]}
          {part.school && ` (a question of school: ${part.school})`}
          {part.kit && `, ${part.holds.length} of its parts`}
          {part.price > 0 && ` · ${roughly(currency, part.price)}${part.from === "guide" ? ", guide" : ""}`}
          {part.state === "ordered" && part.due && ` · comes ${plainDay(part.due)}`}
        </Text>
      </Box>
      <Select
        aria-label={`Where is: ${part.name}`}
        value={part.state}
        w="124px"
        flexShrink="0"
        textStyle="small"
        disabled={saving}
        onChange={(e) => put(e.target.value)}
      >
        {states.map(([v, t]) => (
          <option key={v} value={v}>
            {t}
          </option>
        ))}
      </Select>
    </Flex>
  );
}

function Group({
  title,
  about,
  parts,
  job,
  put,
  saving,
}: {
  title: string;
  about: string;
  parts: JobPart[];
  job: Job;
  put: (stock: Stock[]) => void;
  saving: boolean;
}) {
  if (parts.length === 0) return null;
  const one = (part: string, state: string) => {
    const rest = job.settled.stock.filter((s) => s.part !== part);
    put(state ? [...rest, { part, state: state as Stock["state"], due: "" }] : rest);
  };
  return (
    <Box mt="4">
      <Text as="h3" textStyle="label" fontWeight="700">
        {title}
      </Text>
      <Text textStyle="small" color="ink2" mb="1">
        {about}
      </Text>
      {parts.map((p) => (
        <Row key={p.id} part={p} currency={job.currency} saving={saving} put={(state) => one(p.id, state)} />
      ))}
    </Box>
  );
}

/** Which parts to order before the unit is open, which to wait with, and which are here. */
export function Parts({ job, put, saving }: { job: Job; put: (stock: Stock[]) => void; saving: boolean }) {
  const held = job.parts.filter((p) => p.state !== "");
  const now = job.parts.filter((p) => p.state === "" && p.order);
  const later = job.parts.filter((p) => p.state === "" && !p.order);
  const sum = (parts: JobPart[]) => parts.reduce((s, p) => s + p.price, 0);
  const closed = job.tasks.some((t) => t.kind === "open");
  const saved = job.without - job.ordering;
  const lead = Math.max(0, ...now.map((p) => p.lead));
  const orderAll = () =>
    put([
      ...job.settled.stock,
      ...now.map((p): Stock => ({
        part: p.id,
        state: "ordered",
        due: "",
      })),
    ]);
  if (!job.hasParts)
    return (
      <Text color="ink2" py="3">
        The sheet of this unit has no parts in order: parts are listed once it has.
      </Text>
    );
  return (
    <Box as="section" aria-label="Parts">
      <Text as="h2" textStyle="subheading" fontWeight="700">
        {job.parts.length === 0 ? "No parts" : `${job.parts.length} parts`}
      </Text>
      {saved > 0 && now.length > 0 && (
        <Text>
          Ordering {now.length === 1 ? "one" : number(now.length)} {closed ? "before it is open" : "now"} saves about{" "}
          <b>{roughly(job.currency, saved)}</b> in waiting, returns taken off.
        </Text>
      )}
      {now.length > 0 && (
        <Button mt="2" onClick={orderAll} disabled={saving}>
          Mark {now.length === 1 ? "it" : `all ${now.length}`} as ordered
        </Button>
      )}
      <Group
        title={`Order now, ${roughly(job.currency, sum(now))}`}
        about={`${closed ? "Before the unit is open: " : ""}${short(lead, 1)} days until ${now.length === 1 ? "it is" : "they are"} here.`}
        parts={now}
        job={job}
        saving={saving}
        put={put}
      />
      <Group
        title="Wait until it is open"
        about="A return would cost more than the wait is likely to."
        parts={later}
        job={job}
        saving={saving}
        put={put}
      />
      <Group
        title="Here, or on the way"
        about={`${roughly(job.currency, sum(held))} in all.`}
        parts={held}
        job={job}
        saving={saving}
        put={put}
      />
    </Box>
  );
}
