import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import type { ShiftsTold, ShiftTold } from "../../api/shifts";
import { number } from "../../shared/format";
import { moment } from "../recordings/words";
import { Pennant } from "./Pennant";

const Tile = chakra("button", {
  base: {
    flex: "0 0 auto",
    width: "92px",
    height: "88px",
    px: "8px",
    py: "4px",
    textAlign: "left",
    borderRightWidth: "1px",
    borderColor: "line",
    position: "relative",
    _hover: { bg: "brassSoft" },
    "&[aria-current=true]": { bg: "brassSoft", boxShadow: "inset 0 0 0 3px {colors.brass}" },
  },
});

/** What a gear is called in a tile: the number at the end of its name or id. */
export const gearWord = (told: ShiftsTold, id: string) => {
  const g = told.gears.find((x) => x.id === id);
  return g ? String(g.number) : id;
};

/** More shifts than this are shown kind by kind: some screens of tiles are no overview. */
const mostInARow = 40;

const sameKind = (a: ShiftTold, b: ShiftTold) => a.from === b.from && a.to === b.to;

/** Indexes of the shifts that stand in one row with the one in hand: all of a short drive, those of its kind in a long one. */
export function inRow(told: ShiftsTold, at: number): number[] {
  const all = told.shifts.map((_, i) => i);
  const hand = told.shifts[at];
  if (told.shifts.length <= mostInARow || !hand) return all;
  return all.filter((i) => sameKind(told.shifts[i] ?? hand, hand));
}

/** The kinds of shift of a long drive, the worst first; a tap goes to the one to look at. */
function Kinds({ told, at, choose }: { told: ShiftsTold; at: number; choose: (i: number) => void }) {
  const hand = told.shifts[at];
  return (
    <Flex overflowX="auto" px={{ base: "3", md: "5" }} pt="1" gap="2" role="group" aria-label="Kinds of shift">
      {told.kinds.map((k) => (
        <chakra.button
          key={`${k.from}-${k.to}`}
          type="button"
          flex="0 0 auto"
          minH="44px"
          px="3"
          borderWidth="1px"
          borderColor="line"
          borderRadius="sm"
          textAlign="left"
          aria-pressed={hand?.from === k.from && hand.to === k.to}
          css={{ "&[aria-pressed=true]": { bg: "brassSoft", borderColor: "brass" } }}
          onClick={() => choose(k.look)}
        >
          <Flex gap="2" align="center" textStyle="small">
            <Text as="span" fontWeight="700">
              {gearWord(told, k.from)}–{gearWord(told, k.to)}
            </Text>
            <Text as="span" color="ink2">
              {k.shifts}
            </Text>
            {k.out > 0 && (
              <>
                <Pennant />
                <Text as="span">{k.out} out</Text>
              </>
            )}
          </Flex>
        </chakra.button>
      ))}
    </Flex>
  );
}

/** The way of a shift as it was: level in the old gear, level in the new. */
function Way({ s }: { s: ShiftTold }) {
  const w = 74;
  const h = 34;
  const high = Math.max(1.15, ...s.way.filter((v) => v < 3));
  const y = (v: number) => 3 + ((high - Math.max(-0.15, Math.min(high, v))) / (high + 0.15)) * (h - 6);
  const points = s.way.map((v, i) => `${((i / (s.way.length - 1)) * w).toFixed(1)},${y(v).toFixed(1)}`).join(" ");
  return (
    <svg width={w} height={h} aria-hidden style={{ display: "block" }}>
      <polyline
        points={points}
        fill="none"
        stroke={s.out.any ? "var(--chakra-colors-ink)" : "var(--chakra-colors-ink2)"}
        strokeWidth={s.out.any ? 2 : 1.3}
      />
    </svg>
  );
}

/** All shifts of a drive, each with its own way; what is out of its window carries a pennant. */
export function Strip({ told, at, choose }: { told: ShiftsTold; at: number; choose: (i: number) => void }) {
  const row = useRef<HTMLDivElement>(null);
  const shown = inRow(told, at);
  const place = shown.indexOf(at);
  useEffect(() => {
    const tile = row.current?.children[place];
    if (tile instanceof HTMLElement && row.current)
      row.current.scrollTo({ left: tile.offsetLeft - row.current.clientWidth / 2 + tile.clientWidth / 2 });
  }, [place]);
  const out = told.shifts.filter((s) => s.out.any).length;
  const worst = told.kinds
    .filter((k) => k.out > 0)
    .map((k) => `${gearWord(told, k.from)}–${gearWord(told, k.to)}`)
    .join(", ");
  return (
    <Box as="section" aria-label="Shifts of this drive" borderBottomWidth="1px" borderColor="line">
      <Flex px={{ base: "3", md: "5" }} pt="2" gap="4" justify="space-between" wrap="wrap" textStyle="small" color="ink2">
        <Text fontWeight="600" color="ink">
          {told.shifts.length} {told.shifts.length === 1 ? "shift" : "shifts"} of this drive
        </Text>
        <Flex gap="2" align="center">
          {out > 0 ? (
            <>
              <Pennant />
              <Text>
                out of a window: {out}, in {worst}
              </Text>
            </>
          ) : (
            <Text>none is out of its window</Text>
          )}
          <Text display={{ base: "none", md: "block" }}>
            <kbd>◂</kbd> <kbd>▸</kbd> next shift
          </Text>
        </Flex>
      </Flex>
      {shown.length < told.shifts.length && <Kinds told={told} at={at} choose={choose} />}
      <Flex ref={row} overflowX="auto" px={{ base: "3", md: "5" }} pt="1" pb="2" position="relative">
        {told.shifts.map(
          (s, i) =>
            shown.includes(i) && (
              <Tile
                key={i}
                type="button"
                aria-current={i === at}
                aria-label={`${s.fromName} to ${s.toName} at ${moment(s.leaves.at)}, ${s.unfinished ? "given up" : `${number(s.inertia.value, 2)} s`}${s.out.any ? ", out of its window" : ""}`}
                onClick={() => choose(i)}
              >
                <Flex justify="space-between" align="baseline">
                  <Text as="span" fontWeight="700" textStyle="label">
                    {s.unfinished ? gearWord(told, s.from) : `${gearWord(told, s.from)}–${gearWord(told, s.to)}`}
                  </Text>
                  <Text as="span" textStyle="fine" color="ink2">
                    {moment(s.leaves.at)}
                  </Text>
                </Flex>
                <Way s={s} />
                <Flex justify="space-between" align="center">
                  <Text as="span" textStyle="small" fontWeight={s.out.any ? "700" : "400"}>
                    {s.unfinished ? "given up" : `${number(s.inertia.value, 2)} s`}
                  </Text>
                  {s.out.any && <Pennant />}
                </Flex>
              </Tile>
            ),
        )}
      </Flex>
    </Box>
  );
}
