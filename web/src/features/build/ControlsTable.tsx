import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { Chip } from "../../shared/Chip";
import { SelectField, TextField } from "../../shared/fields";
import { elementsOf, freeID, rangesOf, type Sheet, type View } from "./sheet";

export interface SheetControl {
  id: string;
  name: string;
  kind: string;
  rest: number;
  applies?: string;
  watched?: boolean;
  [more: string]: unknown;
}

interface LogicRow {
  selector: string;
  bits?: string;
  applied: string[] | null;
}

const controlsOf = (s: Sheet) => (s.controls as SheetControl[] | undefined) ?? [];
const logicOf = (s: Sheet) => (s.logic as LogicRow[] | undefined) ?? [];
const inTable = (s: Sheet) => controlsOf(s).filter((c) => !c.applies);

/** Bits of the table's own length. */
const fitted = (bits: string | undefined, n: number) => ((bits as string | undefined) ?? "").padEnd(n, "0").slice(0, n);

/** A sheet in which the table of controls changed: the bits of every row follow their columns. */
function withControls(s: Sheet, controls: SheetControl[]): Sheet {
  const before = inTable(s).map((c) => c.id);
  const after = controls.filter((c) => !c.applies).map((c) => c.id);
  const move = (bits?: string) => after.map((id) => (before.includes(id) ? (bits?.[before.indexOf(id)] ?? "0") : "0")).join("");
  return {
    ...s,
    controls,
    logic: logicOf(s).map((r) => ({ ...r, bits: move(r.bits) })),
    ranges: rangesOf(s).map((r) => ({ ...r, bits: after.length > 0 ? move(r.bits as string | undefined) : undefined })),
  };
}

