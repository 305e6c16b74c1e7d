import { Box, chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** What is there for whoever wants it: one line until it is opened. */
export function Disclosed({ title, open, children }: { title: ReactNode; open?: boolean; children: ReactNode }) {
  return (
    <chakra.details mt="3" borderTopWidth="1px" borderColor="line" open={open}>
      <chakra.summary minH="44px" alignContent="center" color="ink2" fontWeight="600" textStyle="note" cursor="pointer">
        {title}
      </chakra.summary>
      <Box>{children}</Box>
    </chakra.details>
  );
}
