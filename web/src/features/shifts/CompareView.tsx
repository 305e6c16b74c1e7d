import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, CircleHelp, TriangleAlert } from "lucide-react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { traceQuery, type Recording } from "../../api/recordings";
import type { Compared, ShiftsAsked } from "../../api/shifts";
import { number, percent } from "../../shared/format";
import { Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useSingleKey } from "../../shared/useSingleKey";
import { worker } from "../../shared/worker";
import { pictureOf } from "../recordings/pictureOf";
import { curve, reach, ticks, valueAt, type Curve } from "./traces";
import { useWidth } from "./useWidth";

type Kind = Schemas["TrialKind"];
type Difference = Schemas["TrialDifference"];

const css = (name: string) => `var(--chakra-colors-${name})`;
const tidy = (v: number, d: number) => number(Math.abs(v) < 0.5 * 10 ** -d ? 0 : v, d);
const verdictWords = { better: "Better", worse: "Worse", changed: "Changed", "cannot-tell": "Cannot tell" } as const;

/** Two drives held against each other at one kind of shift: the way of both, the difference with its bound, what it means. */
export function CompareView({ r, c, kind, asked }: { r: Recording; c: Compared; kind: Kind | undefined; asked: ShiftsAsked }) {
  if (!kind)
    return (
      <Box px={{ base: "3", md: "5" }} py="3">
        <Text fontWeight="700">{c.headline}</Text>
        <Text color="ink2">“{c.after.title}” has no shift of this kind. Choose another above.</Text>
      </Box>
    );
  const foremost = c.foremost && c.kinds[c.foremost.kind] === kind ? kind.differences[c.foremost.difference] : undefined;
  const told = (d: Difference) => d.verdict === "better" || d.verdict === "worse";
  const lead = foremost ?? kind.differences.find(told) ?? kind.differences[0];
  return (
    <>
      <Grid templateColumns={{ base: "1fr", md: "minmax(0, 1fr) 348px" }}>
        <Box borderRightWidth={{ md: "1px" }} borderColor="line" px={{ base: "3", md: "5" }} py="2" minW="0">
          <Curves r={r} c={c} kind={kind} />
        </Box>
        <Box px="4" py="3" minW="0">
          {lead && <Lead d={lead} unlike={kind.unlike} />}
          <Meaning c={c} kind={kind} lead={lead} asked={asked} />
        </Box>
      </Grid>
      <Box px={{ base: "3", md: "5" }} py="2" borderTopWidth="1px" borderColor="line">
        <Table
          label={`${kind.fromName} to ${kind.toName}, before and after`}
          head={["", ">Before", ">After", ">Change", "Verdict"]}
          rows={kind.differences.map((d) => [
            `${d.name}, ${d.unit}`,
            side(d, d.before),
            side(d, d.after),
            `${d.change > 0 ? "+" : ""}${tidy(d.change, d.decimals)}${d.bound === undefined ? "" : ` ± ${tidy(d.bound, d.decimals)}`}`,
            `${verdictWords[d.verdict]}${d.needed > 0 ? `; ${d.needed} shifts on each side would tell` : ""}`,
          ])}
          note={`${kind.before} shifts before, ${kind.after} after, at ${percent(kind.throttleLow)} to ${percent(kind.throttleHigh)} % throttle. Bounds hold in 95 of 100 (Welch).`}
        />
      </Box>
    </>
  );
}

const side = (d: Difference, s: Schemas["TrialSide"]) =>
  `${tidy(s.mean, d.decimals)}${s.shifts > 1 ? ` (scatter ${tidy(s.scatter, d.decimals)})` : ""}`;

