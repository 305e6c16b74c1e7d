import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { whyQuery } from "../../api/queries";
import { percent } from "../../shared/format";
import { useCase } from "./useCase";

/** Damage whose root is not found: said wherever the repair is decided, recorded or shown. */
export function RootOpen() {
  const { shown } = useCase();
  const { data } = useQuery(whyQuery(shown.id, shown.rev));
  const open = data?.filter((d) => !d.root) ?? [];
  if (open.length === 0) return null;
  return (
    <Box as="section" aria-label="Damage without its root" borderLeftWidth="4px" borderColor="fault" bg="faultSoft" px="3" py="2" my="3">
      {open.map((d) => (
        <Text key={d.element}>
          ○ What damaged the {d.name} is not found:{" "}
          {d.roots[0] ? `most likely ${d.roots[0].title}, ${percent(d.roots[0].probability)} %` : "no root is known"}. Renewed without it,
          it burns again.
        </Text>
      ))}
    </Box>
  );
}
