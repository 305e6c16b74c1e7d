import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { settingsQuery } from "../../api/queries";
import { ordersQuery, recordingsQuery, vehicleSheetQuery, type Orders, type OrdersAsked, type Recording } from "../../api/recordings";
import { Choice } from "../../shared/Choice";
import { Disclosed } from "../../shared/Disclosed";
import { Select } from "../../shared/fields";
import { number, percent, short } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useSingleKey } from "../../shared/useSingleKey";
import { Frame } from "./Frame";
import { HowSpeed } from "./HowSpeed";
import { IntoCase } from "./IntoCase";
import { axesOf, raysOf, scaleOf, type Axis } from "./mapLayout";
import { OrderMap, type Point } from "./OrderMap";
import { Could, Partings, Ridges } from "./Ridges";
import { Steady } from "./Steady";
import { moment, roadUnit } from "./words";
import { VehicleForm } from "./VehicleForm";

export function TurnsPage() {
  return <Frame>{(r) => <Turns key={r.id} r={r} />}</Frame>;
}

const speedRoles = ["road", "engine", "turbine", "output", "wheel", "pulses"];

const asNumber = (v: string | null) => (v === null || v === "" || Number.isNaN(Number(v)) ? undefined : Number(v));

/** What is asked stands in the address: it can be sent, and gone back to. */
function useAsked(r: Recording) {
  const [params, setParams] = useSearchParams();
  const get = (k: string) => params.get(k);
  const asked: OrdersAsked = {
    channel: asNumber(get("channel")),
    from: asNumber(get("from")),
    to: asNumber(get("to")),
    speed: asNumber(get("speed")),
    range: get("range") ?? undefined,
    slip: asNumber(get("slip")),
    road: asNumber(get("road")),
    engine: asNumber(get("engine")),
    whine: get("whine") === "1" || undefined,
    line: asNumber(get("line")),
    known: get("known") ?? undefined,
    low: asNumber(get("low")),
    high: asNumber(get("high")),
    with: get("with") ?? undefined,
  };
  const set = (next: Record<string, string | undefined>) =>
    setParams((old) => {
      const p = new URLSearchParams(old);
      for (const [k, v] of Object.entries(next))
        if (v) p.set(k, v);
        else p.delete(k);
      return p;
    });
  return { asked, set, range: asked.range ?? r.driven.range ?? "" };
}

function Turns({ r }: { r: Recording }) {
  const { asked, set, range } = useAsked(r);
  const { data: sheet } = useQuery(vehicleSheetQuery(r.vehicle));
  const silent = asked.speed === -1 || (!r.joined && !r.channels.some((c) => speedRoles.includes(c.role) && c.values > 1));
  const { data: o, error, isFetching } = useQuery(ordersQuery(r.id, asked, r.revision + 1000 * (sheet?.revision ?? 0)));
  return (
    <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) 414px" }} flex="1">
      <Box borderRightWidth={{ lg: "1px" }} borderColor="line" minW="0" px={{ base: "3", md: "5" }} py="2">
        <Asking r={r} o={o} asked={asked} set={set} range={range} busy={isFetching} />
        {error && silent && <HowSpeed asked={asked} set={set} error={asked.road || asked.known || asked.line ? error : undefined} />}
        {error && !silent && <Problem error={error} />}
        {!o && !error && <Loading what="what turns: a long recording takes some seconds" rows={7} />}
        {o && !error && <Shown r={r} o={o} set={set} />}
      </Box>
      <Box minW="0">
        {o && !error && <Beside r={r} o={o} asked={asked} set={set} />}
        <Box px="4" py="2">
          <Disclosed title="What surrounds the unit" open={!!o && o.assumed.length > 0}>
            {r.vehicle && sheet ? (
              <VehicleForm key={`${r.vehicle} ${sheet.revision}`} vehicle={r.vehicle} sheet={sheet} />
            ) : (
              <Text color="ink2">Say first which vehicle this is, under Traces.</Text>
            )}
          </Disclosed>
        </Box>
      </Box>
    </Grid>
  );
}

type Set = ReturnType<typeof useAsked>["set"];