/** Turbine over output of the typical shift of either drive, laid over each other where they leave. */
function Curves({ r, c, kind }: { r: Recording; c: Compared; kind: Kind }) {
  const { ref, width } = useWidth<HTMLDivElement>(600);
  const before = useRatio(c.before, kind.typicalBefore.at, kind.beforeTime, JSON.stringify(r.layout ?? null));
  const after = useRatio(c.after, kind.typicalAfter.at, kind.afterTime, c.after.id);
  const left = 52;
  const height = 232;
  const bottom = 26;
  const top = 44;
  const from = -0.4;
  const to = Math.max(kind.beforeTime, kind.afterTime) + 0.4;
  const [low, high] = reach([before, after, { at: [], value: [kind.fromRatio, kind.toRatio] }], 0.05);
  const x = (t: number) => left + ((t - from) / (to - from)) * (width - left - 10);
  const y = (v: number) => top + ((high - v) / (high - low)) * (height - top - bottom);
  const line = (k: Curve) => {
    const points = k.at.flatMap((t, i) =>
      k.value[i] === undefined || t < from || t > to ? [] : [`${x(t).toFixed(1)} ${y(k.value[i] ?? 0).toFixed(1)}`],
    );
    return points.length > 1 ? `M${points.join("L")}` : "";
  };
  const area = before.at.flatMap((t, i) => {
    const a = before.value[i];
    const b = valueAt(after, t);
    return a === undefined || b === undefined || t < from || t > to ? [] : [[x(t), y(a), y(b)] as const];
  });
  const name = { before: kind.unlike ? "the other" : "before", after: "after" };
  return (
    <Box ref={ref}>
      <Flex justify="space-between" gap="3" textStyle="small">
        <Text fontWeight="700">
          Turbine ÷ output, {kind.fromName} to {kind.toName}
        </Text>
        <Text color="ink2" whiteSpace="nowrap">
          s from leaving
        </Text>
      </Flex>
      <svg
        data-compare
        width={width}
        height={height}
        role="img"
        aria-label={`Before ${number(kind.beforeTime, 2)} s, after ${number(kind.afterTime, 2)} s`}
        style={{ display: "block", fontSize: 12 }}
      >
        <rect width={width} height={height} fill={css("page")} />
        <defs>
          <pattern id="saved" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="6" stroke={css("slate")} strokeWidth="1.2" />
          </pattern>
        </defs>
        {[kind.fromRatio, kind.toRatio].map((v) => (
          <g key={v}>
            <line x1={left} x2={width - 10} y1={y(v)} y2={y(v)} stroke={css("ink2")} strokeDasharray="2 4" />
            <text x={left - 8} y={y(v) + 4} textAnchor="end" fill={css("ink2")}>
              {number(v, 3)}
            </text>
          </g>
        ))}
        {area.length > 1 && (
          <path
            d={`M${area.map(([a, b]) => `${a.toFixed(1)} ${b.toFixed(1)}`).join("L")}L${[...area]
              .reverse()
              .map(([a, , b]) => `${a.toFixed(1)} ${b.toFixed(1)}`)
              .join("L")}Z`}
            fill="url(#saved)"
          />
        )}
        <path d={line(before)} fill="none" stroke={css("ink")} strokeWidth="1.8" strokeDasharray="6 4" />
        <path d={line(after)} fill="none" stroke={css("brass")} strokeWidth="2.8" />
        {[
          { t: kind.beforeTime, label: `${name.before} ${number(kind.beforeTime, 2)} s`, yy: 12, dash: "6 4", colour: css("ink"), w: 2 },
          {
            t: kind.afterTime,
            label: `${name.after} ${number(kind.afterTime, 2)} s`,
            yy: 30,
            dash: undefined,
            colour: css("brass"),
            w: 3.5,
          },
        ].map((b) => (
          <g key={b.yy}>
            <path d={`M${x(0)} ${b.yy} H${x(b.t)}`} stroke={b.colour} strokeWidth={b.w} strokeDasharray={b.dash} />
            <path d={`M${x(0)} ${b.yy - 5} v10 M${x(b.t)} ${b.yy - 5} v10`} stroke={css("ink")} strokeWidth="1.6" />
            <text x={x(b.t) + 8} y={b.yy + 4} fill={css("ink")} style={{ fontWeight: b.dash ? 400 : 700 }}>
              {b.label}
            </text>
          </g>
        ))}
        <line x1={left} x2={width - 10} y1={height - bottom} y2={height - bottom} stroke={css("ink2")} />
        {ticks(from, to, Math.floor(width / 110)).map((v) => (
          <text key={v} x={x(v)} y={height - 8} textAnchor="middle" fill={css("ink2")}>
            {number(v, 1)}
          </text>
        ))}
        <text x={width - 10} y={height - 8} textAnchor="end" fill={css("ink2")}>
          s
        </text>
      </svg>
    </Box>
  );
}

/** Turbine over output about a shift of a recording, counted from where it leaves. */
function useRatio(ref: Schemas["RecordingRef"], leaves: number, time: number, layout: string): Curve {
  const { data } = useQuery(
    traceQuery(ref.id, [ref.turbine, ref.output], { from: Math.max(0, leaves - 0.6), to: leaves + time + 1.2 }, 300, `ratio ${layout}`),
  );
  const turbine = curve(data, 0);
  const output = curve(data, 1);
  return {
    at: turbine.at.map((t) => t - leaves),
    value: turbine.value.map((v, i) => {
      const o = valueAt(output, (turbine.at[i] ?? 0) + ref.offset);
      return v === undefined || o === undefined || o < 60 ? undefined : v / o;
    }),
  };
}

