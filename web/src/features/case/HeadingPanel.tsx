import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { accessNames, minutes, money, percent } from "../../shared/format";
import { Chip } from "../../shared/Chip";
import { LargeRose } from "../../shared/Rose";
import { useCase } from "./useCase";
import { useSingleKey } from "../../shared/useSingleKey";

type Advice = Schemas["Advice"];

const target = (id: string, a: Advice) =>
  (a.drive ? `/cases/${id}/road?cell=${a.drive}` : `/cases/${id}/checks?check=${encodeURIComponent(a.check)}`) +
  (a.again ? "&again=1" : "");

/** Why a check is not possible here. */
const whyNot = ["no tool", "no lift free", "customer waits", "another reason"];

function Best({ advice }: { advice: Advice }) {
  const [asking, setAsking] = useState(false);
  const { shown, actions } = useCase();
  const navigate = useNavigate();
  const { data: settings } = useQuery(settingsQuery);
  const start = () => navigate(target(shown.id, advice));
  useSingleKey("h", start);
  return (
    <Box>
      <Text as="h2" textStyle="subheading" fontWeight="700" lineHeight="1.25">
        {advice.again ? "Look again" : "Next"}: {advice.title}
      </Text>
      <Text color="ink2" textStyle="note" mt="1">
        {advice.tells}
      </Text>
      <Text textStyle="note" mt="1">
        {advice.why}
      </Text>
      <Flex columnGap="4" mt="2" textStyle="note" wrap="wrap">
        <b>{minutes(advice.minutes)}</b>
        {advice.climb > 0 && (
          <Text>
            needs <b>{accessNames[advice.access]}</b>, {minutes(advice.climb)}
          </Text>
        )}
        <Text>
          saves about <b>{money(settings?.currency ?? "", advice.saves)}</b>
        </Text>
      </Flex>
      {advice.along.length > 0 && (
        <Text mt="1" textStyle="note">
          On the same climb: <b>{advice.along.join("; ")}</b>, {minutes(advice.alongMinutes)}
        </Text>
      )}
      {(advice.first.length > 0 || advice.fluid) && (
        <Text mt="1" textStyle="note">
          {advice.fluid && `Fluid ${advice.fluid}. `}
          {advice.first.length > 0 && `First: ${advice.first.join("; ")}.`}
        </Text>
      )}
      {advice.cautions
        .filter((c) => c.hazard === "high")
        .map((c) => (
          <Text key={c.title} mt="2" textStyle="small" color="fault">
            <b>Caution.</b> {c.title}
          </Text>
        ))}
      <Flex gap="2" mt="3" wrap="wrap">
        <Button variant="solid" onClick={start}>
          Start <kbd>h</kbd>
        </Button>
        <Button aria-expanded={asking} onClick={() => setAsking(!asking)}>
          Not possible here
        </Button>
      </Flex>
      {asking && (
        <Box role="group" aria-label="Why it is not possible here" mt="2">
          <Text color="ink2" textStyle="note" mb="1">
            Why not? The plan is made again without it.
          </Text>
          <Flex gap="1.5" wrap="wrap">
            {whyNot.map((note) => (
              <Chip key={note} type="button" onClick={() => actions.mark.mutate({ check: advice.check, kind: "skip", note })}>
                {note}
              </Chip>
            ))}
          </Flex>
        </Box>
      )}
    </Box>
  );
}

/** Why to stop, and what it costs to be wrong. */
function Stop() {
  const { shown } = useCase();
  const navigate = useNavigate();
  const { data: settings } = useQuery(settingsQuery);
  const { stop, doubt, inVain } = shown.heading;
  return (
    <Box>
      <Text as="h2" textStyle="subheading" fontWeight="700">
        Stop checking
      </Text>
      <Text color="ink2" textStyle="note">
        {stop}
      </Text>
      {doubt >= 0.005 && (
        <Text textStyle="note" mt="1">
          If it is something else (<b>{percent(doubt)} %</b>), its repair is wasted: about <b>{money(settings?.currency ?? "", inVain)}</b>{" "}
          from here, with closing up and the drive after it.
        </Text>
      )}
      <Button mt="3" variant="solid" onClick={() => navigate(`/cases/${shown.id}/decision`)}>
        To the decision
      </Button>
    </Box>
  );
}

/** The next step in one line, where the panel has no room: it is always in view. */
export function NextStrip() {
  const { shown } = useCase();
  const navigate = useNavigate();
  const best = shown.heading.best[0];
  if (shown.closed) return null;
  const go = () => navigate(best ? target(shown.id, best) : `/cases/${shown.id}/decision`);
  return (
    <Flex as="section" aria-label="Next step" align="center" justify="space-between" gap="3" flex="1 1 100%">
      <Text fontWeight="700" lineHeight="1.25" minW="0">
        {best ? `${best.again ? "Look again" : "Next"}: ${best.title}` : "Stop checking"}
        {best && (
          <Text as="span" color="ink2" fontWeight="400">
            {" "}
            {minutes(best.minutes + best.climb)}
          </Text>
        )}
      </Text>
      <Button variant="solid" flex="none" onClick={go}>
        {best ? "Start" : "Decide"}
      </Button>
    </Flex>
  );
}

/** The rose by itself, while the customer is asked: what comes next stands with the questions. */
export function RoseAlone() {
  const { shown } = useCase();
  return (
    <Box px="4" pt="2" pb="2" borderBottomWidth="1px" borderColor="line">
      <LargeRose rose={shown.rose} />
    </Box>
  );
}

/** What to do next and why, under the rose. */
export function HeadingPanel() {
  const { shown } = useCase();
  const navigate = useNavigate();
  const [best, ...others] = shown.heading.best;
  return (
    <Box px="4" pt="2" pb="4">
      <LargeRose rose={shown.rose} />
      <Box mt="2">
        {shown.closed ? (
          <Text as="h2" textStyle="subheading" fontWeight="700">
            The case is closed
          </Text>
        ) : best ? (
          <Best key={best.check} advice={best} />
        ) : (
          <Stop />
        )}
        {!shown.closed && others.length > 0 && (
          <Box mt="3" textStyle="note">
            <Text color="ink2">or</Text>
            {others.map((a) => (
              <button
                key={a.check}
                type="button"
                style={{ display: "block", minHeight: 44, textAlign: "left" }}
                onClick={() => navigate(target(shown.id, a))}
              >
                {a.again && "once more: "}
                <u>{a.title}</u>, {minutes(a.minutes + a.climb + a.alongMinutes)}
              </button>
            ))}
          </Box>
        )}
      </Box>
    </Box>
  );
}
