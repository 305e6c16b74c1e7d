import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";

type Play = Schemas["BuildPlay"];

const words: Record<string, string> = { conforms: "✓ inside", "cannot-tell": "at the edge, cannot tell yet" };

/** A play on the scale of its window: the value with what it is unsure by. */
function Scale({ play }: { play: Play }) {
  const wide = play.high - play.low || 1;
  const from = Math.min(play.low - wide / 2, play.at - play.unsure);
  const to = Math.max(play.high + wide / 2, play.at + play.unsure);
  const of = (v: number) => ((v - from) / (to - from)) * 100;
  return (
    <svg viewBox="0 0 100 14" width="100%" height="18" preserveAspectRatio="none" aria-hidden>
      <rect
        x={of(play.low)}
        y="2"
        width={of(play.high) - of(play.low)}
        height="10"
        fill="var(--chakra-colors-window)"
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={of(play.at - play.unsure)}
        x2={of(play.at + play.unsure)}
        y1="7"
        y2="7"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={of(play.at)}
        x2={of(play.at)}
        y1="1"
        y2="13"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="3"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

/** The plays that a select part sets, as the stack grows: by the dial once it was read, before that by the washers that were measured. */
export function Plays({ plays, select }: { plays: Play[]; select: (part: string) => void }) {
  if (plays.length === 0) return null;
  return (
    <Box as="section" aria-label="Plays as the stack grows" mt="4">
      <Text textStyle="small" color="ink2">
        As the stack grows
      </Text>
      {plays.map((p) => (
        <button key={p.limit} type="button" className="row-button" onClick={() => select(p.part)}>
          <Box py="1.5" borderTopWidth="1px" borderColor="line">
            <Text fontWeight="600">
              {p.name} {p.value}
            </Text>
            <Scale play={p} />
            <Text textStyle="small" color="ink2">
              window {p.window}:{" "}
              {words[p.verdict] ?? (
                <Box as="span" color="fault" fontWeight="600">
                  ▲ {p.verdict}
                </Box>
              )}{" "}
              · {p.told ? "by the dial" : `${p.measured} of ${p.members} washers measured, the rest by the sheet`}
            </Text>
          </Box>
        </button>
      ))}
    </Box>
  );
}
