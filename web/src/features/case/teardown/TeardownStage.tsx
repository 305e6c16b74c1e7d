import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { ProblemError } from "../../../api/client";
import { Choice } from "../../../shared/Choice";
import { accessNames, percent, signed } from "../../../shared/format";
import { DrawingTools, type Drawn } from "../../../shared/stack/DrawingTools";
import { StackDrawing } from "../../../shared/stack/StackDrawing";
import { Loading, Problem } from "../../../shared/states";
import { useSingleKey } from "../../../shared/useSingleKey";
import { HeadingPanel } from "../HeadingPanel";
import { Photos } from "../Photos";
import { Side } from "../Side";
import { Suspects } from "../Suspects";
import { Trail } from "../Trail";
import { useCase } from "../useCase";
import { BeforeYouGo, trapsOut } from "./BeforeYouGo";
import { Building } from "./Building";
import { ByName } from "./ByName";
import { Hand } from "./Hand";
import { PartPhotos } from "./PartPhotos";
import { Tray } from "./Tray";
import { useBench, type Bench, type BenchPart } from "./useBench";
import { WhyBurnt } from "./WhyBurnt";
import type { Stack, StackPart } from "../../../shared/stack/layout";

const zooms = [0.62, 0.8, 1, 1.4, 2];

/** The unit on the bench: tray, section with the part in hand, what was found on it, traps before the step. */
export function TeardownStage() {
  const { stack, bench, by, error } = useBench();
  if (error instanceof ProblemError && error.problem.status === 404)
    return (
      <Box>
        <Text as="h2" textStyle="heading" fontWeight="700">
          Teardown: what was found
        </Text>
        <Sides />
        <Text color="ink2" mb="3">
          Mark before you move it, lay out in order, photograph. Part by part, as found.
        </Text>
        <WhyBurnt />
        <ByName />
        <Photos />
        <ToDecision />
      </Box>
    );
  if (error) return <Problem error={error} />;
  if (!stack || !bench) return <Loading what="the parts" rows={8} />;
  return <OnTheBench stack={stack} bench={bench} by={by} />;
}

function ToDecision() {
  const { shown } = useCase();
  const navigate = useNavigate();
  return (
    <Flex mt="4" pt="4" borderTopWidth="1px" borderColor="line" justify="flex-end">
      <Button variant="solid" onClick={() => navigate(`/cases/${shown.id}/decision`)}>
        To the decision
      </Button>
    </Flex>
  );
}

/** Parts that came out before anybody noted it: all at once, up to the one in hand. */
function CatchUp({ stack, bench, by, part }: { stack: Stack; bench: Bench; by: Map<string, BenchPart>; part: StackPart }) {
  const { actions } = useCase();
  const at = stack.parts.indexOf(part);
  const before = stack.parts.slice(1, at).filter((p) => !by.get(p.id)?.gone && by.get(p.id)?.reach);
  if (before.length < 2 || part.id === bench.next) return null;
  const notes = before.flatMap((p) => [
    ...trapsOut(p)
      .filter((t) => !by.get(p.id)?.read.includes(t.ref))
      .map((t) => ({ kind: "trap", part: p.id, ref: t.ref })),
    ...(p.mark && !by.get(p.id)?.marked ? [{ kind: "mark", part: p.id, ref: "passed", words: "was out before it was noted" }] : []),
    { kind: "out", part: p.id },
  ]);
  return (
    <Button mb="2" whiteSpace="normal" h="auto" py="2" textAlign="left" onClick={() => actions.bench.mutate(notes)}>
      {before.length} parts before it are out already
    </Button>
  );
}

/** The zones that stand beside the other stages. */
function Sides() {
  return (
    <Flex as="section" aria-label="Sides" gap="2">
      <Side label="Trail" placement="start">
        <Trail />
      </Side>
      <Side label="Heading and suspects" placement="end">
        <HeadingPanel />
        <Suspects />
      </Side>
    </Flex>
  );
}

/** Who leads now: a finding moves it at once. */
function Leads() {
  const { shown } = useCase();
  return (
    <Box as="section" aria-label="Suspects now">
      <Text textStyle="small" color="ink2" mb="1">
        Suspects, with what is found so far
      </Text>
      {shown.suspects.slice(0, 3).map((s) => {
        const change = Math.round(s.change * 100);
        return (
          <Flex key={s.id} justify="space-between" gap="3" py="1" borderTopWidth="1px" borderColor="line">
            <Text>{s.title}</Text>
            <Text flexShrink={0}>
              <b>{percent(s.probability)} %</b> {change !== 0 && <span>{signed(change, 0)}</span>}
            </Text>
          </Flex>
        );
      })}
    </Box>
  );
}

