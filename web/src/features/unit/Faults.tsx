import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Chip } from "../../shared/Chip";
import { SelectField } from "../../shared/fields";
import { Compare } from "./Compare";
import { Heading } from "../../shared/Table";
import type { Fault, Unit } from "./unit";

const kinds: [string, string, (f: Fault) => boolean][] = [
  ["", "every kind", () => true],
  ["elements", "elements and freewheels", (f) => /^(slips|applies|never|releases|seized)/.test(f.kind)],
  ["controls", "controls", (f) => /^(stuck|dead|limp)/.test(f.kind)],
  ["oil", "feeds, shared parts, pressure", (f) => /^(leaks|breaks|low|shifts)/.test(f.kind)],
  ["gears", "gears and converter clutch", (f) => /^(gear|lockup)/.test(f.kind)],
];

/** Sorting by a range puts those first that do something there, by what they do. */
function sorted(rows: Fault[], by: string) {
  if (by === "sheet") return rows;
  if (by === "touched") return [...rows].sort((a, b) => b.touched - a.touched);
  if (by === "title") return [...rows].sort((a, b) => a.title.localeCompare(b.title));
  const text = (f: Fault) => f.cells.find((c) => c.range === by)?.text ?? "";
  return [...rows].sort((a, b) => Number(!text(a)) - Number(!text(b)) || text(a).localeCompare(text(b)));
}

