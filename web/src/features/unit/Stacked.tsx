import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { memo, useMemo, useState } from "react";
import { ProblemError } from "../../api/client";
import { stackQuery } from "../../api/queries";
import { accessNames } from "../../shared/format";
import { BodyFigure } from "../../shared/stack/BodyFigure";
import { boltsWords, PartFacts } from "../../shared/stack/PartFacts";
import { DrawingTools, type Drawn } from "../../shared/stack/DrawingTools";
import { StackDrawing } from "../../shared/stack/StackDrawing";
import type { Stack } from "../../shared/stack/layout";
import { Empty, Loading, Problem } from "../../shared/states";
import { Heading, Table } from "../../shared/Table";
import { useSingleKey } from "../../shared/useSingleKey";
import type { Unit } from "./unit";

const Body = memo(BodyFigure);

const built = 1.7; // as built a unit is shorter, and drawn so much larger
const zooms = [0.4, 0.6, 0.8, 1, 1.4, 2, 3];

/** The unit's parts in their order: in section, exploded along the shaft, and as a list. */
export function Stacked({ unit }: { unit: Unit }) {
  const { data, error } = useQuery(stackQuery(unit.id, unit.version));
  if (error instanceof ProblemError && error.problem.status === 404)
    return (
      <Empty title="This sheet has no parts in order">
        They stand under stack in the sheet: each part with its place, the way it leaves, marks, traps and torques. A unit that is built
        here begins with those of the nearest one.
      </Empty>
    );
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the parts" />;
  return <Shown stack={data} />;
}

function Shown({ stack }: { stack: Stack }) {
  const [how, setHow] = useState<Drawn>("exploded");
  const [zoom, setZoom] = useState(2);
  const [selected, select] = useState(
    (
      stack.parts.find((p) => p.kind === "pump" && p.boxes.length > 0) ??
      stack.parts.find((p) => p.sitsIn === "" && p.number && p.boxes.length > 0)
    )?.id ?? "",
  );
  const part = stack.parts.find((p) => p.id === selected) ?? stack.parts[0]!;
  const shifts = useMemo(() => (how === "exploded" ? new Map(stack.parts.map((p) => [p.id, p.shift])) : undefined), [how, stack]);
  const step = (by: number) => {
    const at = stack.parts.findIndex((p) => p.id === selected);
    const to = stack.parts[Math.min(stack.parts.length - 1, Math.max(1, at + by))];
    if (to) select(to.id);
  };
  useSingleKey("left", () => step(-1), { preventDefault: true });
  useSingleKey("right", () => step(1), { preventDefault: true });
  useSingleKey("x", () => setHow((h) => (h === "built" ? "exploded" : "built")));
  useSingleKey("+,=", () => setZoom((z) => Math.min(zooms.length - 1, z + 1)), { useKey: true });
  useSingleKey("-", () => setZoom((z) => Math.max(0, z - 1)), { useKey: true });
  const t = stack.tally;
  const nameOf = (id: string) => stack.parts.find((p) => p.id === id)?.name ?? id;
  return (
    <Box>
      <Flex justify="space-between" align="center" gap="4" wrap="wrap" mb="2">
        <Text>
          <b>{t.pieces} pieces</b> in {t.parts - 1} entries · {t.bolts} bolts · {t.fits} select fits · {t.once} renewed every time
          {t.valves > 0 && ` · ${t.valves} bores in the valve body`}
        </Text>
        <Flex gap="4" align="center" wrap="wrap" data-noprint>
          <DrawingTools how={how} setHow={setHow} zoom={zoom} setZoom={setZoom} steps={zooms.length} />
        </Flex>
      </Flex>
      <Box borderTopWidth="1px" borderBottomWidth="1px" borderColor="line" py="2">
        <StackDrawing
          parts={stack.parts}
          axes={stack.axes}
          shifts={shifts}
          selected={selected}
          onSelect={select}
          zoom={zooms[zoom]! * (how === "built" ? built : 1)}
          label={`${stack.unitName} in section, ${how === "exploded" ? "exploded along the shaft" : "as built"}; the same parts are in the list below`}
        />
      </Box>
      <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 5fr) minmax(0, 6fr)" }} gap="8" mt="4">
        <Box as="section" aria-label="Part in hand">
          <Flex justify="space-between" align="start" gap="3">
            <Box>
              <Text as="h2" textStyle="heading" fontWeight="700">
                {part.number && `${part.number} · `}
                {part.name}
              </Text>
              <Text color="ink2" mb="2">
                {part.kindName}
                {part.pieces > 1 && ` · ${part.pieces} pieces`}
                {part.ofNames.length > 0 && ` · ${part.ofNames.join(", ")}`}
              </Text>
            </Box>
            <Flex gap="1" flexShrink={0} data-noprint>
              <Button aria-label="Part before" onClick={() => step(-1)}>
                ◂
              </Button>
              <Button aria-label="Part after" onClick={() => step(1)}>
                ▸
              </Button>
            </Flex>
          </Flex>
          {part.traps.map((x) => (
            <Text key={x.ref} borderLeftWidth="4px" borderColor="fault" bg="faultSoft" px="3" py="1.5" mb="1">
              ▶ {x.on === "in" ? "Going back: " : ""}
              {x.text}
            </Text>
          ))}
          <PartFacts part={part} of="all" nameOf={nameOf} />
        </Box>
        {stack.body && (
          <Box as="section" aria-label="Valve body">
            <Heading note="Seen from the side that comes off. Tap a bore for what slides in it.">Valve body</Heading>
            <Body body={stack.body} />
          </Box>
        )}
      </Grid>
      <PartsList stack={stack} select={select} />
    </Box>
  );
}

/** The same parts as rows. They do not change with what is in hand or how the drawing is laid out. */
const PartsList = memo(function PartsList({ stack, select }: { stack: Stack; select: (id: string) => void }) {
  return (
    <Box as="details" mt="5">
      <summary style={{ minHeight: 44, cursor: "pointer", fontWeight: 700 }}>All parts in order, as a list</summary>
      <Table
        label="Parts in order"
        head={["Out", ">Back", "Part", "Access", "Bolts", "Limit"]}
        rows={stack.parts
          .filter((p) => p.number)
          .map((p) => [
            p.number,
            String(p.back),
            <button
              key="b"
              type="button"
              onClick={() => select(p.id)}
              style={{ textAlign: "left", minHeight: 24, paddingLeft: p.sitsIn ? 14 : 0 }}
            >
              {p.name}
              {p.pieces > 1 && ` (${p.pieces})`}
            </button>,
            accessNames[p.access] ?? p.access,
            p.bolts.map(boltsWords).join("; "),
            p.limits.map((l) => `${l.name} ${l.window}`).join("; "),
          ])}
      />
    </Box>
  );
});
