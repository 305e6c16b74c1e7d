import { Box, Flex, Grid, Text, useBreakpointValue } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type ReactNode } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { caseQuery } from "../../api/queries";
import { stageNames, stages } from "../../shared/format";
import { Problem } from "../../shared/states";
import { CaseFrame } from "./CaseFrame";
import { CaseHead } from "./CaseHead";
import { ChecksStage } from "./ChecksStage";
import { ComplaintStage } from "./ComplaintStage";
import { DecisionStage } from "./decision/DecisionStage";
import { HeadingPanel, NextStrip, RoseAlone } from "./HeadingPanel";
import { MovesFigure } from "./MovesFigure";
import { ProofStage } from "./ProofStage";
import { RoadStage } from "./RoadStage";
import { Side } from "./Side";
import { Suspects } from "./Suspects";
import { TeardownStage } from "./teardown/TeardownStage";
import { Trail } from "./Trail";
import { CaseProvider } from "./CaseProvider";
import { useCase, useCaseStatus } from "./useCase";
import { useExact } from "./useExact";
import { WhatIfPanel } from "./WhatIfPanel";
import { WhyPanel } from "./WhyPanel";
import { Title } from "../../shared/Title";
import { useSingleKey } from "../../shared/useSingleKey";

const work: Record<string, () => ReactNode> = {
  complaint: ComplaintStage,
  road: RoadStage,
  checks: ChecksStage,
  teardown: TeardownStage,
  decision: DecisionStage,
  proof: ProofStage,
};

export function CasePage() {
  const { id = "", stage } = useParams();
  const { data, error, refetch } = useQuery(caseQuery(id));
  if (error && !data)
    return (
      <Box as="main" px="5" pt="4">
        <Text as="h1" textStyle="title" fontWeight="700">
          Case
        </Text>
        <Problem error={error} retry={() => void refetch()} />
      </Box>
    );
  if (!data) return <CaseFrame id={id} stage={stage} />;
  return (
    <CaseProvider key={id} shown={data}>
      <OpenCase stage={stage && stages.includes(stage) ? stage : data.stage} />
    </CaseProvider>
  );
}

function useCaseKeys(stage: string) {
  const { shown, actions } = useCase();
  const navigate = useNavigate();
  // Asking, the figures are the answers.
  useSingleKey("1,2,3,4,5,6", (e) => stage !== "complaint" && navigate(`/cases/${shown.id}/${stages[Number(e.key) - 1]}`));
  useSingleKey("z", () => {
    const last = shown.trail.reduce<(typeof shown.trail)[number] | undefined>((a, b) => (!a || b.at > a.at ? b : a), undefined);
    if (last && !shown.closed) actions.read.mutate([{ withdraws: last.id }]);
  });
}

/** What the server refused, above the work. */
function Refused() {
  const { read, update, mark, proof, reopen } = useCaseStatus();
  const failed = [read, update, mark, proof, reopen].find((a) => a.isError);
  return failed ? <Problem error={failed.error} /> : null;
}

function OpenCase({ stage }: { stage: string }) {
  const { shown } = useCase();
  useCaseKeys(stage);
  useExact();
  const [params, setParams] = useSearchParams();
  const why = params.get("why");
  const whatIf = params.get("whatif");
  const back = () => setParams({});
  const top = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (why || whatIf) top.current?.scrollIntoView({ block: "start" });
  }, [why, whatIf]);
  const Work = work[stage] ?? ChecksStage;
  const middle = (
    <Box as="main" ref={top} position="relative" minW="0" px={{ base: "3", md: "5" }} py="4" overflowX="auto">
      <Title of={`${stageNames[stage]}, ${shown.vehicle}`} />
      <Refused />
      {why ? <WhyPanel key={why} cause={why} back={back} /> : whatIf ? <WhatIfPanel key={whatIf} reading={whatIf} back={back} /> : <Work />}
    </Box>
  );
  return (
    <>
      <CaseHead stage={stage} />
      {stage === "decision" || stage === "teardown" ? middle : <Zones middle={middle} asking={stage === "complaint"} />}
    </>
  );
}

/** Zones side by side where there is room, without the trail while the customer is asked: his words are the trail; drawers at the sides where there is not. */
function Zones({ middle, asking }: { middle: ReactNode; asking: boolean }) {
  const driving = useSearchParams()[0].has("drive");
  const wide = useBreakpointValue({ base: false, xl: true }, { ssr: false });
  const right = (
    <>
      {asking ? <RoseAlone /> : <HeadingPanel />}
      {asking && <MovesFigure />}
      <Suspects />
    </>
  );
  if (wide) {
    return (
      <Grid templateColumns={asking ? "minmax(0, 1fr) 340px" : "236px minmax(0, 1fr) 304px"} flex="1">
        {!asking && (
          <Box as="aside" aria-label="Trail" borderRightWidth="1px" borderColor="line" py="3">
            <Trail />
          </Box>
        )}
        {middle}
        <Box as="aside" aria-label="Heading and suspects" borderLeftWidth="1px" borderColor="line">
          {right}
        </Box>
      </Grid>
    );
  }
  return (
    <Box>
      {!asking && !driving && (
        // What comes next stays in view, however far the work is scrolled.
        <Box position="sticky" top="0" zIndex="3" bg="page" px={{ base: "3", md: "5" }} py="1.5" borderBottomWidth="1px" borderColor="line">
          <NextStrip />
        </Box>
      )}
      <Flex
        as="section"
        aria-label="Sides"
        gap="2"
        px={{ base: "3", md: "5" }}
        py="2"
        borderBottomWidth="1px"
        borderColor="line"
        justify="space-between"
      >
        <Side label="Trail" placement="start">
          <Trail />
        </Side>
        <Side label="Heading and suspects" placement="end">
          {right}
        </Side>
      </Flex>
      {middle}
    </Box>
  );
}
