import { Box, chakra, Flex, Input, Text } from "@chakra-ui/react";
import type { KeyboardEvent } from "react";
import { size } from "./linesLayout";
import { elementsOf, markOf, rangesOf, toggled, type Sheet, type SheetElement, type SheetRange, type View } from "./sheet";

const words = { on: "on", holds: "holds one way", off: "off" };

/** A cell of the chart: a bar when it is on, an arrow when it holds one way. */
function Cell({
  range,
  element,
  mark,
  wrong,
  hint,
  picked,
  act,
  move,
}: {
  range: SheetRange;
  element: SheetElement;
  mark: "on" | "holds" | "off";
  wrong: boolean;
  hint: boolean;
  picked: boolean;
  act?: () => void;
  move: (e: KeyboardEvent<HTMLButtonElement>) => void;
}) {
  return (
    <chakra.button
      type="button"
      w="full"
      h="44px"
      display="grid"
      placeItems="center"
      data-cell={`${range.id} ${element.id}`}
      aria-label={`${range.id}, ${element.id} ${element.name}: ${words[mark]}${hint ? ", look here" : ""}`}
      aria-pressed={mark !== "off"}
      aria-disabled={!act}
      onClick={act}
      onKeyDown={move}
      borderLeftWidth="1px"
      borderColor="line"
      boxShadow={hint ? "inset 0 0 0 2px var(--chakra-colors-fault)" : undefined}
      _hover={act ? { bg: "brassSoft" } : {}}
      cursor={act ? "pointer" : "default"}
    >
      {mark === "on" && <Box w="30px" h="13px" borderRadius="2px" bg={wrong ? "fault" : picked ? "brass" : "slate"} />}
      {mark === "holds" && (
        <svg width="30" height="14" viewBox="0 0 30 14" aria-hidden>
          <path d="M 2 7 H 24 M 18 2 L 25 7 L 18 12" fill="none" stroke="currentColor" strokeWidth="2.2" />
        </svg>
      )}
    </chakra.button>
  );
}

