import { Box, chakra, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A quiet table: lines between rows, numbers to the right. Columns named with a leading ">" are right-aligned. */
export function Table({ label, head, rows, note }: { label: string; head: string[]; rows: ReactNode[][]; note?: ReactNode }) {
  const right = head.map((h) => h.startsWith(">"));
  return (
    <Box overflowX="auto">
      <chakra.table w="full" borderCollapse="collapse" aria-label={label}>
        {head.some((h) => h.replace(/^>/, "")) && (
          <thead>
            <tr>
              {head.map((h, i) => {
                const text = h.replace(/^>/, "");
                return text ? (
                  <chakra.th
                    key={h}
                    scope="col"
                    textAlign={right[i] ? "right" : "left"}
                    fontWeight="400"
                    color="ink2"
                    textStyle="small"
                    py="1"
                    pl={i ? "3" : "0"}
                  >
                    {text}
                  </chakra.th>
                ) : (
                  <td key={i} />
                );
              })}
            </tr>
          </thead>
        )}
        <tbody>
          {rows.map((cells, y) => (
            <chakra.tr key={y} borderTopWidth="1px" borderColor="line">
              {cells.map((c, i) =>
                i === 0 ? (
                  <chakra.th key={i} scope="row" textAlign="left" fontWeight="400" py="1.5" verticalAlign="top">
                    {c}
                  </chakra.th>
                ) : (
                  <chakra.td key={i} textAlign={right[i] ? "right" : "left"} py="1.5" pl="3" verticalAlign="top">
                    {c}
                  </chakra.td>
                ),
              )}
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
      {note && (
        <Text textStyle="small" color="ink2" mt="1">
          {note}
        </Text>
      )}
    </Box>
  );
}

export function Heading({ children, note }: { children: ReactNode; note?: ReactNode }) {
  return (
    <Box mb="2">
      <Text as="h2" fontWeight="700">
        {children}
      </Text>
      {note && <Text color="ink2">{note}</Text>}
    </Box>
  );
}
