import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, type ReactNode } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { unitQuery } from "../../api/queries";
import { LoadingPlace, Problem } from "../../shared/states";
import { Controls } from "./Controls";
import { Faults } from "./Faults";
import { Gears } from "./Gears";
import { Oil } from "./Oil";
import { SheetFiles } from "./SheetFiles";
import { Side } from "./Side";
import { Stacked } from "./Stacked";
import { FluidAndLimits } from "./Limits";
import type { Unit } from "./unit";
import { topics } from "../../shared/sources";
import { Title } from "../../shared/Title";
import { Disclosed } from "../../shared/Disclosed";

const parts: [string, string, (props: { unit: Unit }) => ReactNode][] = [
  ["gears", "Gears and power", Gears],
  ["faults", "If this fails", Faults],
  ["controls", "Controls", Controls],
  ["oil", "Oil", Oil],
  ["side", "From the side", Side],
  ["stack", "Parts in order", Stacked],
  ["limits", "Limits and fluid", FluidAndLimits],
  ["sheet", "Sheet", SheetFiles],
];

const depths: Record<string, string> = { chart: "Known by its chart alone", gears: "Known by its gears", full: "" };

/** How much the sheet knows, where that is not everything: what is assumed, and what it cannot say. */
function Knows({ unit }: { unit: Unit }) {
  // Single numbers, and what is only heard by, stand in the list of numbers.
  const assumed = unit.sources.filter((s) => s.from === "assumed" && topics[s.of] && s.of !== "bearings");
  if (!depths[unit.depth] && assumed.length === 0) return null;
  return (
    <Disclosed
      title={`${depths[unit.depth] || "Its gears are known"}. Assumed: ${assumed.length}. What it cannot say: ${unit.cannot.length}`}
    >
      <Box maxW="720px" pb="2">
        {assumed.map((s) => (
          <Text key={s.of}>
            <Text as="span" textDecoration="underline" textDecorationStyle="dashed" textUnderlineOffset="4px" fontWeight="600">
              {topics[s.of]}
            </Text>
            {s.value && `, ${s.value}`}: {s.why}
          </Text>
        ))}
        {unit.cannot.map((c) => (
          <Text key={c} color="ink2">
            {c}
          </Text>
        ))}
      </Box>
    </Disclosed>
  );
}

/** One design: what its sheet says and all that follows from it. */
export function UnitPage() {
  const { id = "", part = "gears" } = useParams();
  const [params] = useSearchParams();
  const version = Number(params.get("version") ?? 0) || 0;
  const { data, error, refetch } = useQuery(unitQuery(id, version));
  useEffect(() => {
    // On paper everything stands open: the tables behind the drawings are for print too.
    const open = () => document.querySelectorAll("details").forEach((d) => (d.open = true));
    window.addEventListener("beforeprint", open);
    return () => window.removeEventListener("beforeprint", open);
  }, []);
  if (error)
    return (
      <Box as="main" px="5" pt="4">
        <Text as="h1" textStyle="title" fontWeight="700">
          Unit
        </Text>
        <Problem error={error} retry={() => void refetch()} />
      </Box>
    );
  if (!data) return <LoadingPlace title="Unit" what="the unit" />;
  const Part = (parts.find(([p]) => p === part) ?? parts[0]!)[2];
  const old = data.version !== Math.max(...data.versions);
  return (
    <Box w="full">
      <Box as="section" aria-label="Unit" px={{ base: "3", md: "5" }} pt="4" borderBottomWidth="1px" borderColor="line">
        <Flex justify="space-between" gap="4" align="start">
          <Box>
            <Text as="h1" textStyle="title" fontWeight="700">
              {data.name}
            </Text>
            <Text color="ink2">
              {data.summary} · {data.own ? "own sheet" : "sheet"} {data.version}
              {old && `, version ${Math.max(...data.versions)} exists`}
              {data.doubts.length > 0 && ` · ${data.doubts.length} doubts, see Sheet`}
            </Text>
            <Knows unit={data} />
          </Box>
          <Button onClick={() => window.print()} data-noprint>
            Print this view
          </Button>
        </Flex>
        <Flex as="nav" aria-label="Parts of the unit" mt="1" wrap="wrap">
          {parts.map(([p, label]) => (
            <Link
              key={p}
              to={{ pathname: `/units/${id}/${p}`, search: version ? `?version=${version}` : "" }}
              aria-current={p === part ? "page" : undefined}
            >
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
        <Title of={data.name} />
        <Part key={`${data.id} ${data.version}`} unit={data} />
      </Box>
    </Box>
  );
}
