import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { Chip } from "../../shared/Chip";
import { TextField } from "../../shared/fields";
import { memberName, type Gearing, type Sheet } from "./sheet";
import { bareGearing, joined, named, pickedAfter, removedSet, tied, withChain, withPair, withSet } from "./ownGears";

/** Gears drawn by hand: sets and pairs are added, lines are tapped to turn as one, to be input, output, or tied to the case. */
export function OwnGears({
  sheet,
  picked,
  pick,
  change,
}: {
  sheet: Sheet;
  /** Lines that were tapped here or in the drawing. */
  picked: string[];
  pick: (lines: string[]) => void;
  change: (f: (s: Sheet) => Sheet) => void;
}) {
  const g = sheet.gearing;
  const put = (f: (s: Sheet, g: Gearing) => Sheet) => {
    change((s) => f(s, s.gearing ?? bareGearing()));
    pick([]);
  };
  const gearing = (f: (g: Gearing) => Gearing) => put((s, g) => ({ ...s, gearing: f(g) }));
  const one = picked.length === 1 ? picked[0] : undefined;
  return (
    <Box mt="2">
      <Flex gap="2" wrap="wrap">
        <Button onClick={() => gearing((x) => withSet(x, "simple"))}>Add a gear set</Button>
        <Button onClick={() => gearing((x) => withSet(x, "paired"))}>Add one with paired planets</Button>
        <Button onClick={() => gearing((x) => withSet(x, "two suns"))}>Add one with two suns</Button>
        <Button onClick={() => gearing(withPair)}>Add a pair of gears</Button>
        <Button onClick={() => gearing(withChain)}>Add a chain</Button>
      </Flex>
      {g && (
        <>
          <Text color="ink2" textStyle="small" mt="3">
            Tap one line, or two that turn as one, here or in the drawing.
          </Text>
          <Flex gap="1.5" wrap="wrap" mt="1" role="group" aria-label="Lines">
            {g.members.map((m) => (
              <Chip key={m} type="button" aria-pressed={picked.includes(m)} onClick={() => pick(pickedAfter(picked, m))}>
                {memberName(g, m)}
                {m === g.input && " · input"}
                {m === g.output && " · output"}
              </Chip>
            ))}
          </Flex>
          <Flex gap="2" wrap="wrap" mt="2" align="end" minH="72px">
            {one !== undefined && (
              <>
                <Box w="220px">
                  <TextField
                    label="What people call it"
                    maxLength={40}
                    value={memberName(g, one)}
                    onChange={(e) => change((s) => ({ ...s, gearing: named(s.gearing ?? bareGearing(), one, e.target.value) }))}
                  />
                </Box>
                <Button onClick={() => gearing((x) => ({ ...x, input: one }))}>It is the input</Button>
                <Button onClick={() => gearing((x) => ({ ...x, output: one }))}>It is the output</Button>
                <Button disabled={one === g.input || one === g.output} onClick={() => put((s, x) => tied(s, x, one))}>
                  Tie it to the case
                </Button>
              </>
            )}
            {picked.length === 2 && <Button onClick={() => put((s, x) => joined(s, x, picked[0]!, picked[1]!))}>They turn as one</Button>}
            <Button onClick={() => gearing((x) => ({ ...x, forward_sign: -x.forward_sign }))}>
              {g.forward_sign > 0 ? "Forward, the output turns with the input" : "Forward, the output turns against the input"}
            </Button>
          </Flex>
          {[...(g.sets ?? []), ...(g.gears ?? [])].map((x) => (
            <Flex key={x.name} align="center" gap="3" borderTopWidth="1px" borderColor="line">
              <Text flex="1">{x.name}</Text>
              <Button variant="ghost" aria-label={`Take ${x.name} off`} onClick={() => gearing((y) => removedSet(y, x.name))}>
                Take it off
              </Button>
            </Flex>
          ))}
        </>
      )}
    </Box>
  );
}
