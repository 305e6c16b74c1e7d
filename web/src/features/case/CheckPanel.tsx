import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { checkQuery } from "../../api/queries";
import { accessNames, knowledgePath, minutes } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { CodesEntry } from "./CodesEntry";
import { FindingRow } from "./FindingRow";
import { InstrumentPanel } from "./InstrumentPanel";
import { useCase, useCaseStatus } from "./useCase";

type Check = Schemas["Check"];

function Caution({ caution }: { caution: Schemas["Caution"] }) {
  return (
    <Flex gap="4" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" my="2" role="note" aria-label="Caution">
      <Text fontWeight="700" w="150px" flexShrink={0}>
        ⚠ {caution.title}
      </Text>
      <Text>{caution.text} The maker’s procedure goes first.</Text>
    </Flex>
  );
}

/** A check that can hurt shows its steps only after its caution was read: once per case. */
function Body({ check }: { check: Check }) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const again = useSearchParams()[0].has("again");
  const high = check.cautions.some((c) => c.hazard === "high");
  if (high && !check.acknowledged && !shown.closed) {
    return (
      <Button
        variant="solid"
        mt="3"
        autoFocus
        loading={status.mark.isPending}
        onClick={() => actions.mark.mutate({ check: check.id, kind: "acknowledge" })}
      >
        Read; show the steps
      </Button>
    );
  }
  return (
    <Box>
      <Box as="ol" my="3" pl="5" listStyleType="decimal">
        {check.steps.map((s) => (
          <Box as="li" key={s} py="0.5">
            {s}
          </Box>
        ))}
      </Box>
      {check.codes && <CodesEntry />}
      {check.instrument && <InstrumentPanel check={check} instrument={check.instrument} startAgain={again} />}
      {check.instrument && (
        <Text color="ink2" textStyle="note" mt="4">
          Or, without the instrument, what you saw:
        </Text>
      )}
      {!check.codes &&
        check.findings.map((f) => <FindingRow key={f.id} finding={f} source="seen" stage="checks" check={check.id} startAgain={again} />)}
    </Box>
  );
}

/** What must be at hand, warm or known before the check means anything. */
function Before({ check }: { check: Check }) {
  const { shown } = useCase();
  const open = check.first.filter((f) => !f.known);
  return (
    <Box textStyle="note" mt="1">
      {check.tools.length > 0 && <Text>At hand: {check.tools.join(", ")}.</Text>}
      {check.fluid && <Text>The fluid must be {check.fluid}.</Text>}
      {open.length > 0 && (
        <Text>
          <b>First:</b> {open.map((f) => f.title).join("; ")}. Without it the result misleads.
        </Text>
      )}
      <Text>
        {check.school && (
          <>
            <Link to={knowledgePath(shown.unit, "school", check.school)}>
              <u>Practitioners differ on this</u>
            </Link>
            {" · "}
          </>
        )}
        <Link to={knowledgePath(shown.unit, "check", check.id)}>
          <u>What is on file about it</u>
        </Link>
      </Text>
    </Box>
  );
}

export function CheckPanel({ id, back }: { id: string; back: () => void }) {
  const { shown, actions } = useCase();
  const { data, error } = useQuery(checkQuery(shown.id, id, shown.rev));
  if (error)
    return (
      <Box>
        <Button variant="ghost" px="0" onClick={back}>
          ← All checks
        </Button>
        <Problem error={error} />
      </Box>
    );
  if (!data) return <Loading what="the check" />;
  return (
    <Box>
      <Flex justify="space-between" gap="2">
        <Button variant="ghost" px="0" onClick={back}>
          ← All checks
        </Button>
        {!shown.closed && (
          <Button variant="ghost" onClick={() => actions.mark.mutate({ check: id, kind: "skip", undo: data.skipped })}>
            {data.skipped ? "Possible after all" : "Not possible here"}
          </Button>
        )}
      </Flex>
      <Text as="h2" textStyle="heading" fontWeight="700">
        {data.title}
      </Text>
      <Text color="ink2">
        {data.tells} {minutes(data.minutes)}, at {accessNames[data.access]}
        {data.climb > 0 && `, ${minutes(data.climb)} to get there`}.
      </Text>
      <Before check={data} />
      {data.climb > 0 && !shown.closed && (
        <Button mt="2" onClick={() => actions.update.mutate({ access: data.access })}>
          The vehicle stands at {accessNames[data.access]} now
        </Button>
      )}
      {data.cautions.map((c) => (
        <Caution key={c.title} caution={c} />
      ))}
      <Body check={data} />
    </Box>
  );
}