/** The apply chart, tapped cell by cell: rows are ranges, columns stand under the elements of the drawing. */
export function ChartGrid({
  sheet,
  view,
  picked,
  pick,
  open,
  openElement,
  openRange,
  change,
  gears,
}: {
  sheet: Sheet;
  view: View;
  picked: string;
  pick: (range: string) => void;
  open: string;
  openElement: (id: string) => void;
  openRange: (id: string) => void;
  change: (f: (s: Sheet) => Sheet) => void;
  gears: boolean;
}) {
  const elements = elementsOf(sheet);
  const ranges = rangesOf(sheet);
  const put = (id: string, f: (r: SheetRange) => SheetRange) =>
    change((s) => ({ ...s, ranges: rangesOf(s).map((r) => (r.id === id ? f(r) : r)) }));
  const move = (e: KeyboardEvent<HTMLButtonElement>, row: number, column: number) => {
    const step = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowDown: [1, 0], ArrowUp: [-1, 0] }[e.key];
    if (!step) return;
    e.preventDefault();
    const range = ranges[row + step[0]!];
    const element = elements[column + step[1]!];
    if (range && element) document.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${range.id} ${element.id}`)}"]`)?.focus();
  };
  return (
    <chakra.table
      borderCollapse="collapse"
      aria-label="Apply chart"
      css={{ tableLayout: "fixed" }}
      w={`${size.label + elements.length * size.column + 270}px`}
    >
      <thead>
        <tr>
          <chakra.td w={`${size.label}px`} />
          {elements.map((e) => (
            <chakra.th key={e.id} scope="col" w={`${size.column}px`} p="0" verticalAlign="top">
              <chakra.button
                type="button"
                w="full"
                minH="56px"
                px="1"
                pt="1"
                aria-expanded={open === e.id}
                onClick={() => openElement(e.id)}
                bg={open === e.id ? "brassSoft" : undefined}
                _hover={{ bg: "brassSoft" }}
              >
                <Text fontWeight="700">{e.id}</Text>
                <Text textStyle="tiny" color="ink2" fontWeight="400" lineHeight="1.15" overflowWrap="anywhere">
                  {e.name}
                </Text>
              </chakra.button>
            </chakra.th>
          ))}
          <chakra.th scope="col" w="96px" textAlign="left" textStyle="small" fontWeight="700" pl="3" verticalAlign="top" pt="1">
            ratio
            <Text textStyle="tiny" color="ink2" fontWeight="400">
              as printed
            </Text>
          </chakra.th>
          <chakra.th scope="col" textAlign="left" textStyle="small" fontWeight="700" pl="3" verticalAlign="top" pt="1">
            {gears ? "solved" : ""}
          </chakra.th>
        </tr>
      </thead>
      <tbody>
        {ranges.map((r, y) => {
          const row = view.rows.find((x) => x.id === r.id);
          const flaw = view.flaws.find((f) => f.range === r.id && !f.doubt);
          const hint = view.flaws.find((f) => f.range === r.id && f.element);
          const holding = gears ? (row?.holding ?? []) : (r.holding ?? []);
          return (
            <chakra.tr key={r.id} borderTopWidth="1px" borderColor="line" bg={r.id === picked ? "brassSoft" : undefined}>
              <chakra.th scope="row" p="0" textAlign="left">
                <Flex>
                  <chakra.button
                    type="button"
                    flex="1"
                    h="44px"
                    px="2"
                    textAlign="left"
                    aria-pressed={r.id === picked}
                    aria-label={`${r.id}, ${r.name}`}
                    onClick={() => pick(r.id)}
                    overflow="hidden"
                    whiteSpace="nowrap"
                    textOverflow="ellipsis"
                  >
                    <Text as="span" fontWeight="700">
                      {r.id}
                    </Text>
                    <Text as="span" color="ink2" textStyle="tiny" fontWeight="400" ml="2" whiteSpace="nowrap">
                      {r.name.replace(/^(Drive|Automatic) (.)/, (_, _w, c: string) => c.toUpperCase())}
                    </Text>
                  </chakra.button>
                  <chakra.button
                    type="button"
                    w="44px"
                    h="44px"
                    flex="none"
                    color="ink2"
                    aria-label={`Change row ${r.id}`}
                    onClick={() => openRange(r.id)}
                    _hover={{ bg: "brassSoft" }}
                  >
                    ⋯
                  </chakra.button>
                </Flex>
              </chakra.th>
              {elements.map((e, x) => {
                const self = gears && e.kind === "freewheel";
                return (
                  <chakra.td key={e.id} p="0">
                    <Cell
                      range={r}
                      element={e}
                      mark={markOf(r, e.id, holding)}
                      wrong={!!flaw}
                      hint={hint?.element === e.id}
                      picked={r.id === picked}
                      act={self ? undefined : () => put(r.id, (o) => toggled(o, e))}
                      move={(k) => move(k, y, x)}
                    />
                  </chakra.td>
                );
              })}
              <chakra.td pl="3" borderLeftWidth="1px" borderColor="line">
                {r.outcome === "neutral" ? (
                  <Text color="ink2" textStyle="small">
                    –
                  </Text>
                ) : (
                  <Input
                    aria-label={`Ratio of ${r.id} as printed`}
                    inputMode="decimal"
                    h="38px"
                    minH="38px"
                    w="76px"
                    textAlign="right"
                    maxLength={8}
                    placeholder="–"
                    value={r.ratio ?? ""}
                    onChange={(e) => {
                      const ratio = e.target.value.replace(/^[-−R]/, "");
                      put(r.id, (o) => ({ ...o, ratio: ratio || undefined }));
                    }}
                  />
                )}
              </chakra.td>
              <chakra.td pl="3">{gears && <Solved row={row} range={r} />}</chakra.td>
            </chakra.tr>
          );
        })}
      </tbody>
    </chakra.table>
  );
}

/** What the gears make of a row: its ratio with a tick, or the word for what is wrong. */
function Solved({ row, range }: { row?: View["rows"][number]; range: SheetRange }) {
  if (!row) return null;
  if (row.wrong)
    return (
      <Text color="fault" fontWeight="700" textStyle="small">
        ✕ {row.outcome === "bind" ? "binds" : row.outcome === "neutral" ? "drives nothing" : row.ratio || row.outcome || "wrong"}
      </Text>
    );
  if (range.outcome === "neutral") return <Text color="ink2">neutral ✓</Text>;
  return (
    <Text whiteSpace="nowrap" fontWeight="600">
      {range.outcome === "reverse" && "−"}
      {row.ratio}{" "}
      {row.printed > 0 && (
        <Text as="span" color={row.fits ? "good" : "fault"} fontWeight="700">
          {row.fits ? "✓" : "✕"}
        </Text>
      )}
    </Text>
  );
}
