import { Box, Dialog, Flex, Input, Portal, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { findQuery } from "../api/queries";
import { knowledgePath } from "../shared/format";
import { problemWords } from "../shared/problemWords";
import { commandsFor } from "./commands";

type Hit = Schemas["Hit"];

const kinds: Record<Hit["kind"] | "go", string> = {
  go: "Go to",
  case: "Cases",
  vehicle: "Vehicles",
  check: "Checks",
  cause: "Causes",
  code: "Codes",
  option: "Repairs",
  instrument: "Instruments",
  unit: "Units",
  record: "Records",
};

interface Row {
  kind: keyof typeof kinds;
  title: string;
  detail: string;
  to: string;
}

function pathOf(h: Hit, caseId: string): string {
  switch (h.kind) {
    case "case":
      return `/cases/${h.id}`;
    case "vehicle":
      return `/take-in?vehicle=${encodeURIComponent(h.id)}`;
    case "check":
      return h.case ? `/cases/${h.case}/checks?check=${encodeURIComponent(h.id)}` : knowledgePath(h.unit, "check", h.id);
    case "cause":
    case "option":
      return knowledgePath(h.unit, h.kind, h.id);
    case "code":
      return knowledgePath(h.unit, "finding", h.id);
    case "instrument":
      return `/instruments/${h.id}${caseId ? `?case=${caseId}` : ""}`;
    case "unit":
      return `/units/${h.id}`;
    case "record":
      return `/cases/${h.case}/decision`;
  }
}

function Option({ row, id, here, go }: { row: Row; id: string; here: boolean; go: () => void }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (here) box.current?.scrollIntoView({ block: "nearest" });
  }, [here]);
  return (
    <Flex
      ref={box}
      id={id}
      role="option"
      aria-selected={here}
      cursor="pointer"
      minH="44px"
      py="1"
      px="3"
      gap="3"
      align="center"
      bg={here ? "brassSoft" : undefined}
      boxShadow={here ? "inset 3px 0 0 {colors.brass}" : undefined}
      _hover={{ bg: "brassSoft" }}
      onClick={go}
    >
      <Text fontWeight="600" lineClamp="2" minW="0">
        {row.title}
      </Text>
      <Text color="ink2" textStyle="small" lineClamp="1" ml="auto" maxW="48%" textAlign="right">
        {row.detail}
      </Text>
    </Flex>
  );
}

/** Finds anything by the words of the trade, and goes there. */
export function Palette({ caseId, close }: { caseId: string; close: () => void }) {
  const navigate = useNavigate();
  const id = useId();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const query = text.trim();
  const { data, error, isPlaceholderData } = useQuery(findQuery(query, caseId, ""));
  const rows: Row[] = [
    ...commandsFor(query, caseId).map((c) => ({ kind: "go" as const, title: c.title, detail: "", to: c.to })),
    ...(query && data ? data : []).map((h) => ({ kind: h.kind, title: h.title, detail: h.detail, to: pathOf(h, caseId) })),
  ];
  const order = [...new Set(rows.map((r) => r.kind))];
  const here = Math.min(at, rows.length - 1);
  const go = (row: Row | undefined) => {
    if (!row) return;
    close();
    void navigate(row.to);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (step) setAt(Math.max(0, Math.min(rows.length - 1, here + step)));
    else if (e.key === "Enter") go(rows[here]);
    else return;
    e.preventDefault();
  };
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && close()} placement="top" size="lg" motionPreset="none">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner px="3">
          <Dialog.Content
            bg="panel"
            color="ink"
            borderRadius="8px"
            borderWidth="1px"
            borderColor="slate"
            mt="10"
            aria-label="Find anything"
          >
            <Box p="3" borderBottomWidth="1px" borderColor="line">
              <Input
                role="combobox"
                aria-label="Find anything"
                aria-expanded
                aria-controls={`${id}list`}
                aria-activedescendant={rows.length > 0 ? `${id}${here}` : undefined}
                autoFocus
                maxLength={120}
                placeholder="A case, a vehicle, a check, a cause, a code, an instrument …"
                value={text}
                onChange={(e) => {
                  setText(e.target.value);
                  setAt(0);
                }}
                onKeyDown={onKeyDown}
              />
            </Box>
            <Box id={`${id}list`} role="listbox" aria-label="Found" maxH="60vh" overflowY="auto" pb="2" aria-busy={isPlaceholderData}>
              {order.map((kind) => (
                <Box key={kind} role="group" aria-labelledby={`${id}${kind}`}>
                  <Text id={`${id}${kind}`} px="3" pt="2" textStyle="small" fontWeight="600" color="ink2">
                    {kinds[kind]}
                  </Text>
                  {rows.map(
                    (r, i) =>
                      r.kind === kind && <Option key={`${r.to} ${i}`} id={`${id}${i}`} row={r} here={i === here} go={() => go(r)} />,
                  )}
                </Box>
              ))}
            </Box>
            <Text role="status" px="3" py="2" borderTopWidth="1px" borderColor="line" color="ink2" textStyle="small">
              {error
                ? problemWords(error).title
                : query && rows.length === 0 && !isPlaceholderData && data
                  ? `Nothing is found by “${query}”. Fewer words find more.`
                  : "↑ ↓ choose, Enter opens, Esc closes"}
            </Text>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
