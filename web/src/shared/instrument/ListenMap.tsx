import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Chip } from "../Chip";

type Input = Schemas["InstrumentInput"];

const levels = ["unheard", "none", "faint", "loud"] as const;
const words: Record<string, string> = { unheard: "not listened", none: "nothing", faint: "faint", loud: "loud" };
const colour = (token: string) => `var(--chakra-colors-${token})`;

/** Where places stand on the drawing: seen from above, front of the vehicle at the left. */
const along: Record<string, [number, number]> = {
  engine: [62, 100],
  bell: [158, 100],
  front: [222, 100],
  case: [296, 100],
  tail: [372, 100],
  shaft: [470, 100],
  under: [330, 166],
  axle: [580, 100],
  "wheel-left": [580, 176],
  "wheel-right": [580, 24],
};
const across: Record<string, [number, number]> = {
  engine: [120, 32],
  bell: [212, 62],
  front: [252, 62],
  case: [318, 62],
  cover: [388, 62],
  "drive-right": [252, 126],
  "drive-left": [336, 126],
  under: [470, 112],
  "wheel-right": [60, 126],
  "wheel-left": [560, 126],
};

interface Place {
  id: string;
  title: string;
  inputs: Map<string, Input>;
}

/** The places and states that the inputs stand for. */
function gathered(inputs: Input[]) {
  const states = new Map<string, { id: string; title: string; caution: string }>();
  const places = new Map<string, Place>();
  for (const i of inputs) {
    const [state = "", place = ""] = i.of.split("/");
    const [stateTitle = "", placeTitle = "", caution = ""] = i.help.split("|");
    states.set(state, { id: state, title: stateTitle, caution });
    const p = places.get(place) ?? { id: place, title: placeTitle, inputs: new Map<string, Input>() };
    p.inputs.set(state, i);
    places.set(place, p);
  }
  return { states: [...states.values()], places: [...places.values()] };
}

/** One place, as loud as it is: shape and word beside colour. */
function Spot({ p, number, level, at, press }: { p: Place; number: number; level: string; at: [number, number]; press: () => void }) {
  const [x, y] = at;
  return (
    <g onClick={press} style={{ cursor: "pointer" }}>
      <title>{`${number} ${p.title}: ${words[level]}`}</title>
      <circle cx={x} cy={y} r="24" fill="transparent" />
      {level === "loud" && <circle cx={x} cy={y} r="21" fill="none" stroke={colour("brass")} strokeWidth="3" />}
      {(level === "loud" || level === "faint") && (
        <circle
          cx={x}
          cy={y}
          r="16.5"
          fill="none"
          stroke={colour("brass")}
          strokeWidth={level === "loud" ? 3 : 1.5}
          strokeDasharray={level === "faint" ? "3 3" : undefined}
        />
      )}
      <circle
        cx={x}
        cy={y}
        r="12"
        fill={level === "loud" ? colour("brass") : colour("panel")}
        stroke={level === "unheard" ? colour("slate") : colour("ink")}
        strokeWidth="1.4"
        strokeDasharray={level === "unheard" ? "2 2" : undefined}
      />
      {level === "none" && <line x1={x - 8.5} y1={y + 8.5} x2={x + 8.5} y2={y - 8.5} stroke={colour("ink")} strokeWidth="1.4" />}
      <text
        x={x}
        y={y + 4.5}
        textAnchor="middle"
        fill={level === "loud" ? colour("page") : colour("ink")}
        style={{ fontSize: 12.5, fontWeight: 700, pointerEvents: "none" }}
      >
        {number}
      </text>
    </g>
  );
}

