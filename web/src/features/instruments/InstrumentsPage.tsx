import { Box, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, useSearchParams } from "react-router";
import { instrumentsQuery } from "../../api/queries";
import { SelectField } from "../../shared/fields";
import { Empty, Loading, Problem } from "../../shared/states";

/** All instruments, found by what is asked or by what is in the hand. */
export function InstrumentsPage() {
  const { data, error } = useQuery(instrumentsQuery);
  const [params, setParams] = useSearchParams();
  const [{ q, hand }, setFind] = useState({ q: params.get("q") ?? "", hand: params.get("hand") ?? "" });
  // What is looked for is kept here and only copied to the address: two quick changes must not undo each other.
  const set = (next: { q: string; hand: string }) => {
    setFind(next);
    const kept = params.get("case");
    setParams({ ...(next.q && { q: next.q }), ...(next.hand && { hand: next.hand }), ...(kept && { case: kept }) }, { replace: true });
  };
  useHotkeys("/", (e) => {
    e.preventDefault();
    document.getElementById("find-instrument")?.focus();
  });
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the instruments" />;
  const hands = [...new Set(data.instruments.flatMap((i) => i.hand))].sort();
  const words = q.toLowerCase().split(/\s+/).filter(Boolean);
  const found = data.instruments.filter(
    (i) => (!hand || i.hand.includes(hand)) && words.every((w) => `${i.title} ${i.answers} ${i.hand.join(" ")}`.toLowerCase().includes(w)),
  );
  const onwards = params.get("case") ? `?case=${params.get("case")}` : "";
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" flex="1">
      <Text as="h1" fontSize="24px" fontWeight="700">
        Instruments
      </Text>
      <Text color="ink2">What the work needs and people skip: each usable alone, on a unit, or from a case.</Text>
      <Flex gap="4" mt="3" wrap="wrap" align="end">
        <Input
          id="find-instrument"
          type="search"
          aria-label="Search the instruments"
          placeholder="What is asked: slips, spring, how hot …"
          w="320px"
          value={q}
          onChange={(e) => set({ q: e.target.value, hand })}
        />
        <Box w="220px">
          <SelectField
            label="In the hand"
            value={hand}
            options={[["", "anything"], ...hands.map((h): [string, string] => [h, h])]}
            onChange={(e) => set({ q, hand: e.target.value })}
          />
        </Box>
        <Text color="ink2" pb="2.5">
          {found.length} of {data.instruments.length}
        </Text>
      </Flex>
      {found.length === 0 && <Empty title="No instrument answers to that">Fewer words find more; or choose what is in your hand.</Empty>}
      {data.groups.map((g) => {
        const shelf = found.filter((i) => i.group === g.id);
        if (shelf.length === 0) return null;
        return (
          <Box as="section" key={g.id} aria-label={g.title} mt="6">
            <Text as="h2" fontWeight="700" fontSize="17px" mb="1">
              {g.title}
            </Text>
            <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} columnGap="8">
              {shelf.map((i) => (
                <Link key={i.id} to={`/instruments/${i.id}${onwards}`}>
                  <Box py="2.5" minH="64px" borderTopWidth="1px" borderColor="line" _hover={{ bg: "brassSoft" }}>
                    <Text fontWeight="600">{i.title}</Text>
                    <Text color="ink2" fontSize="13.5px">
                      {i.answers}
                    </Text>
                  </Box>
                </Link>
              ))}
            </Grid>
          </Box>
        );
      })}
    </Box>
  );
}
