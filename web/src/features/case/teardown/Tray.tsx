import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import type { Stack, StackPart } from "../../../shared/stack/layout";
import { place } from "../../../shared/stack/layout";
import { Cut, Patterns, type Scale } from "../../../shared/stack/PartShape";
import { verdictSign, verdictWord, type Bench, type BenchPart } from "./useBench";

/** A part with what still sits in it, small, upper half only. */
function Small({ parts }: { parts: StackPart[] }) {
  const placed = place(
    parts,
    () => [0, 0],
    () => false,
  );
  if (placed.length === 0) return <Box w="64px" h="40px" />;
  const boxes = placed.flatMap((p) => p.upper);
  const x0 = Math.min(...boxes.map((b) => b[0]));
  const x1 = Math.max(...boxes.map((b) => b[1]));
  const y0 = Math.min(...boxes.map((b) => b[2]));
  const y1 = Math.max(...boxes.map((b) => b[3]));
  const k = Math.min(60 / (x1 - x0), 36 / (y1 - y0), 0.9);
  const s: Scale = { x: (mm) => (mm - x0) * k + 2, y: (mm) => (y1 - mm) * k + 2, k };
  return (
    <svg width="64" height="40" aria-hidden>
      <Patterns />
      {placed.map((p) => (
        <Cut key={p.part.id} p={p} s={s} />
      ))}
    </svg>
  );
}

/** What was noted on a part, in few words. */
export function noted(part: BenchPart | undefined): string {
  if (!part) return "";
  const limit = part.limits.find((l) => l.known);
  return [part.verdict && verdictWord(part.verdict), limit?.value].filter(Boolean).join(", ");
}

/** What was taken out, in that order, with what was found; what came out of another part stands with it. */
export function Tray({
  stack,
  bench,
  by,
  selected,
  select,
}: {
  stack: Stack;
  bench: Bench;
  by: Map<string, BenchPart>;
  selected: string;
  select: (id: string) => void;
}) {
  const out = stack.parts.filter((p) => by.get(p.id)?.gone).sort((a, b) => by.get(a.id)!.tray - by.get(b.id)!.tray);
  const heads = out.filter((p) => !p.sitsIn || !by.get(p.sitsIn)?.gone);
  // What was put down last is in view.
  const end = useRef<HTMLLIElement>(null);
  useEffect(() => {
    const region = end.current?.closest("[role=region]");
    if (region) region.scrollTop = region.scrollHeight;
  }, [bench.out]);
  return (
    <Box as="section" aria-label="Tray, in order of removal">
      <Text textStyle="small" color="ink2" mb="1">
        Tray, in order of removal · {bench.out} of {bench.of}
      </Text>
      {heads.length === 0 && (
        <Text textStyle="small" color="ink2" py="2">
          Empty. Lay parts out from left to right, same side up.
        </Text>
      )}
      <Box as="ol" listStyleType="none" pl="0">
        {heads.map((p, i) => {
          const inside = out.filter((x) => x.id !== p.id && under(stack, x, p.id));
          const still = stack.parts.filter((x) => x.id === p.id || (under(stack, x, p.id) && !by.get(x.id)?.gone));
          const b = by.get(p.id);
          const worst = [p, ...inside].map((x) => by.get(x.id)?.verdict ?? "").find((v) => v && v !== "kept");
          return (
            <Box as="li" key={p.id} ref={i === heads.length - 1 ? end : undefined} borderTopWidth={i ? "1px" : "0"} borderColor="line">
              <button
                type="button"
                className="row-button"
                aria-pressed={p.id === selected}
                onClick={() => select(p.id)}
                style={{ background: p.id === selected ? "var(--chakra-colors-brass-soft)" : undefined }}
              >
                <Flex align="center" gap="2" py="1" px="1" minH="44px" w="full" textAlign="left">
                  <Text w="26px" textAlign="right" fontWeight="700" textStyle="small" flexShrink={0}>
                    {p.number}
                  </Text>
                  <Box flexShrink={0}>
                    <Small parts={still} />
                  </Box>
                  <Box minW="0" flex="1">
                    <Text textStyle="small" fontWeight="600">
                      {p.name}
                    </Text>
                    <Text textStyle="fine" color={worst ? "fault" : "ink2"}>
                      {b?.verdict && `${verdictSign(b.verdict)} `}
                      {noted(b) || (worst ? "" : "not looked at")}
                      {inside.length > 0 && ` · ${inside.length} taken from it`}
                    </Text>
                  </Box>
                </Flex>
              </button>
              {inside.map((x) => (
                <button
                  key={x.id}
                  type="button"
                  className="row-button"
                  aria-pressed={x.id === selected}
                  onClick={() => select(x.id)}
                  style={{ minHeight: 32, background: x.id === selected ? "var(--chakra-colors-brass-soft)" : undefined }}
                >
                  <Flex gap="2" pl="34px" pr="1" minH="32px" align="center" textStyle="fine" w="full" textAlign="left">
                    <Text fontWeight="600">{x.number}</Text>
                    <Text flex="1" minW="0">
                      {x.name}
                    </Text>
                    <Text color={by.get(x.id)?.verdict && by.get(x.id)?.verdict !== "kept" ? "fault" : "ink2"} flexShrink={0}>
                      {by.get(x.id)?.verdict && `${verdictSign(by.get(x.id)!.verdict)} `}
                      {noted(by.get(x.id))}
                    </Text>
                  </Flex>
                </button>
              ))}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

/** Whether a part sits in another, directly or through others. */
export function under(stack: Stack, part: StackPart, holder: string): boolean {
  for (let at: StackPart | undefined = part; at?.sitsIn; at = stack.parts.find((p) => p.id === at!.sitsIn))
    if (at.sitsIn === holder) return true;
  return false;
}