/** The difference that tells most, large, with its bound on a line from nothing. */
function Lead({ d, unlike }: { d: Difference; unlike: boolean }) {
  const bound = d.bound ?? 0;
  const w = 316;
  const most = Math.max(Math.abs(d.change) + bound, 1e-6) * 1.15;
  const sign = d.change < 0 ? -1 : 1;
  const low = Math.min(0, Math.abs(d.change) - bound) * 1.1;
  const x = (v: number) => 10 + ((v - low) / (most - low)) * (w - 20);
  return (
    <Box>
      <Text whiteSpace="nowrap" lineHeight="1.1">
        <Text as="span" fontSize="38px" fontWeight="800">
          {tidy(d.before.mean, d.decimals)} → {tidy(d.after.mean, d.decimals)}
        </Text>{" "}
        <Text as="span" textStyle="heading" color="ink2">
          {d.unit}
        </Text>
      </Text>
      <Text mt="1">
        {d.name}, {d.change < 0 ? "less" : "more"} by{" "}
        <b>
          {tidy(Math.abs(d.change), d.decimals)}
          {d.bound === undefined ? "" : ` ± ${tidy(d.bound, d.decimals)}`} {d.unit}
        </b>
      </Text>
      {d.bound !== undefined && !unlike && (
        <svg
          width={w}
          height="62"
          style={{ maxWidth: "100%", fontSize: 12 }}
          role="img"
          aria-label={`Change ${tidy(Math.abs(d.change) * sign, d.decimals)} with a bound of ${tidy(bound, d.decimals)} ${d.unit}`}
        >
          <line x1="0" x2={w} y1="28" y2="28" stroke={css("slate")} />
          <rect
            x={x(Math.abs(d.change) - bound)}
            y="21"
            width={Math.max(2, x(Math.abs(d.change) + bound) - x(Math.abs(d.change) - bound))}
            height="14"
            fill={css("brass")}
            opacity="0.55"
          />
          <path
            d={`M${x(Math.abs(d.change) - bound)} 17 v22 M${x(Math.abs(d.change) + bound)} 17 v22`}
            stroke={css("ink")}
            strokeWidth="1.4"
          />
          <circle cx={x(Math.abs(d.change))} cy="28" r="5" fill={css("ink")} />
          <line x1={x(0)} x2={x(0)} y1="14" y2="42" stroke={css("ink")} strokeWidth="3" />
          <text x={x(0) + 6} y="12" fill={css("ink2")}>
            no difference
          </text>
          {ticks(low, most, 4)
            .filter((v) => v > 0)
            .map((v) => (
              <text key={v} x={x(v)} y="56" textAnchor="middle" fill={css("ink2")}>
                {number(v, d.decimals === 0 ? 0 : 2)}
              </text>
            ))}
        </svg>
      )}
    </Box>
  );
}

function Meaning({ c, kind, lead, asked }: { c: Compared; kind: Kind; lead: Difference | undefined; asked: ShiftsAsked }) {
  const client = useQueryClient();
  const prove = useMutation({
    mutationFn: async () => {
      const noted = await answer(
        api.POST("/recordings/{id}/comparison", {
          params: { path: { id: c.before.id }, query: { ...asked, after: c.after.id, by: worker() } },
        }),
      );
      const picture = await pictureOf(document.querySelector<SVGSVGElement>("svg[data-compare]"));
      if (picture) {
        const form = new FormData();
        form.append("file", picture, "before-and-after.png");
        form.append("caption", `Before and after, ${kind.fromName} to ${kind.toName}: ${lead?.said ?? c.headline}`);
        form.append("stage", "proof");
        form.append("by", worker());
        await fetch(`/api/cases/${noted.case}/photos`, { method: "POST", body: form });
      }
      return noted;
    },
    onSuccess: (n) => client.invalidateQueries({ queryKey: ["case", n.case] }),
  });
  useSingleKey("p", () => prove.mutate());
  const Icon = kind.unlike || lead?.verdict === "cannot-tell" ? CircleHelp : lead?.verdict === "worse" ? TriangleAlert : Check;
  const colour = lead?.verdict === "better" ? "good" : lead?.verdict === "worse" ? "fault" : "ink2";
  return (
    <Box mt="3">
      <Flex gap="2" align="flex-start">
        <Box color={colour} pt="1">
          <Icon size={20} aria-hidden />
        </Box>
        <Box>
          <Text fontWeight="700">{kind.unlike ? "Not comparable" : lead ? verdictWords[lead.verdict] : c.headline}</Text>
          <Text textStyle="note">
            {kind.unlike
              ? `No two at like throttle and temperature: ${percent(kind.throttleApart)} points of throttle${kind.fluidApart >= 1 ? ` and ${number(kind.fluidApart)} °C` : ""} apart at the nearest.`
              : c.headline}
          </Text>
        </Box>
      </Flex>
      {c.warnings.map((w) => (
        <Text key={w} textStyle="note" borderLeftWidth="3px" borderColor="brass" pl="2" mt="2">
          {w}
        </Text>
      ))}
      {c.follows && c.changed.length > 0 && (
        <Text textStyle="note" color="ink2" mt="2">
          Changed between them: {c.changed.join(", ")}
          {c.note && ` (${c.note})`}.
        </Text>
      )}
      {prove.error && <Problem error={prove.error} />}
      {prove.data ? (
        <Text role="status" mt="2">
          In the proof: {prove.data.said.join("; ")}. <Link to={`/cases/${prove.data.case}/proof`}>To the proof</Link>
        </Text>
      ) : (
        <Button mt="3" disabled={prove.isPending} onClick={() => prove.mutate()}>
          Put into proof <kbd>p</kbd>
        </Button>
      )}
    </Box>
  );
}
