import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { checksQuery } from "../../api/queries";
import { accessNames, minutes } from "../../shared/format";
import { Select } from "../../shared/fields";
import { Empty, Loading, Problem } from "../../shared/states";
import { CheckPanel } from "./CheckPanel";
import { InWords } from "./InWords";
import { PlanFigure } from "./PlanFigure";
import { useCase } from "./useCase";

type Item = Schemas["CheckItem"];

const note = (c: Item) => (c.done ? "✓ done" : c.skipped ? `set aside${c.why ? `: ${c.why}` : ""}` : c.beyond ? "opened up too far" : "");

/** What narrows the list; "tools" is the name of one. */
interface Filter {
  text: string;
  access: string;
  hands: string;
  tool: string;
}

const everything: Filter = { text: "", access: "", hands: "", tool: "" };

const fits = (c: Item, f: Filter) =>
  [c.title, c.tells, ...c.tools].join(" ").toLowerCase().includes(f.text.toLowerCase()) &&
  (f.access === "" || (f.access === "here" ? c.climb === 0 && !c.beyond : c.access === f.access)) &&
  (f.hands === "" ||
    (f.hands === "safe"
      ? c.hazard !== "high"
      : f.hands === "instrument"
        ? c.instrument
        : f.hands === "open"
          ? !c.done && !c.skipped && !c.beyond
          : c.tools.length === 0)) &&
  (f.tool === "" || c.tools.includes(f.tool));

function Row({ item, open }: { item: Item; open: () => void }) {
  return (
    <button type="button" onClick={open} style={{ width: "100%", textAlign: "left" }}>
      <Flex
        minH="44px"
        align="center"
        gap="3"
        borderTopWidth="1px"
        borderColor="line"
        py="1.5"
        color={item.done || item.beyond || item.skipped ? "ink2" : "ink"}
        _hover={{ bg: "brassSoft" }}
      >
        <Box flex="1" minW="0">
          <Text fontWeight={item.done ? "400" : "600"}>{item.title}</Text>
          <Text textStyle="small" color="ink2" lineClamp="1">
            {item.tells}
          </Text>
          {(item.hazard === "high" || item.fluid || item.tools.length > 0) && (
            <Text textStyle="small" color="ink2" lineClamp="1">
              {item.hazard === "high" && <b>⚠ can hurt</b>}
              {[item.hazard === "high" && " ", item.fluid && `fluid ${item.fluid}`, item.tools.join(", ")].filter(Boolean).join(" · ")}
            </Text>
          )}
        </Box>
        <Text textStyle="small" color={item.done ? "good" : "ink2"}>
          {note(item)}
        </Text>
        <Text w="64px" textAlign="right">
          {minutes(item.minutes)}
        </Text>
      </Flex>
    </button>
  );
}

function Filters({ items, filter, set }: { items: Item[]; filter: Filter; set: (f: Filter) => void }) {
  const tools = [...new Set(items.flatMap((c) => c.tools))].sort();
  const levels = Object.keys(accessNames).filter((l) => items.some((c) => c.access === l));
  return (
    <Flex gap="2" wrap="wrap" align="end" my="3">
      <Input
        aria-label="Search the checks"
        placeholder="Search"
        type="search"
        w="180px"
        value={filter.text}
        onChange={(e) => set({ ...filter, text: e.target.value })}
      />
      <Select aria-label="Access" w="170px" value={filter.access} onChange={(e) => set({ ...filter, access: e.target.value })}>
        <option value="">any access</option>
        <option value="here">from where it stands</option>
        {levels.map((l) => (
          <option key={l} value={l}>
            {accessNames[l]}
          </option>
        ))}
      </Select>
      <Select aria-label="Kind of check" w="190px" value={filter.hands} onChange={(e) => set({ ...filter, hands: e.target.value })}>
        <option value="">all kinds</option>
        <option value="open">still to be done</option>
        <option value="safe">without high hazard</option>
        <option value="instrument">with an instrument</option>
        <option value="bare">without tools</option>
      </Select>
      <Select aria-label="Tool" w="170px" value={filter.tool} onChange={(e) => set({ ...filter, tool: e.target.value })}>
        <option value="">any tool</option>
        {tools.map((t) => (
          <option key={t} value={t}>
            {t}
          </option>
        ))}
      </Select>
    </Flex>
  );
}

function List({ open }: { open: (check: string) => void }) {
  const { shown } = useCase();
  const [filter, setFilter] = useState(everything);
  const { data, error, refetch } = useQuery(checksQuery(shown.id, shown.rev));
  if (error) return <Problem error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the checks" />;
  const chosen = data.filter((c) => fits(c, filter));
  return (
    <Box>
      {!shown.closed && <PlanFigure />}
      <Text as="h2" textStyle="heading" fontWeight="700">
        All checks
      </Text>
      <Text color="ink2">
        {chosen.length} of {data.length}, from what is free to what takes the unit apart. The heading says which is worth most now.{" "}
        <Link to={`/instruments?case=${shown.id}`}>
          <u>Instruments for this case</u>
        </Link>
      </Text>
      <Filters items={data} filter={filter} set={setFilter} />
      {chosen.length === 0 && (
        <Empty title="No check fits">
          <Button mt="2" onClick={() => setFilter(everything)}>
            Show all
          </Button>
        </Empty>
      )}
      {Object.keys(accessNames).map((level) => {
        const items = chosen.filter((c) => c.access === level);
        const climb = items[0]?.climb ?? 0;
        return (
          items.length > 0 && (
            <Box key={level} as="section" mt="4" aria-label={`Checks at ${accessNames[level]}`}>
              <Flex justify="space-between" color="ink2" textStyle="note" fontWeight="600" pb="1">
                <Text as="h3">{accessNames[level]}</Text>
                <Text>{climb > 0 ? `${minutes(climb)} to get there` : "reached"}</Text>
              </Flex>
              {items.map((c) => (
                <Row key={c.id} item={c} open={() => open(c.id)} />
              ))}
            </Box>
          )
        );
      })}
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
