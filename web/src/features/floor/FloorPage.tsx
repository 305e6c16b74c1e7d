import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { backupQuery, floorQuery, settingsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { accessNames, age, number, quoted, stageNames, stages } from "../../shared/format";
import { SmallRose } from "../../shared/Rose";
import { Empty, Loading, Problem } from "../../shared/states";
import { useSettled } from "../../shared/useSettled";
import { Title } from "../../shared/Title";
import { useSingleKey } from "../../shared/useSingleKey";

const FirstStart = lazy(async () => ({ default: (await import("./FirstStart")).FirstStart }));

type Item = Schemas["FloorItem"];

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
      <Text textStyle="small">{closed ? "Closed" : stageNames[stage]}</Text>
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
          <Text textStyle="lead" fontWeight="700" lineClamp="2">
            {quoted(item.words)}
          </Text>
          <Text color="ink2" textStyle="note">
            {item.sample && <b>sample, made up · </b>}
            {item.returned && <b>↩ a return · </b>}
            {[item.vehicle, item.unitName, item.distance, item.owner].filter(Boolean).join(" · ")}
          </Text>
          <Text display={{ base: "block", lg: "none" }} textStyle="note" mt="1">
            {stageNames[item.stage]} · {accessNames[item.access]} · <b>{item.next}</b>
          </Text>
        </Box>
        <Box display={{ base: "none", lg: "block" }}>
          <StageBar stage={item.stage} closed={item.closed} />
        </Box>
        <Text display={{ base: "none", lg: "block" }}>{accessNames[item.access]}</Text>
        <Box display={{ base: "none", lg: "block" }} minW="0">
          <Text fontWeight="700" textStyle="label">
            {item.next}
          </Text>
          <Text color="ink2" textStyle="small" lineClamp="1">
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
    <Grid
      templateColumns={columns}
      gap="3"
      px="1"
      pb="1.5"
      color="ink2"
      textStyle="small"
      display={{ base: "none", lg: "grid" }}
      aria-hidden
    >
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

function SafetyLine({ loud, children }: { loud: boolean; children: string }) {
  return (
    <Link to="/backup">
      <Text
        color={loud ? "fault" : "ink2"}
        fontWeight={loud ? "700" : "400"}
        textStyle="small"
        mb="2"
        py={loud ? "2" : "0"}
        px={loud ? "3" : "0"}
        bg={loud ? "faultSoft" : undefined}
      >
        {loud && "▲ "}
        {children}
      </Text>
    </Link>
  );
}

/** When the last good backup was, and the reserve if it needs somebody; loud only then. */
function Safety() {
  const { data } = useQuery(backupQuery);
  if (!data) return null;
  const { planned, last, late, reserve } = data;
  return (
    <>
      {reserve?.promoted ? (
        <SafetyLine loud>Another machine took over. Nothing is saved here any more. Work there.</SafetyLine>
      ) : (
        reserve?.late && (
          <SafetyLine loud>
            {reserve.at ? `The reserve has had nothing for ${age(reserve.at)}` : "The reserve has had nothing yet"}
          </SafetyLine>
        )
      )}
      {planned && <SafetyLine loud={late || !last}>{last ? `Last good backup ${age(last)} ago` : "No good backup yet"}</SafetyLine>}
    </>
  );
}

export function FloorPage() {
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  // The URL follows the field, not the other way round: navigation is slower than fingers.
  const [query, setQuery] = useState(params.get("q") ?? "");
  const closed = params.get("show") === "closed";
  const { data, error, refetch, isPending, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery(
    floorQuery(closed, useSettled(query.trim())),
  );
  const list = useRef<HTMLDivElement>(null);
  useSingleKey("n", () => navigate("/take-in"));
  useRowKeys(list);
  const rows = data?.pages.flatMap((p) => p.items) ?? [];
  const counts = data?.pages[0];
  const { data: settings } = useQuery(settingsQuery);
  const first = counts && settings && counts.open + counts.closed === 0 && query.trim() === "" && !closed;
  if (first)
    return (
      <Box as="main" px={{ base: "3", md: "5" }} pb="10" w="full">
        <Title of="Floor" />
        <Text as="h1" srOnly>
          On the floor
        </Text>
        <Suspense fallback={<Loading what="the first start" />}>
          <FirstStart settings={settings} />
        </Suspense>
      </Box>
    );
  const show = (next: { q?: string; closed?: boolean }) => {
    const q = next.q ?? query;
    setParams({ ...(q ? { q } : {}), ...((next.closed ?? closed) ? { show: "closed" } : {}) }, { replace: true });
  };
  return (
    <Box as="main" px={{ base: "3", md: "5" }} pb="10" w="full">
      <Title of="Floor" />
      <Flex align="center" gap="4" py="4" wrap="wrap">
        <Text as="h1" textStyle="title" fontWeight="700">
          On the floor
        </Text>
        {counts && (
          <Choice
            label="Cases"
            value={closed ? "closed" : "open"}
            options={[
              ["open", `${number(counts.open)} open`],
              ["closed", `${number(counts.closed)} closed`],
            ]}
            onChange={(v) => show({ closed: v === "closed" })}
          />
        )}
        <Input
          type="search"
          w={{ base: "full", lg: "300px" }}
          order={{ base: 3, lg: 0 }}
          ml={{ base: "0", lg: "auto" }}
          placeholder="Find a case"
          aria-label="Find a case"
          maxLength={120}
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            show({ q: e.target.value });
          }}
        />
        <Button variant="solid" ml={{ base: "auto", lg: "0" }} onClick={() => navigate("/take-in")}>
          Take in a vehicle <kbd>n</kbd>
        </Button>
      </Flex>
      <Safety />
      {error && <Problem error={error} retry={() => void refetch()} />}
      {isPending && !error && <Loading what="the floor" />}
      {counts && closed && rows.length === 0 && query.trim() === "" && (
        <Empty title="Nothing is closed yet">A case is closed from its proof, with what was found and what came of it.</Empty>
      )}
      {counts && rows.length === 0 && query.trim() === "" && !closed && counts.closed > 0 && (
        <Empty title="No case is open">{number(counts.closed)} are closed.</Empty>
      )}
      {counts && rows.length === 0 && query.trim() !== "" && (
        <Empty title="No case matches">
          No {closed ? "closed" : "open"} case has all of “{query}” in its complaint, vehicle, customer, unit, stage, owner or bay.
          {(closed ? counts.open : counts.closed) > 0 &&
            ` ${number(closed ? counts.open : counts.closed)} ${closed ? "open" : "closed"} ${(closed ? counts.open : counts.closed) === 1 ? "case has" : "cases have"}.`}
        </Empty>
      )}
      {rows.length > 0 && <Head />}
      <Box ref={list}>
        {rows.map((i) => (
          <Row key={i.id} item={i} />
        ))}
      </Box>
      {hasNextPage && (
        <Flex justify="center" mt="4">
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more
          </Button>
        </Flex>
      )}
    </Box>
  );
}
