import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { compareQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { Problem } from "../../shared/states";
import type { Unit } from "./unit";

/** Two failures side by side, cell by cell; what differs is framed and marked. */
export function Compare({ unit, a, b }: { unit: Unit; a: string; b: string }) {
  const { data, error } = useQuery(compareQuery(unit.id, unit.version, a, b));
  const [only, setOnly] = useState(true);
  if (error) return <Problem error={error} />;
  if (!data) return null;
  const cells = data.cells.filter((c) => !only || c.differs);
  return (
    <Box as="section" aria-label="Two failures side by side" borderTopWidth="2px" borderBottomWidth="2px" borderColor="brass" py="3" mb="4">
      <Flex justify="space-between" gap="4" wrap="wrap" align="center">
        <Text fontWeight="700">
          {data.differing === 0 ? "Alike in every cell." : `They differ in ${data.differing} cells.`} To tell them apart: {data.split}.
        </Text>
        <Chip type="button" aria-pressed={only} onClick={() => setOnly(!only)} data-noprint>
          Only what differs
        </Chip>
      </Flex>
      <Box overflowX="auto" mt="2">
        <chakra.table w="full" borderCollapse="collapse" aria-label="Comparison">
          <thead>
            <tr>
              {["range", "what is seen", data.a, data.b].map((h, i) => (
                <chakra.th
                  key={i}
                  scope="col"
                  textAlign="left"
                  textStyle="note"
                  py="1"
                  pr="3"
                  fontWeight={i > 1 ? "700" : "400"}
                  color={i > 1 ? "ink" : "ink2"}
                >
                  {h}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {cells.map((c) => (
              <chakra.tr key={c.range + c.behaviour} borderTopWidth="1px" borderColor="line">
                <chakra.th scope="row" textAlign="left" py="1.5" pr="3">
                  {c.range}
                </chakra.th>
                <chakra.td color="ink2" pr="3">
                  {c.title}
                </chakra.td>
                {[
                  [c.a, c.detailA],
                  [c.b, c.detailB],
                ].map(([text, detail], i) => (
                  <chakra.td key={i} pr="3" py="1.5">
                    <Text fontWeight={c.differs ? "700" : "400"}>
                      {i === 1 && c.differs && <span aria-label="differs">≠ </span>}
                      {text}
                    </Text>
                    {detail && (
                      <Text textStyle="fine" color="ink2">
                        {detail}
                      </Text>
                    )}
                  </chakra.td>
                ))}
              </chakra.tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
    </Box>
  );
}
