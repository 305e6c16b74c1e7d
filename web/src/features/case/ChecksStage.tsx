import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { checksQuery } from "../../api/queries";
import { accessNames, minutes } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { CheckPanel } from "./CheckPanel";
import { useCase } from "./useCase";

type Item = Schemas["CheckItem"];

const note = (c: Item) => (c.done ? "✓ done" : c.skipped ? "set aside" : c.beyond ? "opened up too far" : "");

function Row({ item, open }: { item: Item; open: () => void }) {
  return (
    <button type="button" onClick={open} style={{ width: "100%", textAlign: "left" }}>
      <Flex
        minH="44px"
        align="center"
        gap="3"
        borderTopWidth="1px"
        borderColor="line"
        py="1.5"
        color={item.done || item.beyond || item.skipped ? "ink2" : "ink"}
        _hover={{ bg: "brassSoft" }}
      >
        <Box flex="1" minW="0">
          <Text fontWeight={item.done ? "400" : "600"}>{item.title}</Text>
          <Text fontSize="13px" color="ink2" lineClamp="1">
            {item.tells}
          </Text>
        </Box>
        <Text fontSize="13px" color={item.done ? "good" : "ink2"}>
          {note(item)}
        </Text>
        <Text w="64px" textAlign="right">
          {minutes(item.minutes)}
        </Text>
      </Flex>
    </button>
  );
}

function List({ open }: { open: (check: string) => void }) {
  const { shown } = useCase();
  const { data, error, refetch } = useQuery(checksQuery(shown.id, shown.rev));
  if (error) return <Problem error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the checks" />;
  return (
    <Box>
      <Text as="h2" fontSize="18px" fontWeight="700">
        Checks
      </Text>
      <Text color="ink2" mb="2">
        From what is free to what takes the unit apart. The heading says which is worth most now.
      </Text>
      {Object.keys(accessNames).map((level) => {
        const items = data.filter((c) => c.access === level);
        const climb = items[0]?.climb ?? 0;
        return (
          items.length > 0 && (
            <Box key={level} as="section" mt="4" aria-label={`Checks at ${accessNames[level]}`}>
              <Flex justify="space-between" color="ink2" fontSize="13.5px" fontWeight="600" pb="1">
                <Text as="h3">{accessNames[level]}</Text>
                <Text>{climb > 0 ? `${minutes(climb)} to get there` : "reached"}</Text>
              </Flex>
              {items.map((c) => (
                <Row key={c.id} item={c} open={() => open(c.id)} />
              ))}
            </Box>
          )
        );
      })}
    </Box>
  );
}

export function ChecksStage() {
  const [params, setParams] = useSearchParams();
  const check = params.get("check");
  if (check) return <CheckPanel key={check} id={check} back={() => setParams({})} />;
  return <List open={(c) => setParams({ check: c })} />;
}
