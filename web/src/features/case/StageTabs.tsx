import { Box, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { stageNames, stages } from "../../shared/format";

/** The six stages of a case as ways to them, and the plan of its work; done are those behind it. */
export function StageTabs({ id, stage, done }: { id: string; stage?: string; done: (i: number) => boolean }) {
  return (
    <Flex as="nav" aria-label="Stages" gap="1" wrap={{ base: "nowrap", md: "wrap" }} overflowX="auto" whiteSpace="nowrap" data-noprint>
      {stages.map((s, i) => (
        <Link key={s} to={`/cases/${id}/${s}`} aria-current={s === stage ? "page" : undefined}>
          <Flex
            align="center"
            h="44px"
            px="2"
            mr="2"
            borderBottomWidth="2px"
            borderColor={s === stage ? "brass" : "transparent"}
            fontWeight={s === stage ? "700" : "400"}
            color={s === stage ? "ink" : "ink2"}
          >
            {stageNames[s]}
            {done(i) && (
              <Text as="span" color="good" ml="1.5" aria-label="done">
                ✓
              </Text>
            )}
          </Flex>
        </Link>
      ))}
      <Link to={`/cases/${id}/job`} aria-current={stage === "job" ? "page" : undefined}>
        <Flex
          align="center"
          h="44px"
          px="2"
          ml="2"
          borderBottomWidth="2px"
          borderColor={stage === "job" ? "brass" : "transparent"}
          fontWeight={stage === "job" ? "700" : "400"}
          color={stage === "job" ? "ink" : "ink2"}
        >
          <Box as="span" h="18px" borderLeftWidth="1px" borderColor="line" mr="4" aria-hidden />
          Job
        </Flex>
      </Link>
    </Flex>
  );
}
