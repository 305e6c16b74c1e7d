import { Box, chakra, Flex, Text, VisuallyHidden } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { memo } from "react";
import { percent } from "../../shared/format";
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
    <span className="mark" data-mark={cell.mark} title={[cell.detail, says[cell.mark]].filter(Boolean).join("; ")}>
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
  const rows = shown.road.predicted;
  const driven = shown.road.driven > 0;
  return (
    <Box mt="4">
      <Text as="h3" fontWeight="700" mb="1">
        What each failure would do, from the unit’s own design
      </Text>
      {driven && (
        <Text textStyle="small" color="ink2" mb="1">
          The share of each, if all were equally likely at the start. The suspects weigh everything.
        </Text>
      )}
      <Box overflowX="auto">
        <chakra.table w="full" borderCollapse="collapse" aria-label="Predicted failures against what was driven">
          <thead>
            <tr>
              <td />
              {shown.road.ranges.map((r) => (
                <chakra.th key={r} scope="col" textStyle="small" fontWeight="600" color="ink2">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.title}>
                <chakra.th
                  scope="row"
                  className="grid-name"
                  textAlign="left"
                  fontWeight="400"
                  textStyle="note"
                  lineHeight="1.25"
                  pr="2"
                  py="1"
                  minW="190px"
                >
                  {driven && <b>{percent(r.share)} % </b>}
                  {r.title}
                  <chakra.details textStyle="fine" color="ink2">
                    <chakra.summary minH="24px">{r.like.length > 0 ? `and ${r.like.length} alike so far` : "in words"}</chakra.summary>
                    {r.like.length > 0 && (
                      <p>
                        {r.like.join(", ")}. To split: {r.split}.
                      </p>
                    )}
                    {r.cells
                      .filter((c) => c.text)
                      .map((c) => (
                        <p key={c.range}>
                          {c.range} {c.text}
                          {c.detail && `: ${c.detail}`}
                        </p>
                      ))}
                  </chakra.details>
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
      <Flex gap="5" mt="1.5" textStyle="small" color="ink2" wrap="wrap">
        <Flex align="center" gap="1.5">
          <Box w="18px" h="12px" borderWidth="2px" borderColor="brass" bg="brassSoft" />
          predicted and seen
        </Flex>
        <Flex align="center" gap="1.5">
          <Box w="18px" h="12px" className="mark-sample" borderWidth="1px" borderColor="line" />✕ one without the other
        </Flex>
        <Text>gray: not driven yet</Text>
      </Flex>
    </Box>
  );
}
