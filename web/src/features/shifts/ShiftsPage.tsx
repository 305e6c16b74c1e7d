import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { recordingsQuery, type Recording } from "../../api/recordings";
import { comparisonQuery, shiftsQuery, type ShiftsAsked, type ShiftsTold, type ShiftTold } from "../../api/shifts";
import { Select } from "../../shared/fields";
import { number, percent } from "../../shared/format";
import { Empty, Loading, Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useSingleKey } from "../../shared/useSingleKey";
import { Frame } from "../recordings/Frame";
import { moment } from "../recordings/words";
import { Beside, Touch } from "./Beside";
import { CompareView } from "./CompareView";
import { ShiftPlot } from "./ShiftPlot";
import { SlipPlot } from "./SlipPlot";
import { gearWord, inRow, Strip } from "./Strip";
import { TrialForm } from "./TrialForm";

export function ShiftsPage() {
  return <Frame>{(r) => <Shifts key={r.id} r={r} />}</Frame>;
}

/** What is asked stands in the address. */
function useAsked() {
  const [params, setParams] = useSearchParams();
  const get = (k: string) => params.get(k) ?? undefined;
  const asked: ShiftsAsked = { selector: get("selector"), sound: get("sound") };
  const set = (next: Record<string, string | undefined>) =>
    setParams(
      (old) => {
        const p = new URLSearchParams(old);
        for (const [k, v] of Object.entries(next))
          if (v) p.set(k, v);
          else p.delete(k);
        return p;
      },
      { replace: true },
    );
  return { asked, set, at: get("at"), other: get("with") };
}

function Shifts({ r }: { r: Recording }) {
  const { asked, set, at, other } = useAsked();
  const { data: told, error } = useQuery({ ...shiftsQuery(r.id, asked, r.revision), enabled: r.unit !== "" });
  if (r.unit === "")
    return (
      <Box px="5">
        <Empty title="Which unit is in the vehicle?">
          Shifts are named by its ratios. Say it under <Link to={`/recordings/${r.id}`}>Traces</Link>, at “Of what”.
        </Empty>
      </Box>
    );
  if (error)
    return (
      <Box px="5">
        <Problem error={error} />
        <Text>
          <Link to={`/recordings/${r.id}`}>To its channels</Link>
        </Text>
      </Box>
    );
  if (!told)
    return (
      <Box px="5">
        <Loading what="the shifts: a long drive takes some seconds" rows={7} />
      </Box>
    );
  return <Told r={r} told={told} asked={asked} set={set} at={at === undefined ? told.worst : Number(at) || 0} other={other} />;
}

interface ToldProps {
  r: Recording;
  told: ShiftsTold;
  asked: ShiftsAsked;
  set: (next: Record<string, string | undefined>) => void;
  at: number;
  other?: string;
}

function Told({ r, told, asked, set, at: wanted, other }: ToldProps) {
  const at = Math.max(0, Math.min(told.shifts.length - 1, wanted));
  const s = told.shifts[at];
  const [table, setTable] = useState(false);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const deepest = told.converter?.shudders.reduce<Schemas["ConverterShudder"] | undefined>(
    (a, b) => (a && a.depth >= b.depth ? a : b),
    undefined,
  );
  const hide = (key: string) => setHidden((h) => new Set(h.has(key) ? [...h].filter((k) => k !== key) : [...h, key]));
  const choose = (i: number) => set({ at: String(Math.max(0, Math.min(told.shifts.length - 1, i))) });
  const row = inRow(told, at);
  const step = (by: number) => choose(row[Math.max(0, Math.min(row.length - 1, row.indexOf(at) + by))] ?? at);
  useSingleKey("left", () => step(-1));
  useSingleKey("right", () => step(1));
  useSingleKey("t", () => setTable((v) => !v));
  return (
    <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) 340px" }} flex="1">
      <Box minW="0" borderRightWidth={{ lg: "1px" }} borderColor="line">
        {told.shifts.length === 0 && told.touch ? (
          <Box as="section" aria-label="Touch point" px={{ base: "3", md: "5" }} py="4">
            <Text as="h2" textStyle="heading" fontWeight="700" mb="2">
              A creep: where the clutch takes hold
            </Text>
            <Touch touch={told.touch} />
          </Box>
        ) : told.shifts.length === 0 ? (
          <Box px="5">
            <Empty title="No shift is told">
              {told.missing.length > 0
                ? "Gears were commanded and never came: see beside."
                : "The speeds of turbine and output never go from one gear to another here. Record a pull through the gears."}
            </Empty>
          </Box>
        ) : (
          <Strip told={told} at={at} choose={choose} />
        )}
        {s && (
          <Box pt="1">
            {table ? (
              <Box px={{ base: "3", md: "5" }} py="2">
                <AllShifts told={told} />
              </Box>
            ) : (
              <ShiftPlot r={r} told={told} s={s} hidden={hidden} hide={hide} />
            )}
          </Box>
        )}
        <Asking r={r} told={told} asked={asked} set={set} other={other ?? ""} table={table} setTable={setTable} />
        {s && other && <Other r={r} told={told} s={s} other={other} asked={asked} />}
        {deepest && <SlipPlot r={r} told={told} s={deepest} />}
        <TrialForm r={r} />
      </Box>
      <Beside r={r} told={told} s={s} asked={asked} />
    </Grid>
  );
}

