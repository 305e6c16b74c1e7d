import { Box, chakra, Text } from "@chakra-ui/react";
import { useState } from "react";

/** Steps in order, each ticked as it is done: the eye finds its place again after the hands were busy. */
export function Steps({ title, steps }: { title: string; steps: string[] }) {
  const [done, setDone] = useState<ReadonlySet<number>>(new Set());
  const next = steps.findIndex((_, i) => !done.has(i));
  const toggle = (i: number) => {
    const now = new Set(done);
    if (!now.delete(i)) now.add(i);
    setDone(now);
  };
  return (
    <Box as="section" aria-label={title} my="3" maxW="820px">
      <Text fontWeight="700">{title}</Text>
      <Box as="ol">
        {steps.map((s, i) => (
          <Box as="li" key={s} borderTopWidth="1px" borderColor="line" bg={i === next ? "brassSoft" : undefined}>
            <chakra.label display="flex" gap="3" alignItems="center" minH="44px" px="2" cursor="pointer">
              <chakra.input type="checkbox" w="20px" h="20px" flex="none" checked={done.has(i)} onChange={() => toggle(i)} />
              <Text as="span" color={done.has(i) ? "ink2" : "ink"} fontWeight={i === next ? "600" : "400"}>
                {i + 1}. {s}
              </Text>
            </chakra.label>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
