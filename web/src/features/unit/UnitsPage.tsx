import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { findQuery, unitsQuery } from "../../api/queries";
import { Empty, Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { UnitOutline } from "../../shared/UnitOutline";
import { BringIn } from "./BringIn";
import { useSettled } from "../../shared/useSettled";

/** A unit as one knows it: its shape, its name, what it is in one line. */
function Tile({ unit }: { unit: Schemas["UnitItem"] }) {
  return (
    <Link to={`/units/${unit.id}`}>
      <Flex
        h="full"
        direction="column"
        gap="2"
        px="4"
        py="4"
        borderRightWidth="1px"
        borderBottomWidth="1px"
        borderColor="line"
        _hover={{ bg: "brassSoft" }}
      >
        <Box h="132px" display="grid" placeItems="center" color="ink2" textStyle="small">
          {unit.zones.length > 0 ? <UnitOutline zones={unit.zones} /> : "no drawing in its sheet"}
        </Box>
        <Flex justify="space-between" align="baseline" gap="3">
          <Text textStyle="subheading" fontWeight="700">
            {unit.name}
          </Text>
          <Text color="ink2" textStyle="small" whiteSpace="nowrap">
            {unit.own ? "own sheet" : "sheet"} {unit.version}
          </Text>
        </Flex>
        <Text lineClamp="2">{unit.summary}</Text>
        <Text color="ink2" textStyle="small">
          {unit.facts.join(" · ")}
        </Text>
      </Flex>
    </Link>
  );
}

export function UnitsPage() {
  const { data, error, refetch } = useQuery(unitsQuery);
  const [text, setText] = useState("");
  const query = useSettled(text.trim());
  const search = useQuery(findQuery(query, "", "unit"));
  const found = query && search.data ? search.data.map((h) => h.id) : undefined;
  const shown = data?.filter((u) => !u.generic && (!found || found.includes(u.id)));
  const generic = data?.filter((u) => u.generic && (!query || u.name.toLowerCase().includes(query.toLowerCase()))) ?? [];
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Title of="Units" />
      <Flex align="center" mb="4" gap="4" wrap="wrap">
        <Text as="h1" textStyle="title" fontWeight="700">
          Units
        </Text>
        <Input
          type="search"
          aria-label="Find a unit"
          placeholder="name or kind: four-speed, transaxle"
          maxW="320px"
          ml={{ md: "auto" }}
          maxLength={120}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <BringIn />
        <Button asChild>
          <Link to="/units/new">Write a sheet</Link>
        </Button>
        <Button asChild variant="solid">
          <Link to="/units/build">Build a unit</Link>
        </Button>
      </Flex>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the units" rows={6} />}
      {data?.length === 0 && <Empty title="No unit on file">A unit sheet describes a design; see docs/unit-sheet.md.</Empty>}
      {shown?.length === 0 && data && data.length > 0 && <Empty title="No unit has these words">Fewer words find more.</Empty>}
      {shown && shown.length > 0 && (
        <Grid templateColumns="repeat(auto-fill, minmax(272px, 1fr))" borderTopWidth="1px" borderLeftWidth="1px" borderColor="line">
          {shown.map((u) => (
            <Tile key={u.id} unit={u} />
          ))}
        </Grid>
      )}
      {generic.length > 0 && (
        <Box as="section" aria-label="Not known yet which" mt="6">
          <Text as="h2" textStyle="subheading" fontWeight="700">
            Not known yet which
          </Text>
          <Text color="ink2" mb="2">
            Take a vehicle in on one of these when nobody can say what is in it. The case moves to the right sheet later and keeps its
            readings.
          </Text>
          <Grid templateColumns="repeat(auto-fill, minmax(272px, 1fr))" columnGap="4">
            {generic.map((u) => (
              <Link key={u.id} to={`/units/${u.id}/faults`}>
                <Flex minH="44px" align="center" borderTopWidth="1px" borderColor="line" _hover={{ bg: "brassSoft" }}>
                  {u.name}
                </Flex>
              </Link>
            ))}
          </Grid>
        </Box>
      )}
    </Box>
  );
}
