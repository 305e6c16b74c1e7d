import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { ratio, type Range, type Unit } from "./unit";
import { number } from "../../shared/format";

/** A bar where an element is applied, an arrow where a one-way clutch holds; the words are there for who cannot see it. */
function Mark({ range, element, picked }: { range: Range; element: Unit["elements"][number]; picked: boolean }) {
  if (range.applied.includes(element.id))
    return <Box h="10px" w="24px" mx="auto" bg={picked ? "brass" : "slate"} role="img" aria-label="applied" />;
  if (range.holding.includes(element.id))
    return (
      <chakra.span role="img" aria-label="one-way clutch holds" textStyle="subheading">
        ⟶
      </chakra.span>
    );
  return null;
}

export function ApplyChart({ unit, picked, pick }: { unit: Unit; picked: string; pick: (id: string) => void }) {
  const ranges = unit.ranges.filter((r) => r.driving);
  return (
    <Box overflowX="auto">
      <chakra.table w="full" borderCollapse="collapse" aria-label="Apply chart">
        <thead>
          <tr>
            <td />
            {unit.elements.map((e) => (
              <chakra.th key={e.id} scope="col" textStyle="note" fontWeight="700" verticalAlign="bottom" px="1" pb="1.5">
                {e.id}
                <Text textStyle="tiny" fontWeight="400" color="ink2" lineHeight="1.15">
                  {e.name}
                </Text>
              </chakra.th>
            ))}
            <chakra.th scope="col" textAlign="right" textStyle="note">
              ratio
            </chakra.th>
            <chakra.th scope="col" textAlign="right" textStyle="note" pl="3">
              step
            </chakra.th>
          </tr>
        </thead>
        <tbody>
          {ranges.map((r) => (
            <chakra.tr key={r.id} borderTopWidth="1px" borderColor="line" bg={r.id === picked ? "brassSoft" : undefined}>
              <chakra.th scope="row" textAlign="left" p="0">
                <button
                  type="button"
                  aria-pressed={r.id === picked}
                  onClick={() => pick(r.id)}
                  style={{ minHeight: 44, minWidth: 48, textAlign: "left" }}
                >
                  <Flex px="1">
                    <b>{r.id}</b>
                  </Flex>
                </button>
              </chakra.th>
              {unit.elements.map((e) => (
                <chakra.td key={e.id} textAlign="center">
                  <Mark range={r} element={e} picked={r.id === picked} />
                </chakra.td>
              ))}
              <chakra.td textAlign="right" fontWeight="700" textStyle="lead" whiteSpace="nowrap">
                {r.ratio === 0 ? "" : ratio(r.ratio)}
              </chakra.td>
              <chakra.td textAlign="right" pl="3" pr="1">
                {r.step ? number(r.step, 2) : ""}
              </chakra.td>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
    </Box>
  );
}
