import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { findingsQuery, unitQuery } from "../../../api/queries";
import { accessNames } from "../../../shared/format";
import { Empty, Loading, Problem } from "../../../shared/states";
import { FindingRow } from "../FindingRow";
import { InWords } from "../InWords";
import { useCase } from "../useCase";

/** Traps of the unit stand before the step that springs them. */
function Traps() {
  const { shown } = useCase();
  const { data } = useQuery(unitQuery(shown.unit));
  if (!data || data.traps.length === 0) return null;
  return (
    <Box as="section" aria-label="Traps" mb="4">
      <Text as="h3" fontWeight="700" mb="1">
        Before you open it: traps of this unit
      </Text>
      {data.traps.map((t) => (
        <Flex key={t.text} gap="4" py="1.5" borderTopWidth="1px" borderColor="line">
          <Text w="100px" flexShrink={0} color="ink2">
            {accessNames[t.before]}
          </Text>
          <Text>⚠ {t.text}</Text>
        </Flex>
      ))}
    </Box>
  );
}

/** Findings of the open unit by their names, for what no part of the drawing says, and for sheets without parts in order. */
export function ByName() {
  const { shown } = useCase();
  const { data, error } = useQuery(findingsQuery(shown.id, "teardown", shown.rev));
  return (
    <Box>
      <Traps />
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the findings" />}
      {data?.length === 0 && (
        <Empty title={`The vehicle stands at ${accessNames[shown.access]}`}>
          Nothing of the unit is open yet. The parts can be noted once it is; set the level on the ladder above.
        </Empty>
      )}
      {data?.map((f) => (
        <FindingRow key={f.id} finding={f} source="seen" stage="teardown" />
      ))}
      <InWords stage="teardown" source="seen" />
    </Box>
  );
}
