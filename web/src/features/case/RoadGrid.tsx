import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { memo, useState, type FocusEvent, type KeyboardEvent, type MouseEvent, type SyntheticEvent } from "react";
import type { Schemas } from "../../api/client";
import { Chip } from "../../shared/Chip";
import { roadReading } from "./roadReading";
import { useCase } from "./useCase";
import { useWaitingReadings } from "../../shared/useWaiting";

type Row = Schemas["RoadRow"];
type Cell = Schemas["RoadCell"];

/** Moves the focus by rows and columns, over places that have nothing to observe. */
function move(from: HTMLElement, dx: number, dy: number) {
  const grid = from.closest("table");
  let x = Number(from.dataset.x);
  let y = Number(from.dataset.y);
  for (let i = 0; i < 12; i++) {
    x += dx;
    y += dy;
    const next = grid?.querySelector<HTMLElement>(`[data-x="${x}"][data-y="${y}"]`);
    if (next) return next.focus();
  }
}

const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** What one key does in the row at hand, in words; it stands above the grid and under the fingers. */
function Keys({ row, set }: { row: Row; set: (state: string) => void }) {
  return (
    <Flex gap="1.5" wrap="wrap" align="center" mb="2" role="group" aria-label={`States of ${row.title}`}>
      <Text color="ink2" minW="112px">
        {row.title}:
      </Text>
      {row.states.map((s) => (
        <Chip key={s.id} type="button" px="2" onMouseDown={(e) => e.preventDefault()} onClick={() => set(s.id)}>
          <kbd>{s.key === " " ? "space" : s.key}</kbd> {s.title}
        </Chip>
      ))}
    </Flex>
  );
}

/** One place of the grid. It has no handlers of its own, so that a reading draws only what it changes. */
const Place = memo(function Place({ cell, row, waits, x, y }: { cell: Cell; row: Row; waits?: string; x: number; y: number }) {
  if (!cell.finding) return <div className="place-none" aria-hidden />;
  // What waits on this device stands in its place already, told apart by its frame and its name.
  const waiting = row.states.find((s) => s.id === waits);
  const abnormal = waiting ? waiting !== row.states[0] : cell.abnormal;
  const word = waiting?.word ?? row.states.find((s) => s.id === cell.state)?.word;
  return (
    <button
      type="button"
      className="place"
      data-waits={waiting ? "" : undefined}
      id={cell.finding}
      data-x={x}
      data-y={y}
      data-abnormal={abnormal ? "" : undefined}
      aria-label={`${cell.range}, ${row.title}: ${waiting ? `${waiting.word}, waits on this device` : cell.stateTitle || "not driven"}`}
    >
      {abnormal ? word : (waiting ?? cell.state) && <span className="place-dot">•</span>}
      {cell.source === "customer" && <span className="place-told">told</span>}
    </button>
  );
});

const RowOfPlaces = memo(function RowOfPlaces({
  row,
  temperature,
  waiting,
  y,
}: {
  row: Row;
  temperature: string;
  waiting: Map<string, string>;
  y: number;
}) {
  return (
    <tr>
      <chakra.th scope="row" className="grid-name" textAlign="left" fontWeight="400" textStyle="note" pr="2" whiteSpace="nowrap">
        {row.title}
      </chakra.th>
      {row.cells
        .filter((c) => c.temperature === temperature)
        .map((c, x) => (
          <td key={c.range} className="grid-cell">
            <Place cell={c} row={row} waits={waiting.get(c.finding)} x={x} y={y} />
          </td>
        ))}
    </tr>
  );
});

/** The place that an event of the table happened at. */
function placeOf(e: SyntheticEvent, rows: Row[]) {
  const button = (e.target as HTMLElement).closest<HTMLElement>("button[data-y]");
  const row = button && rows[Number(button.dataset.y)];
  const cell = row?.cells.find((c) => c.finding === button?.id);
  return button && row && cell ? { button, row, cell } : null;
}

export function RoadGrid({ temperature, source }: { temperature: string; source: string }) {
  const { shown, actions, by } = useCase();
  const [at, setAt] = useState({ row: 0, finding: "" });
  const { rows, ranges } = shown.road;
  const waiting = useWaitingReadings(shown.id);
  const write = (cell: Cell, state: string) => {
    if (shown.closed) return;
    actions.read.mutate([roadReading(cell, state, source, by)]);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const place = placeOf(e, rows);
    if (!place || e.ctrlKey || e.metaKey || e.altKey) return;
    const arrow = arrows[e.key];
    const state = place.row.states.find((s) => s.key === e.key.toLowerCase());
    if (arrow) move(place.button, ...arrow);
    else if (state) write(place.cell, state.id);
    else if ((e.key === "Delete" || e.key === "Backspace") && place.cell.reading) actions.read.mutate([{ withdraws: place.cell.reading }]);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const onFocus = (e: FocusEvent) => {
    const place = placeOf(e, rows);
    if (place) setAt({ row: Number(place.button.dataset.y), finding: place.cell.finding });
  };
  // One tap on an empty place says normal, since most are; anything else is chosen from the states above, which
  // are those of the place that was tapped. A click by keyboard has no detail: Space and the letters are its keys.
  const onClick = (e: MouseEvent) => {
    const place = placeOf(e, rows);
    if (place && e.detail > 0 && !place.cell.state) write(place.cell, place.row.states[0]?.id ?? "");
  };
  const row = rows[at.row] ?? rows[0];
  const cell = row?.cells.find((c) => c.finding === at.finding);
  if (!row) return null;
  return (
    <Box>
      <Keys row={row} set={(s) => cell && write(cell, s)} />
      <Box overflowX="auto" onKeyDown={onKeyDown} onFocus={onFocus} onClick={onClick}>
        <chakra.table w="full" borderCollapse="collapse" aria-label={`Road test, ${temperature}`}>
          <thead>
            <tr>
              <td />
              {ranges.map((r) => (
                <chakra.th key={r} scope="col" py="1" textStyle="note" fontWeight="600">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r, y) => (
              <RowOfPlaces key={r.behaviour} row={r} temperature={temperature} waiting={waiting} y={y} />
            ))}
          </tbody>
        </chakra.table>
      </Box>
      <Text textStyle="small" color="ink2" mt="1">
        • normal · empty: not driven · hatched: nothing to see in this design · one tap: normal; anything else is picked above
      </Text>
    </Box>
  );
}