/** Which channel, in which range, at what speed. */
function Asking({
  r,
  o,
  asked,
  set,
  range,
  busy,
}: {
  r: Recording;
  o?: Orders;
  asked: OrdersAsked;
  set: Set;
  range: string;
  busy: boolean;
}) {
  const heard = r.channels.flatMap((c, i) => (c.role === "sound" || c.role === "shaking" ? [[String(i), c.name]] : []));
  const speeds = r.channels.flatMap((c, i) => (speedRoles.includes(c.role) && c.values > 1 ? [[String(i), c.name]] : []));
  return (
    <Flex gap="2" wrap="wrap" align="center" mb="1">
      {heard.length > 1 && (
        <Select
          w="auto"
          aria-label="Channel that is heard"
          value={String(asked.channel ?? o?.channel ?? "")}
          onChange={(e) => set({ channel: e.target.value })}
        >
          {heard.map(([v, t]) => (
            <option key={v} value={v}>
              {t}
            </option>
          ))}
        </Select>
      )}
      {r.ranges.length > 0 && (
        <Select w="auto" aria-label="Range driven" value={range} onChange={(e) => set({ range: e.target.value })}>
          <option value="">range not said</option>
          {r.ranges.map((x) => (
            <option key={x.id} value={x.id}>
              {x.name}
            </option>
          ))}
        </Select>
      )}
      {speeds.length > 0 && (
        <Select
          w="auto"
          aria-label="Speed by"
          value={String(asked.speed ?? o?.speed ?? "")}
          onChange={(e) => set({ speed: e.target.value })}
        >
          {speeds.map(([v, t]) => (
            <option key={v} value={v}>
              by {t}
            </option>
          ))}
          <option value="-1">without its channel</option>
        </Select>
      )}
      <Choice
        label="What is looked for"
        value={asked.whine ? "whine" : "shake"}
        options={[
          ["shake", "Shake and boom"],
          ["whine", "Whine"],
        ]}
        onChange={(v) => set({ whine: v === "whine" ? "1" : undefined })}
      />
      {asked.to !== undefined && (
        <Button onClick={() => set({ from: undefined, to: undefined })}>
          {moment(asked.from ?? 0)} to {moment(asked.to)}: hear all of it
        </Button>
      )}
      <Text role="status" color="ink2" textStyle="note">
        {busy && o ? "listening …" : ""}
      </Text>
    </Flex>
  );
}

/** The ridge in hand: the one that was chosen, else the surest that says something. */
function ridgeOf(o: Orders, chosen: string | null): number {
  const i = chosen === null ? o.ridges.findIndex((r) => !r.given) : Number(chosen);
  return Math.max(0, Math.min(i || 0, o.ridges.length - 1));
}

