import { Box, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { caseQuery, findQuery, instrumentsQuery, measurementsQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { quoted } from "../../shared/format";
import { Empty, LoadingPlace, Problem } from "../../shared/states";
import { HandIcon } from "./HandIcon";
import { Kept } from "./Kept";
import { useSettled } from "../../shared/useSettled";
import { Title } from "../../shared/Title";

/** All instruments, found by what is asked or by what is in the hand. */
export function InstrumentsPage() {
  const { data, error } = useQuery(instrumentsQuery);
  const [params, setParams] = useSearchParams();
  const onCase = params.get("case") ?? "";
  const [{ q, hand }, setFind] = useState({ q: params.get("q") ?? "", hand: params.get("hand") ?? "" });
  // What is looked for is kept here and only copied to the address: two quick changes must not undo each other.
  const set = (next: { q: string; hand: string }) => {
    setFind(next);
    setParams({ ...(next.q && { q: next.q }), ...(next.hand && { hand: next.hand }), ...(onCase && { case: onCase }) }, { replace: true });
  };
  const { data: shown } = useQuery({ ...caseQuery(onCase), enabled: onCase !== "" });
  const { data: kept } = useQuery({ ...measurementsQuery(onCase, shown?.rev ?? 0), enabled: onCase !== "" });
  const query = useSettled(q.trim());
  const search = useQuery(findQuery(query, "", "instrument"));
  if (error) return <Problem error={error} />;
  if (!data) return <LoadingPlace title="Instruments" what="the instruments" />;
  const named = query && search.data ? new Set(search.data.map((h) => h.id)) : undefined;
  const found = data.instruments.filter((i) => (!hand || i.heldIn.includes(hand)) && (!named || named.has(i.id)));
  const onwards = onCase ? `?case=${onCase}` : "";
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" flex="1">
      <Title of="Instruments" />
      <Text as="h1" textStyle="title" fontWeight="700">
        Instruments
      </Text>
      <Text color="ink2">
        {shown ? (
          <>
            For{" "}
            <Link to={`/cases/${shown.id}/checks`}>
              <u>
                {shown.vehicle} {quoted(shown.words)}
              </u>
            </Link>
            : its unit and what was measured fill them in.
          </>
        ) : (
          "What the work needs and people skip: each usable alone, on a unit, or from a case."
        )}
      </Text>
      <Grid role="group" aria-label="What is in your hand" templateColumns="repeat(auto-fill, minmax(128px, 1fr))" gap="2" mt="4">
        {data.hands.map((h) => (
          <Chip
            key={h.id}
            type="button"
            aria-pressed={hand === h.id}
            onClick={() => set({ q, hand: hand === h.id ? "" : h.id })}
            display="flex"
            alignItems="center"
            gap="8px"
            px="10px"
            minH="56px"
            lineHeight="1.2"
          >
            <HandIcon id={h.id} />
            {h.title}
          </Chip>
        ))}
      </Grid>
      <Flex gap="4" mt="3" wrap="wrap" align="center">
        <Input
          type="search"
          aria-label="Search the instruments"
          placeholder="What is asked: slips, spring, how hot …"
          w="360px"
          value={q}
          onChange={(e) => set({ q: e.target.value, hand })}
        />
        <Text color="ink2" role="status">
          {found.length === data.instruments.length ? `${found.length} instruments` : `${found.length} of ${data.instruments.length}`}
        </Text>
      </Flex>
      {kept && shown && !q && !hand && <Kept title="Measured in this case" kept={kept} caseId={shown.id} />}
      {found.length === 0 && <Empty title="No instrument answers to that">Fewer words find more; or choose what is in your hand.</Empty>}
      {data.groups.map((g) => {
        const shelf = found.filter((i) => i.group === g.id);
        if (shelf.length === 0) return null;
        return (
          <Box as="section" key={g.id} aria-label={g.title} mt="6">
            <Text as="h2" fontWeight="700" textStyle="subheading" mb="1">
              {g.title}
            </Text>
            <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} columnGap="8">
              {shelf.map((i) => (
                <Link key={i.id} to={`/instruments/${i.id}${onwards}`}>
                  <Box py="2.5" minH="64px" borderTopWidth="1px" borderColor="line" _hover={{ bg: "brassSoft" }}>
                    <Flex justify="space-between" gap="3" align="baseline">
                      <Text fontWeight="600">{i.title}</Text>
                      <Text
                        color="ink2"
                        textStyle="fine"
                        textAlign="right"
                        display={{ base: "none", md: "block" }}
                        flexShrink={0}
                        maxW="45%"
                      >
                        {i.hand.join(", ")}
                      </Text>
                    </Flex>
                    <Text color="ink2" textStyle="note">
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
