import { Box, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { sourceNames } from "../../shared/format";
import { Chip } from "../../shared/Chip";
import { newKey } from "../../shared/key";
import { useCase } from "./useCase";

/** One finding with a button for each of its states; pressing the chosen one again takes the reading back. */
export function FindingRow({
  finding,
  source,
  stage,
  check,
}: {
  finding: Schemas["Finding"];
  source: string;
  stage: string;
  check?: string;
}) {
  const { shown, actions, by } = useCase();
  const press = (state: string) => {
    const undo = finding.state === state;
    actions.read.mutate([
      undo ? { key: newKey(), withdraws: finding.reading } : { key: newKey(), finding: finding.id, state, source, stage, check, by },
    ]);
  };
  return (
    <Box py="2" borderTopWidth="1px" borderColor="line" role="group" aria-label={finding.title}>
      <Flex justify="space-between" gap="3" mb="1.5">
        <Text fontWeight="600">{finding.title}</Text>
        {finding.source && (
          <Text color="ink2" fontSize="13px">
            {sourceNames[finding.source]}, saved
          </Text>
        )}
      </Flex>
      <Flex gap="1.5" wrap="wrap">
        {finding.states.map((s) => (
          <Chip key={s.id} type="button" aria-pressed={finding.state === s.id} disabled={shown.closed} onClick={() => press(s.id)}>
            {s.title}
          </Chip>
        ))}
      </Flex>
    </Box>
  );
}