export function Faults({ unit }: { unit: Unit }) {
  const [params, setParams] = useSearchParams();
  const [part, setPart] = useState("");
  const [kind, setKind] = useState("");
  const [by, setBy] = useState("sheet");
  const [differing, setDiffering] = useState(false);
  const [chosen, setChosen] = useState(() => params.getAll("fault").slice(0, 2));
  const choose = (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen.slice(-1), id];
    setChosen(next);
    const p = new URLSearchParams(params);
    p.delete("fault");
    next.forEach((n) => p.append("fault", n));
    setParams(p, { replace: true, preventScrollReset: true });
  };
  const match = kinds.find(([k]) => k === kind)![2];
  const rows = sorted(
    unit.faults.filter((f) => match(f) && (!part || f.part === part)),
    by,
  );
  const all = unit.faults[0]?.cells.map((c) => c.range) ?? [];
  const ranges = differing ? all.filter((r) => new Set(rows.map((f) => f.cells.find((c) => c.range === r)?.text ?? "")).size > 1) : all;
  const names = [...new Map(unit.faults.filter((f) => f.part).map((f) => [f.part, f.partName])).entries()];
  return (
    <Box>
      <Heading note="Computed from tooth counts, apply chart, controls and capacities. Empty: normal. Mark two to set them side by side.">
        If this fails, these ranges do that
      </Heading>
      <Flex gap="3" wrap="wrap" mb="3" align="end" data-noprint>
        <Box w={{ base: "full", md: "220px" }}>
          <SelectField label="Kind" value={kind} onChange={(e) => setKind(e.target.value)} options={kinds.map(([k, t]) => [k, t])} />
        </Box>
        <Box w={{ base: "full", md: "220px" }}>
          <SelectField label="Part" value={part} onChange={(e) => setPart(e.target.value)} options={[["", "all"], ...names]} />
        </Box>
        <Box w={{ base: "full", md: "220px" }}>
          <SelectField
            label="Sort by"
            value={by}
            onChange={(e) => setBy(e.target.value)}
            options={[
              ["sheet", "order of the sheet"],
              ["touched", "how much it changes"],
              ["title", "name"],
              ...all.map((r): [string, string] => [r, `what ${r} does`]),
            ]}
          />
        </Box>
        <Chip type="button" aria-pressed={differing} onClick={() => setDiffering(!differing)}>
          Show me ranges that differ
        </Chip>
      </Flex>
      {chosen.length === 1 && <InWords fault={unit.faults.find((f) => f.id === chosen[0])} />}
      {chosen.length === 2 && <Compare unit={unit} a={chosen[0]!} b={chosen[1]!} />}
      <Box overflowX="auto">
        <chakra.table w="full" borderCollapse="collapse" aria-label="Fault table">
          <thead>
            <tr>
              <td data-noprint style={{ width: 44 }} />
              <td style={{ width: "32%" }} />
              {ranges.map((r) => (
                <chakra.th key={r} scope="col" textStyle="note" py="1.5">
                  {r}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((f) => (
              <chakra.tr key={f.id} borderTopWidth="1px" borderColor="line" bg={chosen.includes(f.id) ? "brassSoft" : "page"}>
                <td data-noprint>
                  <chakra.label display="flex" minW="44px" minH="44px" alignItems="center" justifyContent="center">
                    <chakra.input
                      type="checkbox"
                      aria-label={`Compare: ${f.title}`}
                      checked={chosen.includes(f.id)}
                      onChange={() => choose(f.id)}
                      w="20px"
                      h="20px"
                      accentColor="brass"
                    />
                  </chakra.label>
                </td>
                <chakra.th scope="row" className="grid-name" data-row textAlign="left" fontWeight="400" py="1.5" pr="3" minW="210px">
                  {f.title}
                  {f.group >= 0 && (
                    <Text as="span" color="ink2" textStyle="fine" whiteSpace="nowrap">
                      {" "}
                      group {f.group + 1}
                    </Text>
                  )}
                  {f.touched === 0 && (
                    <Text color="ink2" textStyle="fine">
                      no range shows it
                    </Text>
                  )}
                  {f.assumed.length > 0 && (
                    <Text
                      color="ink2"
                      textStyle="fine"
                      lineHeight="1.3"
                      textDecoration="underline"
                      textDecorationStyle="dashed"
                      textUnderlineOffset="3px"
                    >
                      {f.assumed.join(" · ")}
                    </Text>
                  )}
                  {f.first && (
                    <Text color="ink2" textStyle="fine" lineHeight="1.25">
                      {f.first}
                    </Text>
                  )}
                  {f.sags[0] && (
                    <Text color="ink2" textStyle="fine" lineHeight="1.25">
                      {f.sags[0].range}: {f.sags[0].line} at idle sinks to {f.sags[0].hot} hot, {f.sags[0].cold} cold
                    </Text>
                  )}
                </chakra.th>
                {ranges.map((r) => {
                  const c = f.cells.find((x) => x.range === r);
                  return (
                    <chakra.td key={r} textAlign="center" textStyle="note" fontWeight="600" lineHeight="1.15" px="1" minW="56px">
                      {c?.text && (
                        <chakra.span
                          display="block"
                          bg="brassSoft"
                          px="1"
                          py="1.5"
                          title={c.detail}
                          borderBottomWidth={f.assumed.length > 0 ? "2px" : "0"}
                          borderBottomStyle="dashed"
                          borderColor="slate"
                        >
                          {c.text}
                        </chakra.span>
                      )}
                    </chakra.td>
                  );
                })}
              </chakra.tr>
            ))}
          </tbody>
        </chakra.table>
        {rows.length === 0 && <Text py="4">Nothing of this kind in this part.</Text>}
      </Box>
      <Groups unit={unit} />
    </Box>
  );
}

/** One failure in words, range by range; marking a second one sets the two side by side. */
function InWords({ fault }: { fault?: Fault }) {
  if (!fault) return null;
  const cells = fault.cells.filter((c) => c.text);
  return (
    <Box as="section" aria-label="One failure in words" borderTopWidth="2px" borderBottomWidth="2px" borderColor="brass" py="3" mb="4">
      <Text fontWeight="700">{fault.title}</Text>
      {cells.map((c) => (
        <Text key={c.range}>
          <b>{c.range}</b> {c.text}
          {c.detail && `: ${c.detail}`}
        </Text>
      ))}
      {cells.length === 0 && <Text>No range of a road test shows it.</Text>}
      <Text color="ink2">Mark another to set the two side by side.</Text>
    </Box>
  );
}

/** What no road test tells apart, and what does. */
function Groups({ unit }: { unit: Unit }) {
  if (unit.groups.length === 0) return null;
  return (
    <Box mt="6" maxW="900px">
      <Heading note="They do the same in every range, hot or cold, drive or coast.">Failures that no road test tells apart</Heading>
      {unit.groups.map((g, i) => (
        <Flex key={g.faults.join()} gap="4" py="2" borderTopWidth="1px" borderColor="line" wrap={{ base: "wrap", md: "nowrap" }}>
          <Text w="72px" color="ink2" flexShrink="0">
            group {i + 1}
          </Text>
          <Box flex="1">
            <Text>{g.titles.join(" · ")}</Text>
            <Text color="ink2">Split: {g.split}.</Text>
          </Box>
        </Flex>
      ))}
    </Box>
  );
}
