import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../../api/client";
import { accessNames, minutes, quoted, stageNames, stages } from "../../shared/format";
import { MoveUnit } from "./MoveUnit";
import { StageTabs } from "./StageTabs";
import { useCase, useCaseStatus } from "./useCase";

/** How far the vehicle is opened up; a step is taken by pressing it. */
function Ladder() {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const here = shown.ladder.findIndex((r) => r.state === "here");
  const next = shown.ladder[here + 1];
  return (
    <Box role="group" aria-label="Where the vehicle stands" minW="0" maxW="full" data-noprint>
      <Flex align="end" wrap={{ base: "nowrap", md: "wrap" }} overflowX="auto" whiteSpace="nowrap">
        <Text textStyle="small" color="ink2" mr="2" pb="2.5">
          stands at
        </Text>
        {shown.ladder.map((r) => (
          <button
            key={r.level}
            type="button"
            aria-pressed={r.state === "here"}
            disabled={shown.closed || status.update.isPending}
            onClick={() => actions.update.mutate({ access: r.level })}
          >
            <Flex
              px="2.5"
              minW="44px"
              h="34px"
              align="center"
              justify="center"
              textStyle="small"
              fontWeight={r.state === "here" ? "700" : "400"}
              color={r.state === "here" ? "ink" : "ink2"}
              borderBottomWidth="3px"
              borderColor={r.state === "here" ? "brass" : r.state === "passed" ? "slate" : "line"}
            >
              {accessNames[r.level]}
            </Flex>
          </button>
        ))}
      </Flex>
      <Text textAlign="right" textStyle="small" color="ink2" mt="0.5">
        {next ? `next level: ${accessNames[next.level]}, ${minutes(next.minutes)}` : "opened up as far as it goes"}
      </Text>
    </Box>
  );
}

/** A made-up case says so, and goes when it has served. */
function SampleNote() {
  const { shown } = useCase();
  const client = useQueryClient();
  const navigate = useNavigate();
  const remove = useMutation({
    mutationFn: () => answer(api.DELETE("/cases/{id}", { params: { path: { id: shown.id } } })),
    onSuccess: () => {
      void navigate("/");
      client.removeQueries({ queryKey: ["case", shown.id] });
      void client.invalidateQueries({ queryKey: ["cases"] });
    },
  });
  return (
    <Flex align="center" gap="3" wrap="wrap">
      <Text textStyle="note">
        <b>Sample, made up.</b> Try everything; no record is issued from it.
      </Text>
      <Button loading={remove.isPending} onClick={() => remove.mutate()}>
        Remove the sample
      </Button>
    </Flex>
  );
}

export function CaseHead({ stage }: { stage: string }) {
  const { shown, actions } = useCase();
  const shownIndex = stages.indexOf(stage);
  const [moving, setMoving] = useState(false);
  return (
    <Box as="section" aria-label="Case" px={{ base: "3", md: "5" }} pt="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" gap="4" wrap="wrap">
        <Box minW="0" flex="1 1 380px">
          <Text
            as="h1"
            textStyle={stage !== "complaint" && shown.words.length > 110 ? "subheading" : "title"}
            fontWeight="700"
            lineHeight="1.2"
            lineClamp={2}
          >
            {stage === "complaint" ? shown.vehicle : quoted(shown.words)}
          </Text>
          <Text color="ink2" mt="0.5">
            {[stage === "complaint" ? shown.customer : shown.vehicle, shown.distance, shown.owner, shown.bay]
              .filter(Boolean)
              .map((x) => `${x} · `)
              .join("")}
            <Link to={`/units/${shown.unit}`}>
              <u>{shown.unitName}</u>
            </Link>
            {shown.waitsFor && ` · waits for ${shown.waitsFor}`}
            {shown.closed && " · closed"}
            {shown.nearest && <b> · nearest sheet on file, not its own: ratios, pressures and limits may differ</b>}
          </Text>
          {(shown.unitNote || shown.nearest) && (
            <Flex align="center" gap="3" wrap="wrap">
              {shown.unitNote && (
                <Text
                  textStyle="note"
                  textDecoration="underline"
                  textDecorationStyle="dashed"
                  textDecorationColor="slate"
                  textUnderlineOffset="4px"
                >
                  {shown.unitNote.charAt(0).toUpperCase() + shown.unitNote.slice(1)}
                </Text>
              )}
              {!shown.closed && (
                <Button variant="ghost" textDecoration="underline" aria-expanded={moving} onClick={() => setMoving(!moving)}>
                  Another unit
                </Button>
              )}
            </Flex>
          )}
          {moving && <MoveUnit close={() => setMoving(false)} />}
          {shown.sample && <SampleNote />}
          {shown.earlier && (
            <Text textStyle="note">
              ↩ A return of{" "}
              <Link to={`/cases/${shown.earlier.id}`}>
                <u>{quoted(shown.earlier.words)}</u>
              </Link>
              {shown.earlier.agreed && `, then: ${shown.earlier.agreed}`}
              {shown.earlier.declined.length > 0 && `, declined then: ${shown.earlier.declined.join(", ")}`}
            </Text>
          )}
          {shown.later.map((v) => (
            <Text key={v.id} textStyle="note">
              ↪ It came back:{" "}
              <Link to={`/cases/${v.id}`}>
                <u>{quoted(v.words)}</u>
              </Link>
            </Text>
          ))}
        </Box>
        <Ladder />
      </Flex>
      <Flex justify="space-between" align="center" wrap="wrap">
        <StageTabs id={shown.id} stage={stage} done={(i) => i < stages.indexOf(shown.stage) || shown.closed} />
        {stage !== shown.stage && !shown.closed && shownIndex > stages.indexOf(shown.stage) && (
          <button type="button" style={{ minHeight: 44 }} onClick={() => actions.update.mutate({ stage })}>
            <u>Move the case to {stageNames[stage]}</u>
          </button>
        )}
      </Flex>
    </Box>
  );
}