/** Where one listens, state by state: a press goes from not listened over nothing and faint to loud. */
export function ListenMap({
  inputs,
  values,
  set,
}: {
  inputs: Input[];
  values: Record<string, string>;
  set: (input: string, level: string) => void;
}) {
  const { states, places } = gathered(inputs);
  const [state, setState] = useState(states[0]?.id ?? "");
  const now = states.find((s) => s.id === state) ?? states[0];
  const lies = places.some((p) => p.id === "tail") ? along : across;
  const level = (p: Place, s = state) => values[p.inputs.get(s)?.id ?? ""] || "unheard";
  const put = (p: Place, l: string) => set(p.inputs.get(state)?.id ?? "", l);
  const press = (p: Place) => put(p, levels[(levels.indexOf(level(p) as (typeof levels)[number]) + 1) % levels.length] ?? "unheard");
  const count = (s: string) => places.filter((p) => level(p, s) !== "unheard").length;
  return (
    <Box>
      <Flex role="radiogroup" aria-label="State of the vehicle" gap="1" wrap="wrap">
        {states.map((s) => (
          <Chip key={s.id} type="button" role="radio" aria-checked={s.id === state} onClick={() => setState(s.id)}>
            {s.title}
            {count(s.id) > 0 && ` · ${count(s.id)}`}
          </Chip>
        ))}
      </Flex>
      {now?.caution && (
        <Text role="note" my="2" borderLeftWidth="3px" borderColor="fault" pl="2">
          ⚠ {now.caution}
        </Text>
      )}
      <svg viewBox="0 0 640 204" width="100%" aria-hidden style={{ maxHeight: 260 }}>
        <Drawing across={lies === across} />
        {places.map((p, i) => {
          const at = lies[p.id];
          return at && <Spot key={p.id} p={p} number={i + 1} level={level(p)} at={at} press={() => press(p)} />;
        })}
      </svg>
      <Text textStyle="small" color="ink2">
        From above, front of the vehicle at the {lies === across ? "top" : "left"}. Press a place: nothing ⊘, faint ◌, loud ◉, and off
        again.
      </Text>
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} columnGap="6" mt="2">
        {places.map((p, i) => (
          <Flex key={p.id} align="center" justify="space-between" gap="2" borderTopWidth="1px" borderColor="line" py="1" minH="52px">
            <Text id={`listen-${p.id}`} textStyle="label">
              <b>{i + 1}</b> {p.title}
            </Text>
            <Flex role="radiogroup" aria-labelledby={`listen-${p.id}`} gap="1" flexShrink={0}>
              {levels.slice(1).map((l) => (
                <Chip
                  key={l}
                  type="button"
                  role="radio"
                  aria-checked={level(p) === l}
                  px="8px"
                  textStyle="note"
                  onClick={() => put(p, level(p) === l ? "unheard" : l)}
                >
                  {words[l]}
                </Chip>
              ))}
            </Flex>
          </Flex>
        ))}
      </Grid>
    </Box>
  );
}

/** Engine, unit, shafts and wheels in outline. */
function Drawing({ across }: { across: boolean }) {
  const line = { fill: "none", stroke: colour("slate"), strokeWidth: 1.4 };
  if (across)
    return (
      <g {...line}>
        <rect x="92" y="10" width="100" height="104" rx="6" />
        <path d="M192 34h30v56h-30M222 26h180v74H222z" />
        <rect x="220" y="108" width="150" height="36" rx="16" />
        <path d="M220 126H84M370 126h166" />
        <rect x="36" y="98" width="48" height="56" rx="10" />
        <rect x="536" y="98" width="48" height="56" rx="10" />
        <path d="M430 112h90M430 118h90" strokeDasharray="3 3" />
      </g>
    );
  return (
    <g {...line}>
      <rect x="16" y="62" width="112" height="76" rx="6" />
      <path d="M128 72h58v56h-58M186 78h150l64 10v24l-64 10H186z" />
      <path d="M400 100h152" />
      <circle cx="470" cy="100" r="9" />
      <path d="M580 48v104" />
      <circle cx="580" cy="100" r="22" />
      <rect x="552" y="4" width="56" height="44" rx="10" />
      <rect x="552" y="152" width="56" height="44" rx="10" />
      <path d="M130 160c60 12 140 8 300 8M130 166c60 12 140 8 300 8" strokeDasharray="3 3" />
    </g>
  );
}
