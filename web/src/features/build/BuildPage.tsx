import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { answer, api } from "../../api/client";
import { unitsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { LoadingPlace, Problem } from "../../shared/states";
import { Switch } from "../../shared/Switch";
import { Title } from "../../shared/Title";
import { useSingleKey } from "../../shared/useSingleKey";
import { worker } from "../../shared/worker";
import { SpeedDiagram } from "../unit/SpeedDiagram";
import type { Unit } from "../unit/unit";
import { ChartGrid } from "./ChartGrid";
import { ControlsTable } from "./ControlsTable";
import { ElementPanel } from "./ElementPanel";
import { GearsPanel } from "./GearsPanel";
import { LinesFigure, type Tapping } from "./Lines";
import { Known } from "./Known";
import { LeakPlaces } from "./LeakPlaces";
import { leaksOf } from "./leaks";
import { linesOf, size } from "./linesLayout";
import { pickedAfter, placed } from "./ownGears";
import { NumberSources } from "../../shared/NumberSources";
import { PastePanel } from "./PastePanel";
import { Places } from "./Places";
import { Rail } from "./Rail";
import { RangePanel } from "./RangePanel";
import { elementsOf, freeID, hasGears, nextRange, rangesOf, type Sheet, type View } from "./sheet";
import { useBuild } from "./useBuild";

type Open = { element: string } | { range: string } | { gears: true } | { paste: true } | undefined;

/** What runs in the row that is looked at. */
function runningOf(view: View, range: string) {
  const r = view.ranges.find((x) => x.id === range);
  if (!r?.driving) return undefined;
  const speeds = Object.fromEntries(r.speeds.filter((s) => s.known).map((s) => [s.member, s.speed]));
  return { on: [...r.applied, ...r.holding], speeds, word: r.name };
}

/** A unit of one's own, from what one knows of it. */
export function BuildPage() {
  const { id = "" } = useParams();
  const build = useBuild(id);
  const { draft, view } = build;
  if (build.error) return <Problem error={build.error} retry={build.retry} />;
  if (!draft || !view) return <LoadingPlace title="Build a unit" what="the unit" />;
  return <Builder key={id} id={id} build={build} sheet={draft.sheet} view={view} />;
}

function Builder({ id, build, sheet, view }: { id: string; build: ReturnType<typeof useBuild>; sheet: Sheet; view: View }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [params] = useSearchParams();
  const [picked, setPicked] = useState("");
  const [open, setOpen] = useState<Open>();
  const gears = hasGears(sheet);
  const { change } = build;
  const save = useMutation({
    mutationFn: (use: boolean) =>
      answer(api.POST("/drafts/{id}/sheet", { params: { path: { id } }, body: { by: worker() } })).then((u) => ({ u, use })),
    onSuccess: ({ u, use }) => {
      void client.invalidateQueries({ queryKey: unitsQuery.queryKey });
      void client.invalidateQueries({ queryKey: ["unit", u.id] });
      const back = params.get("for") === "take-in" ? "&kept=1" : "";
      void navigate(use ? `/take-in?unit=${u.id}${back}` : `/units/${u.id}/faults`);
    },
  });
  const ready = view.ready && !build.saving;
  useSingleKey("s", () => ready && save.mutate(false));
  const [pickedLines, pickLines] = useState<string[]>([]);
  const row = rangesOf(sheet).find((r) => r.id === picked)?.id ?? rangesOf(sheet).find((r) => r.outcome === "forward")?.id ?? "";
  const toggle = (next: Exclude<Open, undefined>) => setOpen((o) => (JSON.stringify(o) === JSON.stringify(next) ? undefined : next));
  const element = open && "element" in open ? elementsOf(sheet).find((e) => e.id === open.element) : undefined;
  const tapping: Tapping | undefined = !gears
    ? undefined
    : open && "gears" in open
      ? { picked: pickedLines, tap: (line) => pickLines(pickedAfter(pickedLines, line)) }
      : element && {
          picked: [element.a, element.b].filter((x): x is string => !!x),
          tap: (line) => change((s) => ({ ...s, elements: elementsOf(s).map((e) => (e.id === element.id ? placed(e, line) : e)) })),
        };
  const lines = linesOf(sheet, tapping ? size.tapped : undefined);
  const range = open && "range" in open ? rangesOf(sheet).find((r) => r.id === open.range) : undefined;
  const addElement = () => {
    const made = freeID(
      elementsOf(sheet).map((e) => e.id),
      "E",
    );
    change((s) => ({ ...s, elements: [...elementsOf(s), { id: made, name: "", kind: "clutch" }] }));
    setOpen({ element: made });
  };
  const addRange = (outcome: string) => change((s) => ({ ...s, ranges: [...rangesOf(s), nextRange(s, outcome)] }));
  return (
    <Box as="main" w="full">
      <Title of={sheet.name || "New unit"} />
      <Flex px={{ base: "3", md: "5" }} py="3" gap="4" align="center" wrap="wrap" borderBottomWidth="1px" borderColor="line">
        <Text as="h1" textStyle="title" fontWeight="700">
          {view.taken > 0 ? "Your unit" : "New unit"}
        </Text>
        <Input
          aria-label="Name of the unit"
          placeholder="What do you call it?"
          w="260px"
          fontWeight="700"
          fontSize="17px"
          maxLength={80}
          value={sheet.name}
          onChange={(e) => change((s) => ({ ...s, name: e.target.value }))}
        />
        <Text color="ink2" textStyle="small" role="status">
          {build.failed ? "not saved" : build.saving ? "saving …" : "saved"}
          {view.taken > 0 && ` · version ${view.taken} on file`}
        </Text>
        <Flex ml="auto" gap="3">
          <Button disabled={!ready} loading={save.isPending} onClick={() => save.mutate(false)}>
            Save the sheet <kbd>s</kbd>
          </Button>
          <Button variant="solid" disabled={!ready} onClick={() => save.mutate(true)}>
            Use it in a case
          </Button>
        </Flex>
      </Flex>
      {build.failed !== undefined && (
        <Box px="5">
          <Problem error={build.failed} retry={build.again} />
        </Box>
      )}
      {save.error && (
        <Box px="5">
          <Problem error={save.error} />
        </Box>
      )}
      <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 320px" }}>
        <Box px={{ base: "3", md: "5" }} py="3" minW="0" borderRightWidth={{ lg: "1px" }} borderColor="line">
          <Flex justify="space-between" gap="3" wrap="wrap" align="center">
            <Text fontWeight="700">
              {!gears
                ? "By the chart alone"
                : element
                  ? `Tap the two lines that ${element.id} joins`
                  : "Each line turns as one. An element joins two, a gear set its own."}
            </Text>
            <Flex gap="2" wrap="wrap">
              <Button onClick={() => toggle({ paste: true })} aria-expanded={!!open && "paste" in open}>
                Paste a chart
              </Button>
              <Button onClick={() => toggle({ gears: true })} aria-expanded={!!open && "gears" in open}>
                {gears ? "Change the gears" : "Add the gears"}
              </Button>
            </Flex>
          </Flex>
          {open && "gears" in open && (
            <GearsPanel
              id={id}
              build={build}
              sheet={sheet}
              view={view}
              picked={pickedLines.filter((l) => sheet.gearing?.members.includes(l))}
              pick={pickLines}
              close={() => setOpen(undefined)}
            />
          )}
          {open && "paste" in open && <PastePanel build={build} close={() => setOpen(undefined)} />}
          <Box overflowX="auto" mt="1">
            <LinesFigure
              lines={lines}
              running={runningOf(view, row)}
              label={`Gears and elements, ${row || "no range"}`}
              tapping={tapping}
              openElement={(e) => toggle({ element: e })}
            />
            <ChartGrid
              sheet={sheet}
              view={view}
              picked={row}
              pick={setPicked}
              open={element?.id ?? ""}
              openElement={(e) => toggle({ element: e })}
              openRange={(r) => toggle({ range: r })}
              change={change}
              gears={gears}
            />
          </Box>
          {element && (
            <ElementPanel
              key={element.id}
              sheet={sheet}
              element={element}
              gearing={gears ? sheet.gearing : undefined}
              change={change}
              close={() => setOpen(undefined)}
              renamed={(next) => setOpen({ element: next })}
            />
          )}
          {range && (
            <RangePanel
              key={range.id}
              sheet={sheet}
              range={range}
              change={change}
              close={() => setOpen(undefined)}
              renamed={(next) => setOpen({ range: next })}
            />
          )}
          <Flex gap="2" wrap="wrap" mt="3">
            <Button onClick={addElement}>Add an element</Button>
            <Button onClick={() => addRange("forward")}>Add a forward gear</Button>
            <Button onClick={() => addRange("reverse")}>Add reverse</Button>
            <Button onClick={() => addRange("neutral")}>Add neutral</Button>
          </Flex>
          {sheet.control !== "hand" && (
            <Flex mt="3" gap="3" align="center" wrap="wrap">
              <Text fontWeight="600" textStyle="label">
                Shifts are made by
              </Text>
              <Choice
                label="Shifts are made by"
                value={sheet.control}
                options={[
                  ["electronic", "solenoids and a module"],
                  ["hydraulic", "oil alone"],
                ]}
                onChange={(control) => change((s) => ({ ...s, control }))}
              />
            </Flex>
          )}
          <Flex mt="3" gap="3" align="center" wrap="wrap">
            <Text fontWeight="600" textStyle="label">
              It lies
            </Text>
            <Choice
              label="It lies"
              value={build.draft?.lies || (sheet.leaks ? (leaksOf(sheet).across ? "across" : "along") : "")}
              options={[
                ["along", "along the vehicle"],
                ["across", "across it"],
              ]}
              onChange={(lies) => change((s) => s, { lies: lies || undefined })}
            />
          </Flex>
          {gears && (
            <Switch on={build.draft?.final ?? false} set={(final) => change((s) => s, { final })}>
              The printed ratios include the final drive
            </Switch>
          )}
          <Known sheet={sheet} view={view} change={change} take={build.take} />
          <Places sheet={sheet} change={change} />
          <LeakPlaces sheet={sheet} change={change} />
          <NumberSources
            numbers={view.numbers}
            say={{ can: (n) => n.topic !== "teeth" || (build.draft?.counted ?? false), put: build.say }}
          />
          {sheet.control !== "hand" && <ControlsTable sheet={sheet} view={view} change={change} />}
          {view.lever.length > 2 && (
            <SpeedDiagram unit={{ lever: view.lever, members: view.members, ranges: view.ranges } as Unit} picked={row} />
          )}
        </Box>
        <Box px={{ base: "3", md: "5" }} py="4" minW="0">
          <Rail view={view} sheet={sheet} change={change} choose={(fit) => change((s) => s, { fit })} take={build.take} fill={build.fill} />
        </Box>
      </Grid>
    </Box>
  );
}
