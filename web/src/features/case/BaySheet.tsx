import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { Case, Schemas } from "../../api/client";
import { caseQuery, checkQuery, planQuery, settingsQuery } from "../../api/queries";
import { accessNames, day, minutes, money, percent, quoted } from "../../shared/format";
import { Loading, LoadingPlace, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";

/** A place to tick with a pen. */
const Tick = () => (
  <Box as="span" display="inline-block" boxSize="11px" borderWidth="1px" borderColor="ink" mr="1" verticalAlign="-1px" aria-hidden />
);

/** What a drive goes through, in order; the cells are set in the case. */
function Drive({ legs }: { legs: Schemas["RoadLeg"][] }) {
  return (
    <Box as="ol" pl="5" listStyleType="decimal">
      {legs.map((l) => (
        <li key={l.title}>
          <b>{l.title}.</b> {l.how} <chakra.span color="ink2">Differs in: ________________________</chakra.span>
        </li>
      ))}
    </Box>
  );
}

function Step({ n, step, shown }: { n: number; step: Schemas["PlanStep"]; shown: Case }) {
  const { data, error } = useQuery(checkQuery(shown.id, step.id, shown.rev));
  const drive = step.id.startsWith("drive.");
  return (
    <Box as="section" aria-label={`Step ${n}`} borderTopWidth="1px" borderColor="line" pt="2" mt="3" css={{ breakInside: "avoid" }}>
      <Flex justify="space-between" gap="4">
        <Text as="h2" fontWeight="700" textStyle="lead">
          {n} · {step.title}
        </Text>
        <Text whiteSpace="nowrap">
          {minutes(step.minutes)}, {accessNames[step.access]}
          {step.climb > 0 && `, ${minutes(step.climb)} to get there`}
        </Text>
      </Flex>
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the step" rows={2} />}
      {data && (
        <Box textStyle="note">
          {data.cautions.map((c) => (
            <Text key={c.title} mt="1">
              <b>⚠ {c.title}</b> {c.text}
            </Text>
          ))}
          {(data.tools.length > 0 || data.fluid) && (
            <Text color="ink2">
              {[data.fluid && `fluid ${data.fluid}`, data.tools.length > 0 && `at hand: ${data.tools.join(", ")}`]
                .filter(Boolean)
                .join(" · ")}
            </Text>
          )}
          {drive ? (
            <Drive legs={shown.road.legs} />
          ) : (
            <>
              <Box as="ol" pl="5" listStyleType="decimal" my="1">
                {data.steps.map((s) => (
                  <li key={s}>{s}</li>
                ))}
              </Box>
              {data.findings.slice(0, 6).map((f) => (
                <Text key={f.id} mt="0.5">
                  <b>{f.title}:</b>{" "}
                  {f.states.map((s) => (
                    <chakra.span key={s.id} mr="3" whiteSpace="nowrap">
                      <Tick />
                      {s.title}
                    </chakra.span>
                  ))}
                </Text>
              ))}
            </>
          )}
        </Box>
      )}
    </Box>
  );
}

/** The plan on one sheet of paper for the bay: what to do, what can hurt, what to tick. */
function Sheet({ shown }: { shown: Case }) {
  const { data: plan, error } = useQuery(planQuery(shown.id, `${shown.rev} ${shown.access}`));
  const { data: settings } = useQuery(settingsQuery);
  const leader = shown.suspects[0];
  return (
    <Box
      as="main"
      maxW="760px"
      mx="auto"
      px={{ base: "3", md: "5" }}
      py="4"
      css={{ "@media print": { maxWidth: "none", padding: 0, fontSize: "11.5px" } }}
    >
      <Title of={`Bay sheet, ${shown.vehicle}`} />
      <Flex justify="space-between" gap="3" mb="3" data-noprint>
        <Button asChild variant="ghost" px="0">
          <Link to={`/cases/${shown.id}`}>← Back to the case</Link>
        </Button>
        <Button variant="solid" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <Flex justify="space-between" gap="4">
        <Text as="h1" textStyle="title" fontWeight="700" lineHeight="1.2">
          {quoted(shown.words)}
        </Text>
        <Text whiteSpace="nowrap" color="ink2">
          {day(new Date().toISOString())}
        </Text>
      </Flex>
      <Text>
        {[shown.vehicle, shown.unitName, shown.distance, shown.owner, shown.bay].filter(Boolean).join(" · ")} · stands at{" "}
        <b>{accessNames[shown.access]}</b>
      </Text>
      {leader && (
        <Text color="ink2">
          Leads now: {leader.title}, {percent(leader.probability)} of 100.
        </Text>
      )}
      {error && <Problem error={error} />}
      {!plan && !error && <Loading what="the plan" />}
      {plan && (
        <>
          <Text textStyle="subheading" fontWeight="700" mt="3">
            {plan.sentence}
          </Text>
          {plan.steps.map((s, i) => (
            <Step key={s.id} n={i + 1} step={s} shown={shown} />
          ))}
          <Box as="section" aria-label="Where it ends" borderTopWidth="1px" borderColor="line" pt="2" mt="3" textStyle="note">
            <Text as="h2" fontWeight="700">
              Of a hundred like this
            </Text>
            {[...plan.steps.flatMap((s) => s.stops), ...plan.end].map((s) => (
              <Text key={s.repair + s.seen}>
                {Math.round(100 * s.share)}: {s.seen}. {s.repair}, {money(settings?.currency ?? "", s.price)}.
              </Text>
            ))}
          </Box>
          <Text mt="3" color="ink2" textStyle="small">
            The maker’s procedure goes first. By: ______________________ Time: ____________
          </Text>
        </>
      )}
    </Box>
  );
}

export function BaySheet() {
  const { id = "" } = useParams();
  const { data, error } = useQuery(caseQuery(id));
  if (error && !data) return <Problem error={error} />;
  return data ? <Sheet shown={data} /> : <LoadingPlace title="Bay sheet" what="the case" />;
}
