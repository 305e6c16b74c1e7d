import { Box, Button, chakra, Flex, Grid, Text, useBreakpointValue } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { planQuery, settingsQuery } from "../../api/queries";
import { accessNames, minutes, money } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { band, figure, layout, type Drawn } from "./planLayout";
import { useSingleKey } from "../../shared/useSingleKey";
import { useCase } from "./useCase";

type Plan = Schemas["Plan"];
type Stop = Schemas["PlanStop"];

const of100 = (share: number) => (share > 0 && share < 0.005 ? "<1" : `${Math.round(100 * share)}`);
const colour = (name: string) => `var(--chakra-colors-${name})`;

/** The likeliest end of all: it leads, and is drawn so. */
function likeliest(plan: Plan): Schemas["PlanStop"] | undefined {
  return [...plan.steps.flatMap((s) => s.stops), ...plan.end].sort((a, b) => b.share - a.share)[0];
}

function Stream({ plan, drawn }: { plan: Plan; drawn: Drawn }) {
  const first = likeliest(plan);
  const { top, bottom, width } = figure;
  return (
    <svg viewBox={`0 0 ${width} ${bottom + 6}`} width="100%" aria-hidden style={{ display: "block" }}>
      {drawn.stream.map((s, i) => (
        <rect key={i} x={s.x0} y={top} width={Math.max(0, s.x1 - s.x0)} height={Math.max(1, s.height)} fill={colour("line")} />
      ))}
      {drawn.stops.map((s) => (
        <g key={s.key}>
          <path d={band(s)} fill={colour(s.stop === first ? "brass" : "slate")} />
          <rect x={s.x - Math.max(14, s.width / 2 + 3)} y={bottom} width={Math.max(28, s.width + 6)} height="4" fill={colour("ink")} />
        </g>
      ))}
      <text x="10" y={top + figure.full / 2 + 6} fill={colour("ink")} style={{ fontSize: 18, fontWeight: 700 }}>
        100
        <tspan dx="6" style={{ fontSize: 13, fontWeight: 400 }}>
          like this
        </tspan>
      </text>
      {drawn.nodes.map((n, i) => (
        <g key={n.step.id}>
          <line x1={n.x} x2={n.x} y1={top - 12} y2={top + n.step.reach * figure.full} stroke={colour("ink")} strokeWidth="1.5" />
          <circle cx={n.x} cy={top - 22} r="11" fill={i === 0 ? colour("ink") : colour("page")} stroke={colour("ink")} strokeWidth="1.5" />
          <text
            x={n.x}
            y={top - 17.5}
            textAnchor="middle"
            fill={i === 0 ? colour("page") : colour("ink")}
            style={{ fontSize: 13, fontWeight: 700 }}
          >
            {i + 1}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** What stands under each stop. Columns lie as in the drawing. */
function Ends({ plan, drawn, suppose }: { plan: Plan; drawn: Drawn; suppose: (s: Stop) => void }) {
  const { data: settings } = useQuery(settingsQuery);
  const first = likeliest(plan);
  return (
    <Box position="relative" h="132px">
      {drawn.stops.map((s) => (
        <chakra.button
          type="button"
          disabled={!s.stop.finding}
          aria-label={`What if: ${s.stop.seen}`}
          title={s.stop.seen}
          onClick={() => suppose(s.stop)}
          _enabled={{ cursor: "pointer", _hover: { bg: "brassSoft" } }}
          key={s.key}
          position="absolute"
          top="0"
          left={`${((s.x - drawn.column / 2) / figure.width) * 100}%`}
          w={`${(drawn.column / figure.width) * 100}%`}
          textAlign="center"
          px="1"
          textStyle="fine"
          lineHeight="1.2"
        >
          <Text textStyle="lead" fontWeight="700">
            {of100(s.stop.share)}
          </Text>
          <Text fontWeight={s.stop === first ? "700" : "600"} lineClamp={3}>
            {s.stop.repair}
          </Text>
          <Text>{money(settings?.currency ?? "", s.stop.price)}</Text>
        </chakra.button>
      ))}
    </Box>
  );
}

/** At each point of the path: spent by then, and hatched what being wrong is expected to cost. The lowest ends the plan. */
function Costs({ plan }: { plan: Plan }) {
  const { data: settings } = useQuery(settingsQuery);
  const cash = (v: number) => money(settings?.currency ?? "", v);
  const most = Math.max(1, ...plan.points.map((p) => p.spent + p.vain));
  return (
    <Grid
      templateColumns={{ base: "1fr 1fr", md: `repeat(${plan.points.length}, minmax(0, 1fr))` }}
      gap="3"
      mt="2"
      pt="3"
      borderTopWidth="1px"
      borderColor="line"
    >
      {plan.points.map((p, i) => (
        <Flex key={i} gap="2.5" align="end" borderBottomWidth="4px" borderColor={i === plan.best ? "brass" : "transparent"} pb="1">
          <Box w="40px" flex="none" aria-hidden>
            <Box
              h={`${Math.round((64 * p.vain) / most)}px`}
              borderWidth="1px"
              borderColor="fault"
              bgImage="repeating-linear-gradient(135deg, {colors.fault} 0 1px, transparent 1px 5px)"
            />
            <Box h={`${Math.max(1, Math.round((64 * p.spent) / most))}px`} bg="slate" />
          </Box>
          <Box minW="0" lineHeight="1.2">
            <Text textStyle="figure" fontWeight="700">
              {cash(p.spent + p.vain)}
            </Text>
            <Text fontWeight="600" textStyle="small">
              {i === 0 ? "deciding now" : `after ${i}`}
            </Text>
            <Text color="ink2" textStyle="small">
              {of100(p.wrong)} of 100 wrong{i === plan.best ? ": the plan ends here" : ""}
            </Text>
          </Box>
        </Flex>
      ))}
    </Grid>
  );
}

/** The same in words: what a screen reader gets, and what a phone shows. */
function InSentences({ plan, suppose }: { plan: Plan; suppose: (s: Stop) => void }) {
  const { data: settings } = useQuery(settingsQuery);
  const cash = (v: number) => money(settings?.currency ?? "", v);
  const ends = (stops: Schemas["PlanStop"][]) =>
    stops.map((s) => (
      <li key={s.repair + s.seen}>
        {of100(s.share)} of 100: {s.seen}. {s.repair}, {cash(s.price)}.{" "}
        {s.finding && (
          <button type="button" style={{ minHeight: 44, minWidth: 44 }} aria-label={`What if: ${s.seen}`} onClick={() => suppose(s)}>
            <u>What if?</u>
          </button>
        )}
      </li>
    ));
  return (
    <ol style={{ paddingLeft: 20 }}>
      {plan.steps.map((s) => (
        <li key={s.id}>
          <b>{s.title}</b>, {minutes(s.minutes)}
          {s.climb > 0 && `, ${accessNames[s.access]} ${minutes(s.climb)}`}, {cash(s.price)}.
          <ul style={{ paddingLeft: 18 }}>{ends(s.stops)}</ul>
          {s.on > 0.005 && <span>{of100(s.on)} of 100 go on.</span>}
        </li>
      ))}
      <li>
        At the end<ul style={{ paddingLeft: 18 }}>{ends(plan.end)}</ul>
      </li>
    </ol>
  );
}

function PathNames({ plan }: { plan: Plan }) {
  const { shown } = useCase();
  const navigate = useNavigate();
  return (
    <Grid templateColumns={{ base: "1fr", md: `repeat(${plan.steps.length}, minmax(0, 1fr))` }} gap="3" mb="1">
      {plan.steps.map((s, i) => (
        <button
          key={s.id}
          type="button"
          style={{ textAlign: "left", minHeight: 44, alignSelf: "start" }}
          onClick={() => navigate(`/cases/${shown.id}/checks?check=${encodeURIComponent(s.id)}`)}
        >
          <Box borderTopWidth="4px" borderColor={i === 0 ? "brass" : "slate"} pt="1.5">
            <Text fontWeight="700" lineHeight="1.2">
              {i + 1} · {s.title}
            </Text>
            <Text color="ink2" textStyle="small">
              <b>{minutes(s.minutes)}</b>
              {s.climb > 0 ? ` · ${accessNames[s.access]}, ${minutes(s.climb)} to get there` : ` · ${accessNames[s.access]}`}
            </Text>
          </Box>
        </button>
      ))}
    </Grid>
  );
}

/** The next checks as a path: a hundred vehicles like this one, where they leave it, and what deciding earlier would cost. */
export function PlanFigure() {
  const { shown } = useCase();
  const [as, setAs] = useState<{ finding: string; state: string }>();
  const { data: plan, error, isPlaceholderData } = useQuery(planQuery(shown.id, `${shown.rev} ${shown.access}`, as));
  const suppose = (s: Stop) => setAs({ finding: s.finding, state: s.state });
  // The likeliest end, or back to the case as it stands.
  useSingleKey("w", () => {
    const end = plan && likeliest(plan);
    if (as) setAs(undefined);
    else if (end?.finding) suppose(end);
  });
  // The drawing needs room; a phone gets the words.
  const wide = useBreakpointValue({ base: false, md: true }, { ssr: false });
  if (error) return <Problem error={error} />;
  if (!plan) return <Loading what="the plan" />;
  const drawn = layout(plan);
  return (
    <Box as="section" aria-label="Plan" opacity={isPlaceholderData ? 0.6 : 1} pb="4" mb="2" borderBottomWidth="1px" borderColor="line">
      {plan.asIf && (
        <Flex role="status" bg="brassSoft" px="3" py="1.5" mb="2" align="center" justify="space-between" gap="3" wrap="wrap">
          <Text>
            <b>What if “{plan.asIf}”?</b> Then {plan.leader} leads, {of100(plan.share)} of 100. Nothing is noted.
          </Text>
          <Button onClick={() => setAs(undefined)}>
            Back to the plan <kbd>w</kbd>
          </Button>
        </Flex>
      )}
      <Text as="h2" textStyle="figure" fontWeight="700" lineHeight="1.25" mb="3">
        {plan.sentence}
      </Text>
      {plan.steps.length > 0 && (
        <>
          <PathNames plan={plan} />
          {wide && (
            <>
              <Stream plan={plan} drawn={drawn} />
              <Ends plan={plan} drawn={drawn} suppose={suppose} />
            </>
          )}
          {!wide && <InSentences plan={plan} suppose={suppose} />}
          <Costs plan={plan} />
          <Link to={`/cases/${shown.id}/sheet`} style={{ display: "inline-flex", minHeight: 44, alignItems: "center" }}>
            <u>Bay sheet on paper</u>
          </Link>
          {wide && (
            <details>
              <summary style={{ minHeight: 44, display: "flex", alignItems: "center", cursor: "pointer" }}>The plan in words</summary>
              <InSentences plan={plan} suppose={suppose} />
            </details>
          )}
        </>
      )}
    </Box>
  );
}