/** The map, or at one speed the spectrum, with what this recording cannot show. */
function Shown({ r, o, set }: { r: Recording; o: Orders; set: Set }) {
  const [params] = useSearchParams();
  const { data: settings } = useQuery(settingsQuery);
  const [table, setTable] = useState(false);
  useSingleKey("t", () => setTable((t) => !t));
  const ridge = ridgeOf(o, params.get("ridge"));
  const [axis, setAxis] = useState<Axis>();
  const axes = axesOf(o);
  const now = axes.find(([a]) => a === axis)?.[0] ?? axes[0]?.[0] ?? "output";
  useSingleKey("s", () => setAxis(axes[(axes.findIndex(([a]) => a === now) + 1) % axes.length]?.[0]));
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const s = scaleOf(o, roadUnit(settings?.distance ?? "km"), now);
  const { rays, others } = raysOf(o, s, ridge, hidden);
  const [moved, setMoved] = useState<{ ridge: number; axis: Axis; point: Point }>();
  const lead = o.ridges[ridge];
  const usual = lead && lead.drive === 0 ? { speed: o.reference * s.per, hertz: Math.min(s.yMost, lead.hertz) } : undefined;
  const point = moved?.ridge === ridge && moved.axis === now ? moved.point : usual;
  const order = point && point.speed > 0 ? (point.hertz / point.speed) * s.per : undefined;
  return (
    <>
      <Flex gap="3" align="center" wrap="wrap" justify="space-between" minH="48px">
        <Text as="h2" textStyle="heading" fontWeight="700" lineHeight="1.25" aria-live="polite" flex="1 1 260px">
          {o.headline}
        </Text>
        {!table && o.span >= 0.03 && (
          <Flex gap="2" align="center">
            {hidden.size > 0 && <Button onClick={() => setHidden(new Set())}>Show {hidden.size} hidden</Button>}
            <Choice label="Axis of speeds" value={now} options={axes} onChange={setAxis} />
          </Flex>
        )}
      </Flex>
      {table ? (
        <Table
          label="Sources and where they stand"
          head={["Source", ">Order", `>Hz at ${number(o.reference * s.per)} ${s.unit}`, ">There"]}
          rows={o.sources.map((q) => [
            q.name,
            q.orders.map((v) => (v ? short(v, 3) : "gone")).join(" / "),
            short(q.hertz, 1),
            `${percent(q.present)} %`,
          ])}
        />
      ) : o.span < 0.03 ? (
        <Steady r={r} o={o} channel={o.channel} />
      ) : (
        <OrderMap
          o={o}
          s={s}
          rays={rays}
          others={others}
          point={point}
          setPoint={(p) => setMoved({ ridge, axis: now, point: p })}
          order={order}
          hide={(k) => setHidden(new Set([...hidden, k]))}
        />
      )}
      {order !== undefined && !table && <Near o={o} order={order} />}
      <Flex gap="4" wrap="wrap" color="ink2" textStyle="note" mt="1" align="baseline">
        {o.limits.map((l) => (
          <Text key={l}>{l}</Text>
        ))}
        <Button ml="auto" onClick={() => setTable(!table)}>
          {table ? "Map" : "Table"} <kbd>t</kbd>
        </Button>
        {(params.get("known") ?? params.get("line") ?? params.get("road")) && (
          <Button onClick={() => set({ known: undefined, line: undefined, low: undefined, high: undefined, road: undefined })}>
            Another speed
          </Button>
        )}
      </Flex>
    </>
  );
}

/** What stands near the point in hand. */
function Near({ o, order }: { o: Orders; order: number }) {
  const near = o.sources
    .flatMap((q) =>
      Array.from({ length: q.harmonics }, (_, i) => ({
        name: i ? `${i + 1}× ${q.name}` : q.name,
        off: order / ((q.orders[0] ?? 0) * (i + 1)) - 1,
      })),
    )
    .filter((q) => Math.abs(q.off) < 0.04)
    .sort((a, b) => Math.abs(a.off) - Math.abs(b.off))
    .slice(0, 3);
  return (
    <Text textStyle="note" minH="20px">
      Order {short(order, 3)} of the output.{" "}
      {near.length
        ? `Near it: ${near.map((q) => `${q.name} (${short(100 * Math.abs(q.off), 1)} %)`).join(", ")}.`
        : "Nothing known is near."}
    </Text>
  );
}

/** The ridge in hand, what it could be, the drives that part the leaders. */
function Beside({ r, o, asked, set }: { r: Recording; o: Orders; asked: OrdersAsked; set: Set }) {
  const [params] = useSearchParams();
  const ridge = ridgeOf(o, params.get("ridge"));
  const { data: all } = useQuery(recordingsQuery());
  const others =
    all?.filter((x) => x.id !== r.id && x.vehicle === r.vehicle && x.vehicle !== "" && x.heard && x.range !== "" && x.range !== o.range) ??
    [];
  return (
    <>
      <Ridges o={o} at={ridge} choose={(i) => set({ ridge: String(i) })} />
      <Could o={o} at={ridge} />
      <Partings o={o} />
      {others.length > 0 && (
        <Flex px="4" py="2" gap="2" align="center" borderTopWidth="1px" borderColor="line" wrap="wrap">
          <Text flex="1 1 140px">Weigh with another drive</Text>
          <Select w="220px" aria-label="Weigh with another drive" value={asked.with ?? ""} onChange={(e) => set({ with: e.target.value })}>
            <option value="">this one alone</option>
            {others.map((x) => (
              <option key={x.id} value={x.id}>
                {x.rangeName}: {x.title}
              </option>
            ))}
          </Select>
        </Flex>
      )}
      <IntoCase r={r} o={o} asked={asked} ridge={ridge} />
    </>
  );
}
