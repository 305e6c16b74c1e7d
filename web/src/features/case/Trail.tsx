import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { Eye, MessageSquare, Ruler } from "lucide-react";
import { useState, type ReactNode } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { percent, shortMoment, signed, sourceNames, stageNames } from "../../shared/format";
import { useCase } from "./useCase";

type Item = Schemas["TrailItem"];

const icons = { customer: MessageSquare, seen: Eye, measured: Ruler };

/** The bar shows how much a reading weighs for the leader; hatching and the minus sign show that it speaks against. */
function Weight({ value }: { value: number }) {
  return (
    <span className="weight">
      <span
        className="weight-bar"
        data-against={value < 0 ? "" : undefined}
        style={{ width: Math.min(30, Math.abs(value || 0) * 4) }}
        aria-hidden
      />
      <span className="weight-value">{Number.isNaN(value) ? "…" : Math.abs(value) < 0.05 ? "0.0" : signed(value)}</span>
    </span>
  );
}

function Row({ item, open, toggle, compare }: { item: Item; open: boolean; toggle: () => void; compare: () => void }) {
  const { shown, actions } = useCase();
  const Icon = icons[item.source as keyof typeof icons] ?? Eye;
  return (
    <Box bg={open ? "brassSoft" : undefined}>
      <button type="button" className="row-button" aria-expanded={open} onClick={toggle}>
        <span className="trail-row">
          <Icon size={15} aria-label={sourceNames[item.source]} />
          <span className="trail-row-text">
            {item.title}: <b>{item.stateTitle}</b>
            {item.again && <span className="quiet"> · second look</span>}
            {item.unexplained && <span className="loud"> · left over</span>}
            {item.hangsOn && <span className="quiet"> · the lead hangs on this</span>}
          </span>
          <Weight value={item.weight} />
        </span>
      </button>
      {open && (
        <Box px="4" pb="2" pl="10" textStyle="small" color="ink2">
          {item.value && <Text>{item.value}</Text>}
          <Text>{[item.by, shortMoment(item.at)].filter(Boolean).join(", ")}</Text>
          <Text color="ink">
            If this were wrong:{" "}
            {item.withoutLeader === shown.suspects[0]?.title ? (
              <>the same suspect leads, with {percent(item.leaderWithout)}&nbsp;%.</>
            ) : (
              <>
                <b>{item.withoutLeader}</b> leads with {percent(item.withoutShare)}&nbsp;%; the present leader falls to{" "}
                {percent(item.leaderWithout)}&nbsp;%.
              </>
            )}
          </Text>
          <Button mt="1" mr="3" onClick={compare}>
            Compare the rankings
          </Button>
          {!shown.closed && (
            <Button variant="ghost" px="0" onClick={() => actions.read.mutate([{ withdraws: item.id }])}>
              <u>Take back this reading</u>
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}

/** Normal readings that weigh next to nothing, folded away while there are others. */
function Little({ items, row }: { items: Item[]; row: (t: Item) => ReactNode }) {
  if (items.length < 2) return items.map(row);
  return (
    <chakra.details>
      <chakra.summary px="4" minH="44px" alignContent="center" color="ink2" textStyle="small" cursor="pointer">
        {items.length} normal, each under {inView} points
      </chakra.summary>
      {items.map(row)}
    </chakra.details>
  );
}

/** What a normal reading must weigh for the leader to stand in view, points; what is less is folded away. What is abnormal stays. */
const inView = 0.5;
const weighs = (t: Item) => !t.normal || !(Math.abs(t.weight) < inView) || t.unexplained || t.hangsOn;

export function Trail() {
  const { shown } = useCase();
  const [open, setOpen] = useState("");
  const [, setParams] = useSearchParams();
  if (shown.trail.length === 0)
    return (
      <Text px="4" color="ink2">
        No readings yet. Each one shows up here with its weight.
      </Text>
    );
  const row = (t: Item) => (
    <Row
      key={t.id}
      item={t}
      open={open === t.id}
      toggle={() => setOpen(open === t.id ? "" : t.id)}
      compare={() => setParams({ whatif: t.id })}
    />
  );
  const groups = Object.keys(stageNames)
    .map((s) => ({ stage: s, items: shown.trail.filter((t) => t.stage === s) }))
    .filter((g) => g.items.length > 0);
  return (
    <Box>
      {groups.map((g) => (
        <Box key={g.stage} mb="2">
          <Flex px="4" py="1" color="ink2" textStyle="small" fontWeight="600" justify="space-between">
            <Text as="h2">{stageNames[g.stage]}</Text>
            <Text aria-hidden fontWeight="400">
              points
            </Text>
          </Flex>
          {g.items.filter(weighs).map(row)}
          <Little items={g.items.filter((t) => !weighs(t))} row={row} />
        </Box>
      ))}
      {shown.surprise.sentence && (
        <Text px="4" py="2" textStyle="note" borderTopWidth="1px" borderColor="line" color={shown.surprise.outside ? "fault" : "ink"}>
          {shown.surprise.sentence}
        </Text>
      )}
    </Box>
  );
}