/** Which solenoid or valve is on in which range; what each does when it sticks follows from it. */
export function ControlsTable({ sheet, view, change }: { sheet: Sheet; view: View; change: (f: (s: Sheet) => Sheet) => void }) {
  const controls = controlsOf(sheet);
  const put = (id: string, part: Partial<SheetControl>) =>
    change((s) =>
      withControls(
        s,
        controlsOf(s).map((c) => (c.id === id ? { ...c, ...part } : c)),
      ),
    );
  const add = (kind: string) =>
    change((s) => {
      const id = freeID(
        controlsOf(s).map((c) => c.id),
        kind === "valve" ? "V" : "S",
      );
      return withControls(s, [...controlsOf(s), { id, name: kind === "valve" ? `shift valve ${id}` : `solenoid ${id}`, kind, rest: 0 }]);
    });
  const flip = (range: string, at: number) =>
    change((s) => {
      const n = inTable(s).length;
      return {
        ...s,
        ranges: rangesOf(s).map((r) => {
          const bits = fitted(r.bits as string | undefined, n);
          if (r.id !== range) return { ...r, bits };
          return { ...r, bits: bits.slice(0, at) + (bits[at] === "1" ? "0" : "1") + bits.slice(at + 1) };
        }),
      };
    });
  const rows = rangesOf(sheet).filter((r) => r.outcome !== "neutral" || r.bits);
  return (
    <Box as="section" aria-label="Solenoids and valves" mt="5">
      <Flex justify="space-between" align="center" gap="3" wrap="wrap">
        <Text fontWeight="700">Solenoids and shift valves: which are on in which range</Text>
        <Flex gap="2">
          <Button onClick={() => add("solenoid")}>Add a solenoid</Button>
          <Button onClick={() => add("valve")}>Add a shift valve</Button>
        </Flex>
      </Flex>
      {controls.length === 0 && (
        <Text color="ink2" mt="1">
          None yet. With the table, the app works out what each one does when it sticks or loses its current.
        </Text>
      )}
      {controls.length > 0 && (
        <Box overflowX="auto" mt="2">
          <chakra.table borderCollapse="collapse" aria-label="Table of controls">
            <thead>
              <tr>
                <chakra.td w="120px" />
                {controls.map((c) => (
                  <chakra.th key={c.id} scope="col" px="2" py="1" minW="72px" fontWeight="700">
                    {c.id}
                    {c.applies && (
                      <Text textStyle="tiny" color="ink2" fontWeight="400">
                        works {c.applies}
                      </Text>
                    )}
                  </chakra.th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <chakra.tr key={r.id} borderTopWidth="1px" borderColor="line">
                  <chakra.th scope="row" textAlign="left" px="2" fontWeight="700">
                    {r.id}
                  </chakra.th>
                  {controls.map((c) => {
                    const at = inTable(sheet).findIndex((x) => x.id === c.id);
                    const on = c.applies ? (r.applied ?? []).includes(c.applies) : (r.bits as string | undefined)?.[at] === "1";
                    return (
                      <chakra.td key={c.id} p="0" borderLeftWidth="1px" borderColor="line">
                        <chakra.button
                          type="button"
                          w="full"
                          h="44px"
                          display="grid"
                          placeItems="center"
                          aria-label={`${r.id}, ${c.id}: ${on ? "on" : "off"}`}
                          aria-pressed={on}
                          aria-disabled={!!c.applies}
                          onClick={c.applies ? undefined : () => flip(r.id, at)}
                          _hover={c.applies ? {} : { bg: "brassSoft" }}
                        >
                          {on && <Box w="13px" h="13px" borderRadius="full" bg={c.applies ? "slate" : "ink"} />}
                        </chakra.button>
                      </chakra.td>
                    );
                  })}
                </chakra.tr>
              ))}
            </tbody>
          </chakra.table>
        </Box>
      )}
      {controls.map((c) => (
        <Flex key={c.id} gap="3" align="end" wrap="wrap" py="2" borderTopWidth="1px" borderColor="line">
          <Box w="220px">
            <TextField label={`Name of ${c.id}`} maxLength={60} value={c.name} onChange={(e) => put(c.id, { name: e.target.value })} />
          </Box>
          <Box w="210px">
            <SelectField
              label="Works"
              value={c.applies ?? ""}
              onChange={(e) => put(c.id, { applies: e.target.value || undefined })}
              options={[
                ["", "through the valves"],
                ...elementsOf(sheet)
                  .filter((e) => e.kind !== "freewheel")
                  .map((e): [string, string] => [e.id, `${e.id} alone`]),
              ]}
            />
          </Box>
          <Box w="210px">
            <SelectField
              label={c.kind === "valve" ? "Without pressure" : "Without current"}
              value={String(c.rest)}
              onChange={(e) => put(c.id, { rest: Number(e.target.value) })}
              options={[
                ["0", "off"],
                ["1", "on"],
              ]}
            />
          </Box>
          {view.patterns
            .filter((p) => p.control === c.id)
            .map((p) => (
              <Chip key={p.element} type="button" onClick={() => put(c.id, { applies: p.element })}>
                On just where {p.element} is: does it work {p.element} alone?
              </Chip>
            ))}
          <Button
            ml="auto"
            onClick={() =>
              change((s) =>
                withControls(
                  s,
                  controlsOf(s).filter((x) => x.id !== c.id),
                ),
              )
            }
          >
            Take {c.id} off
          </Button>
        </Flex>
      ))}
      {view.questions.length > 0 && (
        <Box mt="2">
          <Text fontWeight="700">Only a stuck one gives these</Text>
          <Text color="ink2" textStyle="small">
            Leave out what you do not know: the app then says nothing of it.
          </Text>
          {view.questions.map((q) => (
            <Flex key={q.selector + q.bits} gap="3" align="center" wrap="wrap" py="1.5" borderTopWidth="1px" borderColor="line">
              <Text flex="1" minW="240px">
                {q.words}
              </Text>
              <Box w="200px">
                <SelectField
                  label="As in"
                  aria-label={`${q.words} As in`}
                  value={q.answer}
                  onChange={(e) => {
                    const like = rangesOf(sheet).find((r) => r.id === e.target.value);
                    change((s) => ({
                      ...s,
                      logic: [
                        ...logicOf(s).filter((r) => r.selector !== q.selector || r.bits !== q.bits),
                        ...(like ? [{ selector: q.selector, bits: q.bits, applied: like.applied ?? [] }] : []),
                      ],
                    }));
                  }}
                  options={[["", "nobody knows"], ...rangesOf(sheet).map((r): [string, string] => [r.id, r.id])]}
                />
              </Box>
            </Flex>
          ))}
        </Box>
      )}
    </Box>
  );
}
