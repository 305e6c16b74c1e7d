import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { Chip } from "../Chip";
import { at, leakViews, type LeakView } from "./leakViews";

type Places = Schemas["LeakPlaces"];
type Zone = Schemas["LeakZone"];
type Way = Schemas["Way"];

const states = ["unseen", "dry", "wet", "fresh"] as const;
const words: Record<string, string> = { unseen: "not looked at", dry: "dry", wet: "wet", fresh: "fresh drops" };
const colour = (token: string) => `var(--chakra-colors-${token})`;

/** Zones as they are marked: shape, hatch and number beside colour. */
function ZoneMark({ zone, number, state, rect, press }: { zone: Zone; number: number; state: string; rect: number[]; press: () => void }) {
  const [x = 0, y = 0, w = 0, h = 0] = rect;
  const fill = state === "fresh" ? colour("brass") : state === "wet" ? "url(#wet)" : state === "dry" ? colour("panel") : "transparent";
  return (
    <g onClick={press} style={{ cursor: "pointer" }} data-zone={zone.id} data-state={state}>
      <title>{`${number} ${zone.name}: ${words[state]}`}</title>
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        fill={state === "unseen" ? colour("page") : fill}
        fillOpacity={state === "unseen" ? 0.55 : 1}
        stroke={state === "unseen" ? colour("slate") : colour("ink")}
        strokeWidth={state === "unseen" ? 0.5 : 0.8}
        strokeDasharray={zone.hidden ? "2 1.2" : undefined}
      />
    </g>
  );
}

/** The number of a zone, over the ways of the oil. */
function ZoneNumber({ number, rect }: { number: number; rect: number[] }) {
  const [x = 0, y = 0, w = 0, h = 0] = rect;
  return (
    <g style={{ pointerEvents: "none" }}>
      <circle cx={x + w / 2} cy={y + h / 2} r="3.6" fill={colour("page")} stroke={colour("slate")} strokeWidth="0.3" />
      <text
        x={x + w / 2}
        y={y + h / 2 + 1.6}
        textAnchor="middle"
        fill={colour("ink")}
        style={{ fontSize: 4.4, fontWeight: 700, pointerEvents: "none" }}
      >
        {number}
      </text>
    </g>
  );
}

function Elevation({
  view,
  places,
  state,
  press,
  ways,
}: {
  view: LeakView;
  places: Places;
  state: (id: string) => string;
  press: (id: string) => void;
  ways: Way[];
}) {
  const [w, h] = view.size;
  const shown = places.zones.filter(view.shows).sort((a, b) => view.near(a) - view.near(b));
  const centre = (id: string) => {
    const z = shown.find((s) => s.id === id);
    if (!z) return undefined;
    const [x, y, zw, zh] = view.rect(z.box);
    return `${x + zw / 2} ${y + zh / 2}`;
  };
  const paths = ways.map((way) => way.zones.map(centre).filter((p): p is string => !!p)).filter((p) => p.length > 1);
  return (
    <Box as="figure">
      <Text as="figcaption" textStyle="small" fontWeight="600" color="ink2">
        {view.title}
      </Text>
      <svg viewBox={`0 0 ${w} ${h}`} width="100%" aria-hidden="true" style={{ maxHeight: 300 }}>
        <defs>
          <pattern id="wet" width="3" height="3" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="3" height="3" fill={colour("slate")} />
            <line x1="0" y1="0" x2="0" y2="3" stroke={colour("ink")} strokeWidth="1" />
          </pattern>
          <marker id="flow" viewBox="0 0 6 6" refX="5" refY="3" markerWidth="5" markerHeight="5" orient="auto">
            <path d="M0 0 6 3 0 6z" fill={colour("fault")} />
          </marker>
        </defs>
        <rect x="0" y="0" width={w} height={h} fill={colour("panel")} rx="2" />
        {view.parts &&
          places.parts.map((p) => {
            const [x, y, pw, ph] = view.rect([at(p.zone, 0), at(p.zone, 1), 0, at(p.zone, 2), at(p.zone, 3), 0]);
            return <rect key={p.name} x={x} y={y} width={pw} height={ph} fill="none" stroke={colour("line")} strokeWidth="0.6" />;
          })}
        {shown.map((z) => (
          <ZoneMark
            key={z.id}
            zone={z}
            number={places.zones.indexOf(z) + 1}
            state={state(z.id)}
            rect={view.rect(z.box)}
            press={() => press(z.id)}
          />
        ))}
        {paths.map((p) => (
          <path key={p.join()} d={`M${p.join("L")}`} fill="none" stroke={colour("fault")} strokeWidth="1" markerEnd="url(#flow)" />
        ))}
        {shown.map((z) => (
          <ZoneNumber key={z.id} number={places.zones.indexOf(z) + 1} rect={view.rect(z.box)} />
        ))}
      </svg>
    </Box>
  );
}

/** One zone in words, for keyboard and glove: four full-size targets. */
function ZoneRow({ zone, number, state, set }: { zone: Zone; number: number; state: string; set: (s: string) => void }) {
  return (
    <Flex align="center" justify="space-between" gap="2" borderTopWidth="1px" borderColor="line" py="1" minH="52px">
      <Text id={`zone-name-${zone.id}`} textStyle="label">
        <b>{number}</b> {zone.name}
        {zone.hidden && (
          <chakra.span color="ink2" textStyle="fine">
            {" "}
            (cover off)
          </chakra.span>
        )}
      </Text>
      <Flex role="radiogroup" aria-labelledby={`zone-name-${zone.id}`} gap="1" flexShrink={0}>
        {states.slice(1).map((s) => (
          <Chip
            key={s}
            type="button"
            role="radio"
            aria-checked={state === s}
            px="8px"
            textStyle="note"
            onClick={() => set(state === s ? "unseen" : s)}
          >
            {s}
          </Chip>
        ))}
      </Flex>
    </Flex>
  );
}

/** The places of a unit from all sides: a press goes from not looked at over dry and wet to fresh. */
export function LeakMap({
  places,
  inputs,
  values,
  set,
  ways,
}: {
  places: Places;
  /** The input that stands for each place. */
  inputs: Map<string, string>;
  values: Record<string, string>;
  set: (input: string, state: string) => void;
  ways: Way[];
}) {
  const state = (id: string) => values[inputs.get(id) ?? ""] || "unseen";
  const put = (id: string, s: string) => set(inputs.get(id) ?? "", s);
  const press = (id: string) => put(id, states[(states.indexOf(state(id) as (typeof states)[number]) + 1) % states.length] ?? "unseen");
  const [puddle, body] = [places.zones.filter((z) => z.floor), places.zones.filter((z) => !z.floor)];
  const rows = (zones: Zone[]) =>
    zones.map((z) => <ZoneRow key={z.id} zone={z} number={places.zones.indexOf(z) + 1} state={state(z.id)} set={(s) => put(z.id, s)} />);
  return (
    <Box>
      <Flex gap="4" textStyle="small" color="ink2" mb="2" wrap="wrap">
        <span>Press a place: dry ▢, wet ▨, fresh drops ■, and off again.</span>
      </Flex>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4">
        {leakViews(places.across).map((v) => (
          <Elevation key={v.title} view={v} places={places} state={state} press={press} ways={ways} />
        ))}
      </Grid>
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} columnGap="6" mt="3">
        {rows(body)}
      </Grid>
      <chakra.details mt="3">
        <chakra.summary cursor="pointer" fontWeight="600" minH="44px" py="2">
          Puddle under the vehicle
        </chakra.summary>
        <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} columnGap="6">
          {rows(puddle)}
        </Grid>
      </chakra.details>
    </Box>
  );
}
