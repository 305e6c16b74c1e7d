import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { useCase } from "./useCase";

type Cell = Schemas["PredictedCell"];

const against = "repeating-linear-gradient(135deg, var(--chakra-colors-fault) 0 1px, transparent 1px 9px)";

const says: Record<string, string> = {
  agrees: "predicted and seen",
  conflict: "one without the other",
  quiet: "both normal",
  open: "not driven",
};

/** Agreement is a thick frame, contradiction hatching with a cross; colour only repeats it. */
function Mark({ cell }: { cell: Cell }) {
  return (
    <Flex
      h="32px"
      align="center"
      justify="center"
      gap="1"
      fontSize="13px"
      title={says[cell.mark]}
      borderWidth={cell.mark === "agrees" ? "2px" : "0"}
      borderColor="brass"
      bg={cell.mark === "agrees" ? "brassSoft" : undefined}
      bgImage={cell.mark === "conflict" ? against : undefined}
      fontWeight={cell.mark === "agrees" ? "700" : "400"}
      color={cell.mark === "open" ? "ink2" : "ink"}
    >
      <Box as="span" bg={cell.mark === "conflict" ? "page" : undefined} px={cell.mark === "conflict" ? "1" : "0"} whiteSpace="nowrap">
        {cell.mark === "conflict" && <span aria-hidden>✕ </span>}
        {cell.text || (cell.mark === "conflict" ? "normal" : "")}
      </Box>
      <chakra.span srOnly>{says[cell.mark]}</chakra.span>
    </Flex>
  );
}

/** What each failure would do, computed from the unit's own gears, under what was driven. */
export function Predicted() {
  const { shown } = useCase();
  const rows = shown.road.predicted.slice(0, 6);
  return (
    <Box mt="4">
      <Text as="h3" fontWeight="700" mb="1">
        What each failure would do, from the unit’s own gears
      </Text>
      <Box overflowX="auto">
        <chakra.table w="full" borderCollapse="collapse" aria-label="Predicted failures against what was driven">
          <thead>
            <tr>
              <td />
              {shown.road.ranges.map((r) => (
                <chakra.th key={r} scope="col" fontSize="13px" fontWeight="600" color="ink2">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.title}>
                <chakra.th scope="row" textAlign="left" fontWeight="400" fontSize="13.5px" pr="2" w="170px">
                  {r.title}
                </chakra.th>
                {r.cells.map((c) => (
                  <chakra.td key={c.range} p="0" borderWidth="1px" borderColor="line" minW="54px">
                    <Mark cell={c} />
                  </chakra.td>
                ))}
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
      <Flex gap="5" mt="1.5" fontSize="13px" color="ink2" wrap="wrap">
        <Flex align="center" gap="1.5">
          <Box w="18px" h="12px" borderWidth="2px" borderColor="brass" bg="brassSoft" />
          predicted and seen
        </Flex>
        <Flex align="center" gap="1.5">
          <Box w="18px" h="12px" bgImage={against} borderWidth="1px" borderColor="line" />✕ one without the other
        </Flex>
        <Text>grey: not driven yet</Text>
      </Flex>
    </Box>
  );
}
