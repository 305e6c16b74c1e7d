import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState, type MouseEvent } from "react";
import { Chip } from "../../shared/Chip";
import { Disclosed } from "../../shared/Disclosed";
import { SelectField, TextField } from "../../shared/fields";
import { leakViews, type LeakView } from "../../shared/instrument/leakViews";
import { Switch } from "../../shared/Switch";
import { leaksOf, oils, whens, withoutZone, withZone, type Leaks, type Source, type Zone } from "./leaks";
import { Nudge } from "./Nudge";
import { freeID, type Sheet } from "./sheet";

const steps = [
  ["◂ front", "Move it to the front", 0, -3],
  ["▸ back", "Move it to the back", 0, 3],
  ["▴ up", "Move it up", 1, 3],
  ["▾ down", "Move it down", 1, -3],
  ["left", "Move it to the left side", 2, -3],
  ["right", "Move it to the right side", 2, 3],
  ["longer", "Longer, front to back", 3, 3],
  ["shorter", "Shorter, front to back", 3, -3],
  ["taller", "Taller", 4, 3],
  ["lower", "Lower", 4, -3],
  ["wider", "Wider, left to right", 5, 3],
  ["narrower", "Narrower, left to right", 5, -3],
] as const;

/** A new place is so large, in hundredths of the unit. */
const fresh = [9, 10, 10];

const colour = (token: string) => `var(--chakra-colors-${token})`;

/** The unit from one side: a place is tapped to be changed, an empty spot to put one there. */
function ViewFigure({
  view,
  zones,
  picked,
  pick,
  put,
}: {
  view: LeakView;
  zones: Zone[];
  picked: string;
  pick: (id: string) => void;
  put: (middle: number[]) => void;
}) {
  const [w, h] = view.size;
  const shown = zones.filter(view.shows).sort((a, b) => view.near(a) - view.near(b));
  const tap = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    if (view.put) put(view.put(((e.clientX - box.left) / box.width) * w, ((e.clientY - box.top) / box.height) * h));
  };
  return (
    <Box as="figure">
      <Text as="figcaption" textStyle="small" fontWeight="600" color="ink2">
        {view.title}
      </Text>
      <svg viewBox={`0 0 ${w} ${h}`} width="100%" aria-hidden="true" style={{ cursor: "crosshair" }} onClick={tap}>
        <rect x="0" y="0" width={w} height={h} fill={colour("panel")} />
        {shown.map((z) => {
          const [x, y, zw, zh] = view.rect(z.box);
          const on = z.id === picked;
          return (
            <g
              key={z.id}
              style={{ cursor: "pointer" }}
              onClick={(e) => {
                e.stopPropagation();
                pick(z.id);
              }}
            >
              <title>{z.name}</title>
              <rect
                x={x}
                y={y}
                width={zw}
                height={zh}
                fill={on ? colour("brass-soft") : colour("page")}
                fillOpacity={on ? 1 : 0.6}
                stroke={on ? colour("brass") : colour("slate")}
                strokeWidth={on ? 1.4 : 0.5}
                strokeDasharray={z.hidden ? "2 1.2" : undefined}
              />
            </g>
          );
        })}
        {shown.map((z) => {
          const [x, y, zw, zh] = view.rect(z.box);
          return (
            <text
              key={z.id}
              x={x + zw / 2}
              y={y + zh / 2 + 1.7}
              textAnchor="middle"
              fill={colour("ink")}
              style={{ fontSize: 4.8, fontWeight: 700, pointerEvents: "none" }}
            >
              {zones.indexOf(z) + 1}
            </text>
          );
        })}
      </svg>
    </Box>
  );
}

/** A seal, joint or line that may leak at a place. */
function SourceRow({ source, put, drop }: { source: Source; put: (next: Partial<Source>) => void; drop: () => void }) {
  return (
    <Grid
      templateColumns={{ base: "1fr", md: "1.2fr 1fr 150px auto auto" }}
      gap="3"
      alignItems="end"
      borderTopWidth="1px"
      borderColor="line"
      py="2"
    >
      <TextField label="What leaks" maxLength={60} value={source.name} onChange={(e) => put({ name: e.target.value })} />
      <SelectField label="It is" value={source.when} options={whens} onChange={(e) => put({ when: e.target.value })} />
      <SelectField label="Its oil" value={source.oil ?? ""} options={oils} onChange={(e) => put({ oil: e.target.value || undefined })} />
      <Switch on={source.seldom ?? false} set={(seldom) => put({ seldom: seldom || undefined })}>
        seldom
      </Switch>
      <Button variant="ghost" aria-label={`Take ${source.name} off`} onClick={drop}>
        Take off
      </Button>
    </Grid>
  );
}

