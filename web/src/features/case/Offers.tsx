import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { offersQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { useCase } from "./useCase";

/** What the words of the complaint may mean: each is a reading only when somebody confirms it. */
export function Offers() {
  const { shown, actions, by } = useCase();
  const [text, setText] = useState("");
  const asked = useDeferredValue(text.trim());
  const { data } = useQuery(offersQuery(shown.id, asked, shown.rev + shown.trail.length));
  if (shown.closed) return null;
  const confirm = (finding: string, state: string) => actions.read.mutate([{ finding, state, source: "customer", stage: "complaint", by }]);
  const offers = data ?? [];
  return (
    <Box as="section" aria-label="What the words may mean" bg="panel" borderLeftWidth="4px" borderColor="brass" px="4" py="3" mb="4">
      <Flex justify="space-between" align="center" gap="3" wrap="wrap">
        <Text fontWeight="700">{asked ? "These words may mean" : "The complaint may mean"}</Text>
        <Input
          aria-label="Other words of the customer"
          placeholder="Other words, as said"
          maxLength={400}
          w="240px"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </Flex>
      {offers.length === 0 && <Text color="ink2">Nothing that is known is said so. Ask below.</Text>}
      {offers.map((o) => (
        <Flex key={o.finding} align="center" gap="3" minH="48px">
          <Text flex="1" minW="0">
            {o.title}: <b>{o.stateTitle}</b>{" "}
            <Text as="span" color="ink2">
              — “{o.said}”
            </Text>
          </Text>
          <Chip
            type="button"
            aria-pressed={o.read === o.state}
            aria-label={`${o.title}: ${o.stateTitle}, confirmed`}
            onClick={() => confirm(o.finding, o.state)}
          >
            {o.read === o.state ? "✓ confirmed" : "Confirm"}
          </Chip>
        </Flex>
      ))}
      <Text color="ink2" textStyle="small" mt="1">
        A plain search for ways of saying it; words mislead, so nothing counts before it is confirmed.
      </Text>
    </Box>
  );
}
