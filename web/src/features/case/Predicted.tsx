import { Box, chakra, Flex, Text, VisuallyHidden } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { memo } from "react";
import { useCase } from "./useCase";

type Cell = Schemas["PredictedCell"];

const says: Record<string, string> = {
  agrees: "predicted and seen",
  conflict: "one without the other",
  quiet: "both normal",
  open: "not driven",
};

/** Agreement is a thick frame, contradiction hatching with a cross; colour only repeats it. */
const Mark = memo(function Mark({ cell }: { cell: Cell }) {
  const text = cell.text || (cell.mark === "conflict" ? "normal" : "");
  return (
    <span className="mark" data-mark={cell.mark} title={says[cell.mark]}>
      <span>
        {cell.mark === "conflict" && <span aria-hidden>✕ </span>}
        {text}
      </span>
      <VisuallyHidden>{says[cell.mark]}</VisuallyHidden>
    </span>
  );
});

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
                  <td key={c.range} className="grid-cell">
                    <Mark cell={c} />
                  </td>
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
          <Box w="18px" h="12px" className="mark-sample" borderWidth="1px" borderColor="line" />✕ one without the other
        </Flex>
        <Text>grey: not driven yet</Text>
      </Flex>
    </Box>
  );
}
