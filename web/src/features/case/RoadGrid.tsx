import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState, type KeyboardEvent } from "react";
import type { Schemas } from "../../api/client";
import { Chip } from "../../shared/Chip";
import { newKey } from "../../shared/key";
import { useCase } from "./useCase";

type Row = Schemas["RoadRow"];
type Cell = Schemas["RoadCell"];

const hatch = "repeating-linear-gradient(135deg, var(--chakra-colors-line) 0 1px, transparent 1px 6px)";

const CellButton = chakra("button", {
  base: {
    display: "block",
    w: "full",
    h: "44px",
    minW: "54px",
    bg: "panel",
    fontSize: "13.5px",
    lineHeight: "1.1",
    px: "1",
    _focusVisible: { outline: "3px solid", outlineColor: "brass", outlineOffset: "-3px" },
  },
});

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

export function RoadGrid({ temperature, source }: { temperature: string; source: string }) {
  const { shown, actions, by } = useCase();
  const [at, setAt] = useState({ row: 0, finding: "" });
  const rows = shown.road.rows.map((r) => ({ ...r, cells: r.cells.filter((c) => c.temperature === temperature) }));
  const write = (cell: Cell, state: string) => {
    if (shown.closed || !cell.finding) return;
    actions.read.mutate([{ key: newKey(), finding: cell.finding, state, source, stage: source === "customer" ? "complaint" : "road", by }]);
  };
  const onKey = (e: KeyboardEvent<HTMLButtonElement>, row: Row, cell: Cell) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const arrow = arrows[e.key];
    const state = row.states.find((s) => s.key === e.key.toLowerCase());
    if (arrow) move(e.currentTarget, ...arrow);
    else if (state) write(cell, state.id);
    else if ((e.key === "Delete" || e.key === "Backspace") && cell.reading)
      actions.read.mutate([{ key: newKey(), withdraws: cell.reading }]);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const row = rows[at.row] ?? rows[0];
  const cell = row?.cells.find((c) => c.finding === at.finding);
  const cycle = (r: Row, c: Cell) => {
    if (at.finding !== c.finding || c.state) return;
    write(c, r.states[0]?.id ?? "");
  };
  if (!row) return null;
  return (
    <Box>
      <Keys row={row} set={(s) => cell && write(cell, s)} />
      <Box overflowX="auto">
        <chakra.table w="full" borderCollapse="collapse" aria-label={`Road test, ${temperature}`}>
          <thead>
            <tr>
              <td />
              {shown.road.ranges.map((r) => (
                <chakra.th key={r} scope="col" py="1" fontSize="13.5px" fontWeight="600">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r, y) => (
              <tr key={r.behaviour}>
                <chakra.th scope="row" textAlign="left" fontWeight="400" fontSize="13.5px" pr="2" whiteSpace="nowrap">
                  {r.title}
                </chakra.th>
                {r.cells.map((c, x) => (
                  <chakra.td key={c.range} p="0" borderWidth="1px" borderColor="line">
                    {c.finding ? (
                      <CellButton
                        type="button"
                        id={c.finding}
                        data-x={x}
                        data-y={y}
                        aria-label={`${c.range}, ${r.title}: ${c.stateTitle || "not driven"}`}
                        bg={c.abnormal ? "brassSoft" : "panel"}
                        fontWeight={c.abnormal ? "700" : "400"}
                        onFocus={() => setAt({ row: y, finding: c.finding })}
                        onClick={() => cycle(r, c)}
                        onKeyDown={(e) => onKey(e, r, c)}
                      >
                        {c.abnormal ? (
                          c.stateTitle
                        ) : c.state ? (
                          <Box as="span" color="ink2" fontSize="18px" lineHeight="1">
                            •
                          </Box>
                        ) : (
                          ""
                        )}
                        {c.source === "customer" && (
                          <Box as="span" display="block" fontSize="11px" fontWeight="400" color="ink2">
                            told
                          </Box>
                        )}
                      </CellButton>
                    ) : (
                      <Box h="44px" bgImage={hatch} aria-hidden />
                    )}
                  </chakra.td>
                ))}
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
      <Text fontSize="13px" color="ink2" mt="1">
        • normal · empty: not driven · hatched: nothing to observe in this design · tap twice for normal, or choose above
      </Text>
    </Box>
  );
}
