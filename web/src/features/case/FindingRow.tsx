import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { sourceNames } from "../../shared/format";
import { Chip } from "../../shared/Chip";
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

/**
 * One finding with a button for each of its states; pressing the chosen one again takes the reading back. A second look
 * adds to the first instead of correcting it.
 */
export function FindingRow({
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
