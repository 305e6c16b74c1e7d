import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { NavLink, useParams } from "react-router";
import { recordingQuery, type Recording } from "../../api/recordings";
import { age } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { length, rateWord } from "./words";

const tabs: { to: string; label: string; for?: (r: Recording) => boolean }[] = [
  { to: "", label: "Traces" },
  { to: "/shifts", label: "Shifts", for: (r: Recording) => ["turbine", "output"].every((x) => r.channels.some((c) => c.role === x)) },
  { to: "/turns", label: "What turns" },
];

/** The head of a recording: what it is, of what, and the ways to look at it. */
export function Frame({ children }: { children: (r: Recording) => ReactNode }) {
  const { id = "" } = useParams();
  const { data, error } = useQuery(recordingQuery(id));
  return (
    <Box as="main" w="full" flex="1" display="flex" flexDir="column">
      <Title of={data?.title ?? "Recording"} />
      <Flex
        px={{ base: "3", md: "5" }}
        minH="56px"
        columnGap="4"
        align="center"
        wrap={{ base: "wrap", xl: "nowrap" }}
        borderBottomWidth="1px"
        borderColor="line"
      >
        <Text as="h1" textStyle="title" fontWeight="700" truncate maxW={{ xl: "48%" }} flexShrink={0}>
          {data?.title ?? "Recording"}
        </Text>
        {data && (
          <Text color="ink2" truncate minW="0" flex="1">
            {[data.vehicle || "no vehicle yet", data.unitName, `${age(data.at)} ago`, length(data.seconds), rateWord(data.rate)]
              .filter(Boolean)
              .join(" · ")}
          </Text>
        )}
        <Flex as="nav" aria-label="Ways to look" gap="1" ml="auto" h="48px" flexShrink={0}>
          {tabs
            .filter((t) => !t.for || (data && t.for(data)))
            .map((t) => (
              <NavLink key={t.to} to={`/recordings/${id}${t.to}`} end>
                {({ isActive }) => (
                  <Flex
                    align="center"
                    h="full"
                    px="3"
                    borderBottomWidth="2px"
                    borderColor={isActive ? "brass" : "transparent"}
                    color={isActive ? "ink" : "ink2"}
                    fontWeight={isActive ? "600" : "400"}
                  >
                    {t.label}
                  </Flex>
                )}
              </NavLink>
            ))}
        </Flex>
      </Flex>
      {error && (
        <Box px="5">
          <Problem error={error} />
        </Box>
      )}
      {!data && !error && (
        <Box px="5">
          <Loading what="the recording" />
        </Box>
      )}
      {data && children(data)}
    </Box>
  );
}