/** Where oil may come from and where it shows, edited on the unit as it is seen from four sides. */
export function LeakPlaces({ sheet, change }: { sheet: Sheet; change: (f: (s: Sheet) => Sheet) => void }) {
  const [picked, setPicked] = useState("");
  const leaks = leaksOf(sheet);
  const set = (f: (l: Leaks) => Leaks) => change((s) => ({ ...s, leaks: f(leaksOf(s)) }));
  const zone = leaks.zones.find((z) => z.id === picked);
  const putZone = (next: Partial<Zone>) => set((l) => ({ ...l, zones: l.zones.map((z) => (z.id === picked ? { ...z, ...next } : z)) }));
  const putSource = (id: string, next: Partial<Source>) =>
    set((l) => ({ ...l, sources: l.sources.map((s) => (s.id === id ? { ...s, ...next } : s)) }));
  const dropSource = (id: string) => set((l) => ({ ...l, sources: l.sources.filter((s) => s.id !== id) }));
  const addSource = (at: string | undefined) =>
    set((l) => ({
      ...l,
      sources: [
        ...l.sources,
        {
          id: freeID(
            l.sources.map((s) => s.id),
            "leak-",
          ),
          name: "seal",
          ...(at ? { zone: at, when: "static" } : { when: "inner" }),
        },
      ],
    }));
  const put = (middle: number[]) => {
    const made = withZone(leaks, middle, fresh);
    set(() => made.leaks);
    setPicked(made.id);
  };
  const rows = (list: Source[]) =>
    list.map((s) => <SourceRow key={s.id} source={s} put={(next) => putSource(s.id, next)} drop={() => dropSource(s.id)} />);
  const nowhere = leaks.sources.filter((s) => !leaks.zones.some((z) => z.id === s.zone));
  return (
    <Disclosed title={`Leak places: ${leaks.zones.length}, with ${leaks.sources.length} that may leak`}>
      <Text color="ink2" textStyle="small">
        Tap a place to change it, an empty spot to put one there. Dashed places show with a cover off.
        {leaks.zones.length === 0 && " Until there is one, those of any unit are used; the nearest unit’s come with the rest."}
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3" my="2">
        {leakViews(leaks.across ?? false)
          .filter((v) => v.put)
          .map((v) => (
            <ViewFigure
              key={v.title}
              view={v}
              zones={leaks.zones}
              picked={picked}
              pick={(id) => setPicked(id === picked ? "" : id)}
              put={put}
            />
          ))}
      </Grid>
      <Flex gap="1" wrap="wrap" role="group" aria-label="Leak places">
        {leaks.zones.map((z, i) => (
          <Chip key={z.id} type="button" aria-pressed={z.id === picked} onClick={() => setPicked(z.id === picked ? "" : z.id)}>
            <b>{i + 1}</b>&ensp;{z.name || z.id}
          </Chip>
        ))}
        <Button onClick={() => put([50, 50, 50])}>Add a place</Button>
      </Flex>
      {zone && (
        <Box borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="2" role="group" aria-label={`Place ${zone.name}`}>
          <Flex gap="4" align="end" wrap="wrap" mb="3">
            <Box w="280px">
              <TextField label="Place" maxLength={60} value={zone.name} onChange={(e) => putZone({ name: e.target.value })} />
            </Box>
            <Switch on={zone.hidden ?? false} set={(hidden) => putZone({ hidden: hidden || undefined })}>
              seen with a cover off only
            </Switch>
            <Button
              ml="auto"
              onClick={() => {
                set((l) => withoutZone(l, picked));
                setPicked("");
              }}
            >
              Take the place off
            </Button>
          </Flex>
          <Nudge box={zone.box} steps={steps} least={-18} put={(box) => putZone({ box })} />
          <Text fontWeight="700" mt="3" mb="1">
            What may leak here
          </Text>
          {rows(leaks.sources.filter((s) => s.zone === zone.id))}
          <Button mt="2" onClick={() => addSource(zone.id)}>
            Add a seal, joint or line
          </Button>
        </Box>
      )}
      <Disclosed title={`What leaks inside and shows nowhere: ${nowhere.length}`}>
        {rows(nowhere)}
        <Button mt="2" onClick={() => addSource(undefined)}>
          Add one
        </Button>
      </Disclosed>
    </Disclosed>
  );
}