function OnTheBench({ stack, bench, by }: { stack: Stack; bench: Bench; by: Map<string, BenchPart> }) {
  const { shown, actions } = useCase();
  const [chosen, choose] = useState("");
  const [zoom, setZoom] = useState(0);
  const [how, setHow] = useState<Drawn>("exploded");
  // A unit that is on its way back together goes on so.
  const [work, setWork] = useState<"apart" | "build">(bench.built > 0 ? "build" : "apart");
  const selected = chosen || bench.next || bench.beyond || stack.parts[1]?.id || "";
  const part = stack.parts.find((p) => p.id === selected) ?? stack.parts[0]!;
  const state = by.get(part.id) ?? bench.parts[0]!;
  const nameOf = (id: string) => stack.parts.find((p) => p.id === id)?.name ?? id;
  const gone = useMemo(() => new Set(bench.parts.filter((p) => p.gone).map((p) => p.id)), [bench]);
  // What sits in a part of the tray lies there with it.
  const away = useMemo(
    () => new Set(stack.parts.filter((p) => gone.has(p.id) || holders(stack, p).some((h) => gone.has(h))).map((p) => p.id)),
    [stack, gone],
  );
  const shifts = useMemo(() => (how === "exploded" ? new Map(bench.parts.map((p) => [p.id, p.shift])) : undefined), [bench, how]);
  // What lies on the bench is drawn with what still sits in it.
  const lies = work === "build" ? undefined : state.gone ? part.id : holders(stack, part).find((h) => gone.has(h));
  const onBench = useMemo(() => (lies ? new Set(withIn(stack, lies, gone)) : undefined), [lies, stack, gone]);
  const step = (d: number) => {
    const at = stack.parts.findIndex((p) => p.id === selected);
    const to = stack.parts[Math.min(stack.parts.length - 1, Math.max(1, at + d))];
    if (to) choose(to.id);
  };
  const traps = trapsOut(part);
  const out = () => {
    if (!state.ready || shown.closed || work === "build") return;
    actions.bench.mutate([{ kind: "out", part: part.id }]);
    choose("");
  };
  useSingleKey("left", () => step(-1), { preventDefault: true });
  useSingleKey("right", () => step(1), { preventDefault: true });
  useSingleKey("space", (e) => {
    // On a control the space bar works the control.
    if (!(e.target as HTMLElement).closest("button, a, summary, [role=button], input, select, textarea")) {
      e.preventDefault();
      out();
    }
  });
  useSingleKey("u", () => bench.undo && !shown.closed && actions.bench.mutate([{ kind: "", withdraws: bench.undo }]));
  useSingleKey("m", () => part.mark && !state.marked && !shown.closed && actions.bench.mutate([{ kind: "mark", part: part.id }]));
  useSingleKey("x", () => setHow((h) => (h === "built" ? "exploded" : "built")));
  return (
    <Box>
      <Flex justify="space-between" align="center" gap="4" wrap="wrap" mb="2">
        <Box>
          <Text as="h2" textStyle="heading" fontWeight="700">
            {work === "build" ? "Building" : bench.out === 0 ? "Taking apart" : `${bench.out} of ${bench.of} out`}
          </Text>
          <Text color="ink2">
            {work === "build"
              ? "The reverse, each check made or signed for."
              : bench.next
                ? `Next by the list: ${nameOf(bench.next)}`
                : bench.beyond
                  ? `Access ends here. Next would be the ${nameOf(bench.beyond)}: it needs ${accessNames[bench.beyondAccess] ?? bench.beyondAccess}.`
                  : "Everything within reach is out."}
            {bench.lost > 0 && ` · ${bench.lost} notes belong to parts that this unit does not have`}
          </Text>
        </Box>
        <Flex gap="3" align="center" wrap="wrap">
          <Sides />
          <Choice
            label="Which way the work goes"
            value={work}
            options={[
              ["apart", "Taking apart"],
              ["build", "Building"],
            ]}
            onChange={(w) => (setWork(w), choose(""))}
          />
          <DrawingTools how={how} setHow={setHow} zoom={zoom} setZoom={setZoom} steps={zooms.length} />
        </Flex>
      </Flex>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "300px minmax(0, 1fr)" }} borderTopWidth="1px" borderColor="line">
        <Box
          borderRightWidth={{ base: "0", xl: "1px" }}
          borderColor="line"
          pr={{ base: "0", xl: "3" }}
          py="2"
          maxH={{ base: "220px", xl: "400px" }}
          overflowY="auto"
          tabIndex={0}
          role="region"
          aria-label="Tray"
        >
          <Tray stack={stack} bench={bench} by={by} selected={selected} select={choose} />
        </Box>
        <Box minW="0" py="2" pl={{ base: "0", xl: "3" }}>
          <Flex gap="5" align="start">
            <Box flex={onBench ? "0 1 auto" : "1"} minW="0">
              <StackDrawing
                parts={stack.parts}
                axes={stack.axes}
                shifts={onBench ? undefined : shifts}
                gone={onBench ? undefined : away}
                only={onBench}
                selected={selected}
                onSelect={choose}
                zoom={onBench ? 2.2 : zooms[zoom]!}
                pennants={state.gone ? [] : traps.map((t) => ({ part: part.id, letter: t.letter, at: t.at }))}
                label={`${stack.unitName} in section with what is still in it; parts in the tray and in the list`}
              />
            </Box>
            {onBench && (
              <Box display={{ base: "none", md: "block" }} flex="1" minW="0" borderLeftWidth="1px" borderColor="line" pl="4">
                <Text textStyle="small" color="ink2">
                  Where it sits in the unit
                </Text>
                <StackDrawing
                  parts={stack.parts}
                  axes={stack.axes}
                  selected={selected}
                  onSelect={choose}
                  zoom={1}
                  name="Where it sits"
                  label={`${stack.unitName} in section as it is built`}
                />
              </Box>
            )}
          </Flex>
          {onBench && (
            <Button variant="ghost" onClick={() => choose("")}>
              Back to the unit
            </Button>
          )}
        </Box>
      </Grid>
      {work === "build" ? (
        <Building stack={stack} selected={chosen} select={choose} />
      ) : (
        <Grid
          templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 330px", xl: "280px minmax(0, 1fr) 330px" }}
          borderTopWidth="1px"
          borderColor="line"
        >
          <Box py="3" pr={{ base: "0", xl: "4" }} order={{ base: 3, xl: 1 }} borderRightWidth={{ base: "0", xl: "1px" }} borderColor="line">
            <PartPhotos part={part.id} number={part.number} nameOf={nameOf} />
          </Box>
          <Box py="3" px={{ base: "0", xl: "4" }} order={{ base: 2, lg: 1, xl: 2 }} minW="0">
            <Hand key={part.id} stack={stack} bench={bench} part={part} state={state} />
          </Box>
          <Box
            py="3"
            pl={{ base: "0", lg: "4" }}
            order={{ base: 1, lg: 2, xl: 3 }}
            borderLeftWidth={{ base: "0", lg: "1px" }}
            borderColor="line"
          >
            {!shown.closed && <CatchUp stack={stack} bench={bench} by={by} part={part} />}
            <BeforeYouGo key={part.id} bench={bench} part={part} state={state} gone={() => choose("")} goTo={choose} nameOf={nameOf} />
            <Box mt="4">
              <Leads />
            </Box>
          </Box>
        </Grid>
      )}
      <WhyBurnt />
      <Box as="details" mt="3" borderTopWidth="1px" borderColor="line">
        <summary style={{ minHeight: 44, cursor: "pointer", fontWeight: 600 }}>All parts as a list</summary>
        <Box as="ul" listStyleType="none" pl="0">
          {stack.parts
            .filter((p) => p.number)
            .map((p) => (
              <li key={p.id}>
                <button type="button" className="row-button" aria-pressed={p.id === selected} onClick={() => choose(p.id)}>
                  <Flex gap="3" minH="36px" align="center" textAlign="left" pl={p.sitsIn ? "6" : "0"}>
                    <Text w="60px">{p.number}</Text>
                    <Text flex="1">{p.name}</Text>
                    <Text color="ink2">
                      {by.get(p.id)?.gone
                        ? "in the tray"
                        : by.get(p.id)?.free
                          ? "can come out"
                          : by.get(p.id)?.reach
                            ? "held"
                            : "out of reach"}
                    </Text>
                  </Flex>
                </button>
              </li>
            ))}
        </Box>
      </Box>
      <Box as="details" borderTopWidth="1px" borderColor="line">
        <summary style={{ minHeight: 44, cursor: "pointer", fontWeight: 600 }}>
          Findings by name, in words, and pictures with their captions
        </summary>
        <ByName />
        <Photos quiet />
      </Box>
      <ToDecision />
    </Box>
  );
}

/** What a part sits in, from the nearest on. */
function holders(stack: Stack, part: StackPart): string[] {
  const up = stack.parts.find((p) => p.id === part.sitsIn);
  return up ? [up.id, ...holders(stack, up)] : [];
}

/** A part with what still sits in it. */
function withIn(stack: Stack, id: string, gone: Set<string>): string[] {
  const out = [id];
  for (const p of stack.parts) if (out.includes(p.sitsIn) && !gone.has(p.id)) out.push(p.id);
  return out;
}
