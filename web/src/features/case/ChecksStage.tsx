import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { checksQuery, findQuery } from "../../api/queries";
import { accessNames, minutes } from "../../shared/format";
import { Chip } from "../../shared/Chip";
import { Disclosed } from "../../shared/Disclosed";
import { Empty, Loading, Problem } from "../../shared/states";
import { useSettled } from "../../shared/useSettled";
import { CheckPanel } from "./CheckPanel";
import { InWords } from "./InWords";
import { PlanFigure } from "./PlanFigure";
import { useCase } from "./useCase";

type Item = Schemas["CheckItem"];

const note = (c: Item) => (c.done ? "✓ done" : c.skipped ? `set aside${c.why ? `: ${c.why}` : ""}` : c.beyond ? "opened up too far" : "");

/** What narrows the list beside the words: each a switch, all at once. */
const narrow = {
  here: { title: "from here", fits: (c: Item) => c.climb === 0 && !c.beyond },
  bare: { title: "no tools", fits: (c: Item) => c.tools.length === 0 },
  instrument: { title: "with an instrument", fits: (c: Item) => c.instrument },
  safe: { title: "no high hazard", fits: (c: Item) => c.hazard !== "high" },
};
type Switch = keyof typeof narrow;
const switches = Object.keys(narrow) as Switch[];

/** How much a check would tell beside the most telling one, as a bar. */
function Tells({ part }: { part: number }) {
  return (
    <Box w="44px" flex="none" role="img" aria-label={`tells ${Math.round(100 * part)} of 100 of the most telling check`}>
      <Box h="6px" w={`${Math.max(8, 100 * part)}%`} bg={part === 1 ? "brass" : "slate"} />
    </Box>
  );
}

function Row({ item, open }: { item: Item; open: () => void }) {
  const behind = item.done || item.beyond || item.skipped;
  return (
    <button type="button" onClick={open} style={{ width: "100%", textAlign: "left" }}>
      <Flex
        minH="44px"
        align="center"
        gap="3"
        borderTopWidth="1px"
        borderColor="line"
        py="1.5"
        color={behind ? "ink2" : "ink"}
        _hover={{ bg: "brassSoft" }}
      >
        <Box flex="1" minW="0">
          <Text fontWeight={item.done ? "400" : "600"}>{item.title}</Text>
          <Text textStyle="small" color="ink2" lineClamp="1">
            {item.hazard === "high" && <b>⚠ can hurt </b>}
            {[item.fluid && `fluid ${item.fluid}`, item.tools.join(", ") || item.tells].filter(Boolean).join(" · ")}
          </Text>
        </Box>
        <Text textStyle="small" color={item.done ? "good" : "ink2"}>
          {note(item)}
        </Text>
        {item.telling > 0 && !behind && <Tells part={item.telling} />}
        <Text w="56px" textAlign="right">
          {minutes(item.minutes)}
        </Text>
      </Flex>
    </button>
  );
}

/** Checks by how far the vehicle must be opened up, with the climb between. */
function Ladder({ items, open }: { items: Item[]; open: (check: string) => void }) {
  return Object.keys(accessNames).map((level) => {
    const here = items.filter((c) => c.access === level).sort((a, b) => b.telling - a.telling);
    const climb = here[0]?.climb ?? 0;
    return (
      here.length > 0 && (
        <Box key={level} as="section" mt="3" aria-label={`Checks at ${accessNames[level]}`}>
          <Flex gap="3" align="baseline" color="ink2" textStyle="note" pb="1">
            <Text as="h3" fontWeight="600">
              {climb > 0 && <span aria-hidden>↑ </span>}
              {accessNames[level]}
            </Text>
            <Text>{climb > 0 ? `${minutes(climb)} to get there` : "reached"}</Text>
          </Flex>
          {here.map((c) => (
            <Row key={c.id} item={c} open={() => open(c.id)} />
          ))}
        </Box>
      )
    );
  });
}

