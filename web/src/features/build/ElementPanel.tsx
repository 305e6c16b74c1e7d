import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState, type ReactNode } from "react";
import { Chip } from "../../shared/Chip";
import { TextField } from "../../shared/fields";
import { elementsOf, memberName, renamedElement, withoutElement, type Gearing, type Sheet, type SheetElement } from "./sheet";

const kinds: [string, string][] = [
  ["clutch", "clutch"],
  ["brake", "brake, plates"],
  ["band", "band"],
  ["freewheel", "one-way clutch"],
  ["selector", "sleeve, dogs"],
];

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box>
      <Text fontWeight="600" textStyle="label" mb="1">
        {label}
      </Text>
      <Flex gap="1.5" wrap="wrap" role="radiogroup" aria-label={label}>
        {children}
      </Flex>
    </Box>
  );
}

function Pick({ on, act, children }: { on: boolean; act: () => void; children: ReactNode }) {
  return (
    <Chip type="button" role="radio" aria-checked={on} onClick={act}>
      {children}
    </Chip>
  );
}

/** One element: what it is called, of which kind it is, and where it sits. */
export function ElementPanel({
  sheet,
  element,
  gearing,
  change,
  close,
  renamed,
}: {
  sheet: Sheet;
  element: SheetElement;
  gearing?: Gearing;
  change: (f: (s: Sheet) => Sheet) => void;
  close: () => void;
  renamed: (id: string) => void;
}) {
  const [id, setID] = useState(element.id);
  const put = (part: Partial<SheetElement>) =>
    change((s) => ({ ...s, elements: elementsOf(s).map((e) => (e.id === element.id ? { ...e, ...part } : e)) }));
  const others = elementsOf(sheet).filter((e) => e.id !== element.id);
  const taken = id !== element.id && others.some((e) => e.id === id);
  const rename = () => {
    const next = id.trim();
    if (next === "" || taken || next === element.id) return;
    change((s) => renamedElement(s, element.id, next));
    renamed(next);
  };
  const freewheel = element.kind === "freewheel";
  return (
    <Box as="section" aria-label={`Element ${element.id}`} borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="3">
      <Grid templateColumns={{ base: "1fr", md: "110px 1fr auto auto" }} gap="3" alignItems="end">
        <TextField
          label="Short"
          maxLength={8}
          value={id}
          error={taken ? "another element is called so" : undefined}
          onChange={(e) => setID(e.target.value.replace(/[^A-Za-z0-9-]/g, ""))}
          onBlur={rename}
        />
        <TextField
          label="What people call it"
          maxLength={60}
          value={element.name}
          placeholder="forward clutch"
          onChange={(e) => put({ name: e.target.value })}
        />
        <Button
          onClick={() => {
            change((s) => withoutElement(s, element.id));
            close();
          }}
        >
          Take it off
        </Button>
        <Button variant="solid" onClick={close}>
          Done
        </Button>
      </Grid>
      <Grid gap="3" mt="3">
        <Row label="Kind">
          {kinds.map(([k, word]) => (
            <Pick
              key={k}
              on={element.kind === k}
              act={() => put({ kind: k, ...(gearing && (k === "brake" || k === "band") ? { b: "case" } : {}) })}
            >
              {word}
            </Pick>
          ))}
        </Row>
        {gearing && (
          <>
            <Row label={freewheel ? "May run ahead" : "Joins"}>
              {gearing.members.map((m) => (
                <Pick key={m} on={element.a === m} act={() => put({ a: m })}>
                  {memberName(gearing, m)}
                </Pick>
              ))}
            </Row>
            <Row label={freewheel ? "of" : "to"}>
              {["case", ...gearing.members].map((m) => (
                <Pick key={m} on={element.b === m} act={() => put({ b: m })}>
                  {memberName(gearing, m)}
                </Pick>
              ))}
            </Row>
          </>
        )}
        {!gearing && freewheel && others.length > 0 && (
          <>
            <Row label="Which element holds the same?">
              <Pick on={!element.beside} act={() => put({ beside: undefined })}>
                none
              </Pick>
              {others.map((e) => (
                <Pick key={e.id} on={element.beside === e.id} act={() => put({ beside: e.id })}>
                  {e.id} {e.name}
                </Pick>
              ))}
            </Row>
            <Row label="Which element must be on for it to hold?">
              <Pick on={!element.series} act={() => put({ series: undefined })}>
                none, it holds by itself
              </Pick>
              {others.map((e) => (
                <Pick key={e.id} on={element.series === e.id} act={() => put({ series: e.id })}>
                  {e.id} {e.name}
                </Pick>
              ))}
            </Row>
          </>
        )}
      </Grid>
    </Box>
  );
}
