import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { unitQuery } from "../../api/queries";
import { Loading, Problem } from "../../shared/states";
import { Faults } from "./Faults";
import { Feeds, FluidAndLimits, PartsAndTraps } from "./UnitLists";
import { Gears } from "./Gears";

type Unit = Schemas["Unit"];

const parts: [string, string, (props: { unit: Unit }) => ReactNode][] = [
  ["gears", "Gears", Gears],
  ["faults", "If this fails", Faults],
  ["oil", "Oil", Feeds],
  ["parts", "Parts, access, traps", PartsAndTraps],
  ["limits", "Limits and fluid", FluidAndLimits],
];

export function UnitPage() {
  const { id = "", part = "gears" } = useParams();
  const { data, error, refetch } = useQuery(unitQuery(id));
  if (error)
    return (
      <Box as="main" px="5" pt="4">
        <Text as="h1" fontSize="24px" fontWeight="700">
          Unit
        </Text>
        <Problem error={error} retry={() => void refetch()} />
      </Box>
    );
  if (!data) return <Loading what="the unit" />;
  const Part = (parts.find(([p]) => p === part) ?? parts[0]!)[2];
  return (
    <Box w="full">
      <Box as="section" aria-label="Unit" px={{ base: "3", md: "5" }} pt="4" borderBottomWidth="1px" borderColor="line">
        <Text as="h1" fontSize="24px" fontWeight="700">
          {data.name}
        </Text>
        <Text color="ink2">
          {data.summary} · sheet {data.version} · {data.teeth} · meshes and assembles
        </Text>
        <Flex as="nav" aria-label="Parts of the unit" mt="1" wrap="wrap">
          {parts.map(([p, label]) => (
            <Link key={p} to={`/units/${id}/${p}`} aria-current={p === part ? "page" : undefined}>
              <Flex
                h="44px"
                align="center"
                mr="6"
                borderBottomWidth="2px"
                borderColor={p === part ? "brass" : "transparent"}
                fontWeight={p === part ? "700" : "400"}
                color={p === part ? "ink" : "ink2"}
              >
                {label}
              </Flex>
            </Link>
          ))}
        </Flex>
      </Box>
      <Box as="main" px={{ base: "3", md: "5" }} py="4">
        <Part unit={data} />
      </Box>
    </Box>
  );
}
