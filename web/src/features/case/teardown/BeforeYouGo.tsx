import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { TextField } from "../../../shared/fields";
import type { StackPart } from "../../../shared/stack/layout";
import { useCase, useCaseStatus } from "../useCase";
import type { Bench, BenchPart } from "./useBench";

const letters = "ABCDEFGH";

/** Traps that lie at a part as it comes out, with the letters of their pennants. */
export const trapsOut = (part: StackPart) => part.traps.filter((t) => t.on === "out").map((t, i) => ({ ...t, letter: letters[i] ?? "•" }));

/** What stands before the step: traps to be read once, the mark to be made, what holds the part, and the one button. */
export function BeforeYouGo({
  bench,
  part,
  state,
  gone,
  goTo,
  nameOf,
}: {
  bench: Bench;
  part: StackPart;
  state: BenchPart;
  gone: () => void;
  goTo: (id: string) => void;
  nameOf: (id: string) => string;
}) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const [why, setWhy] = useState<string | undefined>();
  const traps = trapsOut(part);
  const unread = traps.filter((t) => !state.read.includes(t.ref));
  const note = (...n: { kind: string; ref?: string; words?: string }[]) => actions.bench.mutate(n.map((x) => ({ part: part.id, ...x })));
  if (shown.closed) return null;
  return (
    <Box as="section" aria-label="Before you go on">
      {!state.gone && traps.length > 0 && (
        <>
          <Text textStyle="small" color="ink2" mb="1">
            Before you go on: {traps.length === 1 ? "a trap is here" : `${traps.length} traps are here`}
          </Text>
          {traps.map((t) => (
            <Flex key={t.ref} bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" mb="1.5" gap="2" align="start">
              <Text fontWeight="700" color="fault" aria-hidden>
                ▶{t.letter}
              </Text>
              <Text flex="1">{t.text}</Text>
              {state.read.includes(t.ref) && <Text color="ink2">✓ read</Text>}
            </Flex>
          ))}
          {unread.length > 0 && (
            <Button mb="2" onClick={() => note(...unread.map((t) => ({ kind: "trap", ref: t.ref })))}>
              {unread.length === 1 ? "Read" : "All read"}
            </Button>
          )}
        </>
      )}
      {!state.gone && part.heed && (
        <Text borderLeftWidth="4px" borderColor="fault" px="3" py="1" mb="2">
          ⚠ {part.heed}
        </Text>
      )}
      {!state.gone && part.mark && (
        <Box mb="2">
          <Text fontWeight="600">Mark first: {part.mark}</Text>
          {state.marked ? (
            <Text color="ink2">✓ done</Text>
          ) : (
            <Flex gap="1" wrap="wrap" mt="1" align="end">
              <Button onClick={() => note({ kind: "mark" })}>Mark made</Button>
              {why === undefined ? (
                <Button variant="ghost" onClick={() => setWhy("")}>
                  Not made, because …
                </Button>
              ) : (
                <Flex
                  as="form"
                  gap="1"
                  align="end"
                  onSubmit={(e) => (e.preventDefault(), note({ kind: "mark", ref: "passed", words: why }), setWhy(undefined))}
                >
                  <TextField label="Why not" maxLength={400} value={why} onChange={(e) => setWhy(e.target.value)} />
                  <Button type="submit" disabled={!why.trim()}>
                    Note
                  </Button>
                </Flex>
              )}
            </Flex>
          )}
        </Box>
      )}
      {!state.gone && !state.reach && (
        <Text color="ink2" mb="2">
          Out of reach as the vehicle stands: it needs {part.access.replace(/-/g, " ")}.
        </Text>
      )}
      {!state.gone && state.reach && state.held.length > 0 && (
        <Text color="ink2" mb="2">
          Held by {state.held.slice(0, 4).join(", ")}
          {state.held.length > 4 && ` and ${state.held.length - 4} more`}.
        </Text>
      )}
      <Flex gap="2" wrap="wrap">
        {!state.gone && (
          <Button variant="solid" disabled={!state.ready || status.bench.isPending} onClick={() => (note({ kind: "out" }), gone())}>
            {part.number} to the tray <kbd>space</kbd>
          </Button>
        )}
        <Button
          disabled={!bench.undo}
          onClick={() => actions.bench.mutate([{ kind: "", withdraws: bench.undo }])}
          aria-label={bench.undoSays ? `Undo the last note, ${bench.undoSays}` : "Undo"}
        >
          Undo <kbd>u</kbd>
        </Button>
        {bench.next && bench.next !== part.id && (
          <Button variant="ghost" whiteSpace="normal" h="auto" py="2" textAlign="left" onClick={() => goTo(bench.next)}>
            Next by the list: {nameOf(bench.next)}
          </Button>
        )}
      </Flex>
    </Box>
  );
}
