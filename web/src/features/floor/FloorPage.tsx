import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { floorQuery } from "../../api/queries";
import { accessNames, age, quoted, stageNames, stages } from "../../shared/format";
import { SmallRose } from "../../shared/Rose";
import { Empty, Loading, Problem } from "../../shared/states";

type Item = Schemas["FloorItem"];

function matches(item: Item, query: string) {
  const hay = [item.words, item.vehicle, item.unitName, stageNames[item.stage], item.next, item.owner, item.suspect, item.bay]
    .join(" ")
    .toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((w) => hay.includes(w));
}

/** Where a case is in its six stages: bars for the eye, the name for the reader. */
function StageBar({ stage, closed }: { stage: string; closed: boolean }) {
  const here = stages.indexOf(stage);
  return (
    <Box>
      <Flex gap="3px" aria-hidden mb="1">
        {stages.map((s, i) => (
          <Box key={s} h="5px" w="24px" bg={closed || i < here ? "slate" : i === here ? "brass" : "line"} />
        ))}
      </Flex>
      <Text fontSize="13px">{closed ? "Closed" : stageNames[stage]}</Text>
    </Box>
  );
}

const columns = { base: "52px 1fr 60px", lg: "56px minmax(0, 1.5fr) 170px 84px minmax(0, 1fr) 60px" };

function Row({ item }: { item: Item }) {
  return (
    <Link to={`/cases/${item.id}/${item.stage}`} data-case>
      <Grid
        templateColumns={columns}
        gap="3"
        alignItems="center"
        py="2.5"
        px="1"
        borderTopWidth="1px"
        borderColor="line"
        minH="70px"
        _hover={{ bg: "brassSoft" }}
      >
        <SmallRose rose={item.rose} />
        <Box minW="0">
          <Text fontSize="16.5px" fontWeight="700" lineClamp="2">
            {quoted(item.words)}
          </Text>
          <Text color="ink2" fontSize="13.5px">
            {item.returned && <b>↩ a return · </b>}
            {[item.vehicle, item.unitName, item.distance, item.owner].filter(Boolean).join(" · ")}
          </Text>
          <Text display={{ base: "block", lg: "none" }} fontSize="13.5px" mt="1">
            {stageNames[item.stage]} · {accessNames[item.access]} · <b>{item.next}</b>
          </Text>
        </Box>
        <Box display={{ base: "none", lg: "block" }}>
          <StageBar stage={item.stage} closed={item.closed} />
        </Box>
        <Text display={{ base: "none", lg: "block" }}>{accessNames[item.access]}</Text>
        <Box display={{ base: "none", lg: "block" }} minW="0">
          <Text fontWeight="700" fontSize="14px">
            {item.next}
          </Text>
          <Text color="ink2" fontSize="13px" lineClamp="1">
            {item.nextNote}
          </Text>
        </Box>
        <Text textAlign="right" color="ink2">
          {age(item.opened)}
        </Text>
      </Grid>
    </Link>
  );
}

function Head() {
  return (
    <Grid templateColumns={columns} gap="3" px="1" pb="1.5" color="ink2" fontSize="13px" display={{ base: "none", lg: "grid" }} aria-hidden>
      <Box />
      <Box>complaint</Box>
      <Box>stage</Box>
      <Box>stands at</Box>
      <Box>next</Box>
      <Box textAlign="right">here for</Box>
    </Grid>
  );
}

/** Arrow keys walk the rows like any list. */
function useRowKeys(list: React.RefObject<HTMLDivElement | null>) {
  const move = (by: number) => {
    const rows = [...(list.current?.querySelectorAll<HTMLElement>("[data-case]") ?? [])];
    const i = rows.findIndex((r) => r === document.activeElement);
    rows[Math.min(rows.length - 1, Math.max(0, i + by))]?.focus();
  };
  useHotkeys("down", () => move(1), { preventDefault: true });
  useHotkeys("up", () => move(-1), { preventDefault: true });
}

export function FloorPage() {
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  // The URL follows the field, not the other way round: navigation is slower than fingers.
  const [query, setQuery] = useState(params.get("q") ?? "");
  const { data, error, refetch, isPending } = useQuery(floorQuery);
  const list = useRef<HTMLDivElement>(null);
  const search = useRef<HTMLInputElement>(null);
  useHotkeys("n", () => navigate("/take-in"));
  useHotkeys("/", () => search.current?.focus(), { preventDefault: true, useKey: true });
  useRowKeys(list);
  const shown = (data ?? []).filter((i) => matches(i, query));
  const open = (data ?? []).filter((i) => !i.closed);
  const waiting = open.filter((i) => i.waitsFor).length;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} pb="10" w="full">
      <Flex align="center" gap="4" py="4" wrap="wrap">
        <Text as="h1" fontSize="24px" fontWeight="700">
          On the floor
        </Text>
        {data && (
          <Text color="ink2">
            {open.length} open{waiting > 0 && ` · ${waiting} ${waiting === 1 ? "waits" : "wait"} for someone`}
          </Text>
        )}
        <Input
          ref={search}
          type="search"
          w={{ base: "full", lg: "300px" }}
          order={{ base: 3, lg: 0 }}
          ml={{ base: "0", lg: "auto" }}
          placeholder="Find a case  ( / )"
          aria-label="Find a case"
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            setParams(e.target.value ? { q: e.target.value } : {}, { replace: true });
          }}
        />
        <Button variant="solid" ml={{ base: "auto", lg: "0" }} onClick={() => navigate("/take-in")}>
          Take in a vehicle <kbd>n</kbd>
        </Button>
      </Flex>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {isPending && !error && <Loading what="the floor" />}
      {data?.length === 0 && (
        <Empty title="The floor is empty">
          Take in the first vehicle: the customer’s words, the vehicle, its unit. Everything else comes as it is found.
        </Empty>
      )}
      {data && data.length > 0 && shown.length === 0 && (
        <Empty title="No case matches">Nothing here has all of “{query}” in its complaint, vehicle, unit, stage or owner.</Empty>
      )}
      {shown.length > 0 && <Head />}
      <Box ref={list}>
        {shown.map((i) => (
          <Row key={i.id} item={i} />
        ))}
      </Box>
    </Box>
  );
}
