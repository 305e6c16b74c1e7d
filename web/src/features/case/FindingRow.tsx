import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { sourceNames } from "../../shared/format";
import { Chip } from "../../shared/Chip";
import { Select } from "../../shared/fields";
import { useCase } from "./useCase";

type Finding = Schemas["Finding"];

function Standing({ finding, again }: { finding: Finding; again: boolean }) {
  const { shown } = useCase();
  if (!finding.source) return null;
  const first = finding.states.find((s) => s.id === finding.state)?.title;
  return (
    <Text color="ink2" textStyle="small">
      {again
        ? `second look; the first stays: ${first}`
        : finding.before
          ? `looked at twice; before: ${finding.before}`
          : `${sourceNames[finding.source]}${shown.closed ? "" : ", saved"}`}
    </Text>
  );
}

/** How many states stand as buttons; more are chosen from a list. */
const mostButtons = 14;

/** A finding whose states may stand together: each is a switch of its own, and the first takes all others back. */
function SeveralRow({ finding, source, stage, check }: { finding: Finding; source: string; stage: string; check?: string }) {
  const { shown, actions, by } = useCase();
  const [none, ...rest] = finding.states;
  const noted = finding.states.filter((s) => s.reading);
  const press = (state: Schemas["FindingState"]) => {
    const add = { finding: finding.id, state: state.id, source, stage, check, by };
    if (state.reading) actions.read.mutate([{ withdraws: state.reading }]);
    else if (state.id === none?.id) actions.read.mutate([...noted.map((s) => ({ withdraws: s.reading })), add]);
    else actions.read.mutate([add]);
  };
  const buttons = rest.length > mostButtons ? rest.filter((s) => s.reading) : rest;
  return (
    <Box py="2" borderTopWidth="1px" borderColor="line" role="group" aria-label={finding.title}>
      <Flex justify="space-between" align="center" gap="3" mb="1.5">
        <Text fontWeight="600">{finding.title}</Text>
        <Text color="ink2" textStyle="small">
          several may apply
        </Text>
      </Flex>
      <Flex gap="1.5" wrap="wrap" align="center">
        {[none!, ...buttons].map((s) => (
          <Chip key={s.id} type="button" aria-pressed={s.reading !== ""} disabled={shown.closed} onClick={() => press(s)}>
            {s.title}
          </Chip>
        ))}
        {rest.length > mostButtons && !shown.closed && (
          <Select
            aria-label={`${finding.title}: add`}
            value=""
            maxW="320px"
            onChange={(e) => {
              const chosen = rest.find((s) => s.id === e.target.value);
              if (chosen) press(chosen);
            }}
          >
            <option value="">Add …</option>
            {rest
              .filter((s) => !s.reading)
              .map((s) => (
                <option key={s.id} value={s.id}>
                  {s.title}
                </option>
              ))}
          </Select>
        )}
      </Flex>
    </Box>
  );
}

/**
 * One finding with a button for each of its states; pressing the chosen one again takes the reading back. A second look
 * adds to the first instead of correcting it.
 */
export function FindingRow(row: { finding: Finding; source: string; stage: string; check?: string; startAgain?: boolean }) {
  return row.finding.several ? <SeveralRow {...row} /> : <OneRow {...row} />;
}

function OneRow({
  finding,
  source,
  stage,
  check,
  startAgain = false,
}: {
  finding: Finding;
  source: string;
  stage: string;
  check?: string;
  startAgain?: boolean;
}) {
  const { shown, actions, by } = useCase();
  const [asked, setAgain] = useState(startAgain);
  const canAgain = source !== "customer" && finding.again && !shown.closed;
  const again = asked && canAgain;
  const press = (state: string) => {
    const undo = !again && finding.state === state;
    actions.read.mutate([undo ? { withdraws: finding.reading } : { finding: finding.id, state, source, stage, check, by, again }]);
    setAgain(false);
  };
  return (
    <Box py="2" borderTopWidth="1px" borderColor="line" role="group" aria-label={finding.title}>
      <Flex justify="space-between" align="center" gap="3" mb="1.5">
        <Text fontWeight="600">{finding.title}</Text>
        <Standing finding={finding} again={again} />
      </Flex>
      <Flex gap="1.5" wrap="wrap">
        {finding.states.map((s) => (
          <Chip
            key={s.id}
            type="button"
            aria-pressed={!again && finding.state === s.id}
            disabled={shown.closed}
            onClick={() => press(s.id)}
          >
            {s.title}
          </Chip>
        ))}
        {canAgain && (
          <Button variant="ghost" ml="auto" onClick={() => setAgain(!again)}>
            {again ? "No second look" : "Look again"}
          </Button>
        )}
      </Flex>
    </Box>
  );
}
