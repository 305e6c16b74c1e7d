import { Box, Text } from "@chakra-ui/react";
import { answer, api, type Schemas } from "../../api/client";
import { InstrumentForm } from "../../shared/instrument/InstrumentForm";
import { instrumentPath } from "../../shared/instrument/path";
import { useCase, useCaseStatus } from "./useCase";

/** The instrument of a check, in the case: what it states becomes a reading. */
export function InstrumentPanel({
  check,
  instrument,
  startAgain,
}: {
  check: Schemas["Check"];
  instrument: Schemas["Instrument"];
  startAgain: boolean;
}) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const path = { id: shown.id, check: check.id };
  return (
    <Box as="section" aria-label={instrument.title} mt="3">
      <Text as="h3" fontWeight="700" mb="1">
        {instrument.title}
      </Text>
      <InstrumentForm
        instrument={instrument}
        computeKey={["measure", shown.id, check.id]}
        compute={({ values, gauge }, signal) =>
          answer(api.POST("/cases/{id}/checks/{check}/results", { params: { path }, body: { values, gauge }, signal }))
        }
        put={(m) => actions.put.mutate({ check: check.id, ...m })}
        putting={status.put.isPending}
        putProblem={status.put.error}
        mayRepeat={check.findings.some((f) => f.again) && !shown.closed}
        startAgain={startAgain}
        closed={shown.closed}
        onward={(f) => instrumentPath(f.name, { case: shown.id }, f.values)}
        narrow
      />
    </Box>
  );
}
