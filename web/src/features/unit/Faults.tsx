import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Select } from "../../shared/fields";

export function Faults({ unit }: { unit: Schemas["Unit"] }) {
  const [element, setElement] = useState("");
  const rows = unit.faults.filter((f) => !element || f.element === element);
  const ranges = unit.faults[0]?.cells.map((c) => c.range) ?? [];
  return (
    <Box>
      <Flex justify="space-between" align="end" gap="4" wrap="wrap" mb="3">
        <Box>
          <Text as="h2" fontWeight="700">
            If this fails, these ranges do that
          </Text>
          <Text color="ink2">Computed from the tooth counts and the apply chart. Empty: as in health.</Text>
        </Box>
        <chakra.label fontSize="14px">
          Element{" "}
          <Select value={element} onChange={(e) => setElement(e.target.value)} maxW="260px">
            <option value="">all</option>
            {unit.elements.map((e) => (
              <option key={e.id} value={e.id}>
                {e.name}
              </option>
            ))}
          </Select>
        </chakra.label>
      </Flex>
      <Box overflowX="auto">
        <chakra.table w="full" borderCollapse="collapse" aria-label="Fault table">
          <thead>
            <tr>
              <td />
              {ranges.map((r) => (
                <chakra.th key={r} scope="col" fontSize="13.5px" py="1.5">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((f) => (
              <chakra.tr key={f.title} borderTopWidth="1px" borderColor="line">
                <chakra.th scope="row" textAlign="left" fontWeight="400" py="1.5" pr="3">
                  {f.title}
                </chakra.th>
                {f.cells.map((c) => (
                  <chakra.td
                    key={c.range}
                    textAlign="center"
                    fontSize="13.5px"
                    bg={c.text ? "brassSoft" : undefined}
                    fontWeight="600"
                    whiteSpace="nowrap"
                    px="1"
                  >
                    {c.text}
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
