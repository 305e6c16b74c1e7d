import { Button, Flex } from "@chakra-ui/react";

/** A way to move or size a box: the sign, what it does, which of its numbers, by how much. */
export type Step = readonly [word: string, label: string, at: number, by: number];

/** Moves and sizes a box in steps, each a full-size target: nothing needs a drag. The first numbers are places, the others sizes. */
export function Nudge({ box, steps, least, put }: { box: number[]; steps: readonly Step[]; least: number; put: (box: number[]) => void }) {
  const places = box.length / 2;
  return (
    <Flex gap="2" wrap="wrap">
      {steps.map(([word, label, at, by]) => (
        <Button
          key={label}
          aria-label={label}
          onClick={() => put(box.map((v, i) => (i === at ? Math.round(Math.min(100, Math.max(i < places ? least : 4, v + by))) : v)))}
        >
          {word}
        </Button>
      ))}
    </Flex>
  );
}