/** What the shifts are told by, and what they are held against. */
function Asking({
  r,
  told,
  asked,
  set,
  other,
  table,
  setTable,
}: Omit<ToldProps, "at" | "other"> & { other: string; table: boolean; setTable: (v: boolean) => void }) {
  const { data: all } = useQuery(recordingsQuery());
  const like = (all ?? []).filter((x) => x.id !== r.id && x.unit === r.unit && x.shifts);
  useSingleKey("o", () => document.querySelector<HTMLSelectElement>("[data-other]")?.focus(), { preventDefault: true });
  const options = like.map((x) => (
    <option key={x.id} value={x.id}>
      {x.vehicle === r.vehicle ? x.title : `${x.vehicle}: ${x.title}`}
    </option>
  ));
  return (
    <Flex px={{ base: "3", md: "5" }} py="2" gap="3" wrap="wrap" align="center" borderTopWidth="1px" borderColor="line">
      {told.selectors.length > 1 && (
        <Select
          w="auto"
          aria-label="Position of the selector"
          value={asked.selector ?? told.selector}
          onChange={(e) => set({ selector: e.target.value, at: undefined })}
        >
          {told.selectors.map((x) => (
            <option key={x} value={x}>
              selector in {x}
            </option>
          ))}
        </Select>
      )}
      <Select
        w={{ base: "full", md: "300px" }}
        data-other
        aria-label="Hold against another recording"
        value={other}
        onChange={(e) => set({ with: e.target.value })}
      >
        <option value="">hold against another drive …</option>
        {options}
      </Select>
      <Select
        w={{ base: "full", md: "260px" }}
        aria-label="Windows from"
        value={asked.sound ?? ""}
        onChange={(e) => set({ sound: e.target.value })}
      >
        <option value="">usual windows</option>
        {like.map((x) => (
          <option key={x.id} value={x.id}>
            windows of: {x.title}
          </option>
        ))}
      </Select>
      <Button ml="auto" onClick={() => setTable(!table)}>
        {table ? "Drawing" : "Table"} <kbd>t</kbd>
      </Button>
    </Flex>
  );
}

/** The other drive, held against this one at the shift in hand: the earlier of the two is before. */
function Other({ r, told, s, other, asked }: { r: Recording; told: ShiftsTold; s: ShiftTold; other: string; asked: ShiftsAsked }) {
  const { data: all } = useQuery(recordingsQuery());
  const later = all?.find((x) => x.id === other);
  const first = !later || Date.parse(later.at) >= Date.parse(r.at);
  const [before, after] = first ? [r.id, other] : [other, r.id];
  const { data: c, error } = useQuery({ ...comparisonQuery(before, after, asked), enabled: !!later });
  return (
    <Box as="section" aria-label="Before and after" borderTopWidth="1px" borderColor="line">
      {error && (
        <Box px="5">
          <Problem error={error} />
        </Box>
      )}
      {!c && !error && (
        <Box px="5">
          <Loading what="the comparison" rows={3} />
        </Box>
      )}
      {c && <CompareView r={r} c={c} asked={asked} kind={c.kinds.find((k) => k.from === s.from && k.to === s.to)} />}
      {c && c.kinds.length > 1 && (
        <Text px={{ base: "3", md: "5" }} pb="2" textStyle="note" color="ink2">
          In common: {c.kinds.map((k) => `${gearWord(told, k.from)}–${gearWord(told, k.to)}`).join(", ")}. The shift chosen above says which
          is shown.
        </Text>
      )}
    </Box>
  );
}

/** All shifts as rows. */
function AllShifts({ told }: { told: ShiftsTold }) {
  return (
    <Table
      label="All shifts"
      head={["At", "Shift", ">Inertia, s", ">Flare, rpm", ">Fill, s", ">Both hold, s", ">Slip after, rpm", ">Throttle", "Out"]}
      rows={told.shifts.map((s) => [
        moment(s.leaves.at, 0.1),
        s.unfinished ? `${s.fromName}, given up` : `${gearWord(told, s.from)}–${gearWord(told, s.to)}${s.skips ? ", skips" : ""}`,
        s.unfinished ? "–" : `${number(s.inertia.value, 2)} ± ${number(s.inertia.u, 2)}`,
        s.flare.value ? `${number(s.flare.value)} ± ${number(s.flare.u)}` : "none",
        s.fill ? `${number(s.fill.value, 2)} ± ${number(s.fill.u, 2)}` : "–",
        s.overlap ? number(s.overlap.value, 2) : "–",
        number(s.after.value),
        `${percent(s.throttle)} %`,
        s.out.any ? s.said : "",
      ])}
    />
  );
}
