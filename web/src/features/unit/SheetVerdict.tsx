import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { Heading, Table } from "../../shared/Table";
import { ratio } from "./unit";

function Problems({
  title,
  list,
  goTo,
  loud,
}: {
  title: string;
  list: Schemas["SheetProblem"][];
  goTo: (line: number) => void;
  loud?: boolean;
}) {
  return (
    <Box mb="5">
      <Heading>{title}</Heading>
      {list.map((p, i) => (
        <Box
          as="button"
          key={i}
          display="block"
          w="full"
          textAlign="left"
          minH="44px"
          py="1.5"
          pl="3"
          borderLeftWidth="3px"
          borderTopWidth="1px"
          borderTopColor="line"
          borderLeftColor={loud ? "fault" : "slate"}
          onClick={() => goTo(p.line)}
        >
          <Text fontWeight="600">
            {p.line > 0 && `Line ${p.line}: `}
            {p.path}
          </Text>
          <Text>{p.reason}</Text>
          {p.accepted && <Text color="ink2">Accepted: {p.accepted}</Text>}
        </Box>
      ))}
    </Box>
  );
}

/** What the sheet comes to: what is wrong, or what its gears do. */
export function SheetVerdict({ check, stale, goTo }: { check: Schemas["SheetCheck"]; stale: boolean; goTo: (line: number) => void }) {
  return (
    <Box opacity={stale ? 0.6 : 1} aria-live="polite">
      {!check.good && (
        <Problems
          title={check.problems.length === 1 ? "One thing is wrong" : `${check.problems.length} things are wrong`}
          list={check.problems}
          goTo={goTo}
          loud
        />
      )}
      {check.good && (
        <>
          <Box mb="5">
            <Heading note={`${check.faults} failures follow from it; a road test tells ${check.groups} kinds apart.`}>
              It solves: {check.name}
            </Heading>
            <Table
              label="Ranges"
              head={["range", "does", ">ratio", "foot off"]}
              rows={check.ranges.map((r) => [
                r.id,
                r.outcome,
                r.ratio ? ratio(r.ratio) : "",
                r.coast === "brakes" ? "engine brakes" : r.coast,
              ])}
            />
          </Box>
          {check.shipped && <Text mb="3">This id belongs to a sheet that comes with the app. Choose one of your own.</Text>}
          {!check.shipped && check.taken >= check.version && (
            <Text mb="3">
              Version {check.taken} is stored already; a changed sheet needs version {check.taken + 1}.
            </Text>
          )}
          {check.doubts.length > 0 && <Problems title="It can be saved, but this does not fit together" list={check.doubts} goTo={goTo} />}
        </>
      )}
    </Box>
  );
}
