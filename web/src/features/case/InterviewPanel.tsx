import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { interviewQuery } from "../../api/queries";
import { accessNames, minutes } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { useSingleKey } from "../../shared/useSingleKey";
import { useCase, useCaseStatus } from "./useCase";

type Interview = Schemas["Interview"];

/** How far the interview is: one bar for each question that may be asked. */
function Steps({ put, most }: { put: number; most: number }) {
  return (
    <Flex gap="2" aria-hidden>
      {Array.from({ length: most }, (_, i) => (
        <Box key={i} w="34px" h={i === put ? "8px" : "5px"} bg={i < put ? "slate" : i === put ? "brass" : "line"} alignSelf="center" />
      ))}
    </Flex>
  );
}

function Answers({ question, given, done }: { question: { id: string; answers: string[] }; given?: string; done?: () => void }) {
  const { actions } = useCase();
  const { answer } = useCaseStatus();
  const say = (a?: string) => actions.answer.mutate({ question: question.id, answer: a }, { onSuccess: done });
  useSingleKey("1,2,3,4,5,6,7,8,9", (e) => {
    const a = question.answers[Number(e.key) - 1];
    if (a) say(a);
  });
  useSingleKey("0", () => say());
  return (
    <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(auto-fill, minmax(140px, 1fr))" }} gap="2.5" aria-busy={answer.isPending}>
      {question.answers.map((a, i) => (
        <button
          key={a}
          type="button"
          aria-pressed={a === given}
          onClick={() => say(a)}
          style={{ textAlign: "left", borderRadius: 6, width: "100%" }}
        >
          <Flex
            minH={{ base: "64px", md: "80px" }}
            h="full"
            align="center"
            gap="3"
            px="3.5"
            bg="panel"
            borderWidth={a === given ? "2px" : "1px"}
            borderColor={a === given ? "brass" : "slate"}
            borderRadius="6px"
            _hover={{ bg: "brassSoft" }}
          >
            <kbd>{i + 1}</kbd>
            <Text fontWeight="600" textStyle="lead" lineHeight="1.2">
              {a}
            </Text>
          </Flex>
        </button>
      ))}
      <Button variant="ghost" justifyContent="start" minH="64px" onClick={() => say()}>
        <kbd>0</kbd> leave out
      </Button>
    </Grid>
  );
}

/** What was asked and answered; each can be answered anew. */
function Before({ put, open, choose }: { put: Interview["put"]; open: string; choose: (id: string) => void }) {
  return (
    <Flex wrap="wrap" columnGap="5" mb="1">
      {put.map((q, i) => (
        <button
          key={q.id}
          type="button"
          aria-expanded={open === q.id}
          onClick={() => choose(open === q.id ? "" : q.id)}
          style={{ minHeight: 44, textAlign: "left" }}
        >
          <Text as="span" color="ink2" fontWeight="700" mr="2">
            {i + 1}
          </Text>
          {q.ask} <b>{q.answer || "left out"}</b>
        </button>
      ))}
    </Flex>
  );
}

/** One question at a time, because it parts the suspects of this complaint; five at most. */
export function InterviewPanel() {
  const { shown } = useCase();
  const { answer, choose } = useCaseStatus();
  const navigate = useNavigate();
  const { data, error, isPlaceholderData } = useQuery(interviewQuery(shown.id, shown.rev));
  const [reopened, setReopened] = useState("");
  const again = data?.put.find((q) => q.id === reopened);
  const onward = data?.next ? `/cases/${shown.id}/checks?check=${encodeURIComponent(data.next.id)}` : `/cases/${shown.id}/checks`;
  useSingleKey("n", () => navigate(onward));
  if (shown.closed) return null;
  if (!data)
    return (
      <Box py="4" minH="240px">
        {error ? <Problem error={error} /> : <Loading what="the next question" />}
      </Box>
    );
  const { put, ask, then, enough, most, next } = data;
  const busy = isPlaceholderData || answer.isPending || choose.isPending;
  return (
    <Box as="section" aria-label="Interview" aria-busy={busy} py="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" align="center" gap="3" mb="1">
        <Text as="h2" textStyle="label" fontWeight="700" color="ink2">
          {ask ? `Interview · question ${put.length + 1} of at most ${most}` : "Interview"}
        </Text>
        <Steps put={put.length} most={most} />
      </Flex>
      <Before put={put} open={reopened} choose={setReopened} />
      {answer.isError && <Problem error={answer.error} />}
      {again ? (
        <Box>
          <Text as="h3" textStyle="title" fontWeight="700" mb="2">
            {again.ask}
          </Text>
          <Answers key={again.id} question={again} given={again.answer} done={() => setReopened("")} />
        </Box>
      ) : ask ? (
        <Box opacity={busy ? 0.55 : 1}>
          <Text as="h3" textStyle="title" fontWeight="700" aria-live="polite">
            {ask.ask}
          </Text>
          <Text color="ink2" mb="3" maxW="760px">
            {ask.because}
          </Text>
          <Answers key={ask.id} question={ask} />
        </Box>
      ) : (
        <Text textStyle="subheading" fontWeight="600" py="2" aria-live="polite">
          {enough}
        </Text>
      )}
      <Flex mt="3" justify="space-between" align="end" gap="4" wrap="wrap">
        <Box color="ink2" textStyle="note" minW="0">
          {ask && then.length > 0 && (
            <>
              <Text fontWeight="600">then, if still worth it</Text>
              {then.map((q) => (
                <Text key={q}>{q}</Text>
              ))}
            </>
          )}
        </Box>
        {next && (
          <Button variant={ask ? "outline" : "solid"} onClick={() => navigate(onward)} whiteSpace="normal" textAlign="left" py="2">
            {ask ? "Enough asked: " : "Next: "}
            {next.title}, {minutes(next.minutes)}, {accessNames[next.access]} <kbd>n</kbd>
          </Button>
        )}
      </Flex>
    </Box>
  );
}