function Filters({ text, setText, on, toggle }: { text: string; setText: (t: string) => void; on: Switch[]; toggle: (s: Switch) => void }) {
  return (
    <Flex gap="2" my="3" overflowX="auto" pb="1">
      <Input
        aria-label="Search the checks"
        placeholder="Search all checks"
        type="search"
        flex="1 0 150px"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {switches.map((s) => (
        <Chip key={s} type="button" flex="none" px="10px" aria-pressed={on.includes(s)} onClick={() => toggle(s)}>
          {narrow[s].title}
        </Chip>
      ))}
    </Flex>
  );
}

/** The plan's checks, then those that still tell something; everything else is found by its words. */
function List({ open }: { open: (check: string) => void }) {
  const { shown } = useCase();
  const [text, setText] = useState("");
  const [on, setOn] = useState<Switch[]>([]);
  const { data, error, refetch } = useQuery(checksQuery(shown.id, shown.rev));
  const query = useSettled(text.trim());
  const search = useQuery(findQuery(query, shown.id, "check"));
  const order = query ? (search.data ?? []).map((h) => h.id) : [];
  const kept = (data ?? []).filter((c) => on.every((s) => narrow[s].fits(c)));
  const found = query ? kept.filter((c) => order.includes(c.id)) : kept.filter((c) => c.telling > 0);
  const done = query ? [] : kept.filter((c) => c.done && !c.skipped);
  const aside = query ? [] : kept.filter((c) => c.skipped);
  return (
    <Box>
      {!shown.closed && <PlanFigure />}
      <Flex justify="space-between" align="baseline" gap="3" wrap="wrap">
        <Text as="h2" textStyle="heading" fontWeight="700">
          {query ? "Checks found" : "What else would tell"}{" "}
          {data && (
            <Text as="span" textStyle="label" fontWeight="400" color="ink2">
              {found.length} of {data.length} checks
            </Text>
          )}
        </Text>
        <Flex gap="4">
          <Link to={`/instruments?case=${shown.id}`}>
            <u>Instruments for this case</u>
          </Link>
          <Link to={`/recordings?case=${shown.id}`}>
            <u>Its recordings</u>
          </Link>
        </Flex>
      </Flex>
      <Filters text={text} setText={setText} on={on} toggle={(s) => setOn(on.includes(s) ? on.filter((x) => x !== s) : [...on, s])} />
      {error ? (
        <Problem error={error} retry={() => void refetch()} />
      ) : !data || (query && !search.data) ? (
        <Loading what="the checks" />
      ) : (
        <>
          {found.length === 0 &&
            (query || on.length > 0 ? (
              <Empty title="No check fits">
                <Button
                  mt="2"
                  onClick={() => {
                    setText("");
                    setOn([]);
                  }}
                >
                  Clear the search
                </Button>
              </Empty>
            ) : (
              <Text py="3">No check that is left would tell much. Search finds the others.</Text>
            ))}
          <Ladder items={found} open={open} />
          {aside.length > 0 && (
            <Box as="section" mt="3" aria-label="Set aside">
              <Text as="h3" color="ink2" textStyle="note" fontWeight="600" pb="1">
                set aside
              </Text>
              {aside.map((c) => (
                <Row key={c.id} item={c} open={() => open(c.id)} />
              ))}
            </Box>
          )}
          {done.length > 0 && (
            <Disclosed title={`Done: ${done.length}`}>
              {done.map((c) => (
                <Row key={c.id} item={c} open={() => open(c.id)} />
              ))}
            </Disclosed>
          )}
        </>
      )}
      <Box mt="4">
        <InWords stage="checks" source="seen" />
      </Box>
    </Box>
  );
}

export function ChecksStage() {
  const [params, setParams] = useSearchParams();
  const check = params.get("check");
  if (check) return <CheckPanel key={check} id={check} back={() => setParams({})} />;
  return <List open={(c) => setParams({ check: c })} />;
}
