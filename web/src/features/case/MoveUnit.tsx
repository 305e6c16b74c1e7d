import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import { answered, keyOf } from "../../api/keys";
import { caseQuery, moveQuery, unitsQuery } from "../../api/queries";
import { Problem } from "../../shared/states";
import { Suggest } from "../../shared/Suggest";
import { worker } from "../../shared/worker";
import { useCase } from "./useCase";

/** A case told by another unit from now on: what it keeps and what it loses is said before it moves. */
export function MoveUnit({ close }: { close: () => void }) {
  const { shown } = useCase();
  const client = useQueryClient();
  const [unit, setUnit] = useState("");
  const units = useQuery(unitsQuery);
  const look = useQuery({ ...moveQuery(shown.id, unit), enabled: unit !== "" });
  const move = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/cases/{id}/unit", {
          params: { path: { id: shown.id }, header: { "Idempotency-Key": keyOf(`move ${shown.id}`, unit), "If-Match": `"${shown.rev}"` } },
          body: { unit, by: worker() },
        }),
      ),
    onSuccess: () => {
      answered(`move ${shown.id}`, keyOf(`move ${shown.id}`, unit));
      void client.invalidateQueries({ queryKey: caseQuery(shown.id).queryKey });
      void client.invalidateQueries({ queryKey: ["case", shown.id] });
      void client.invalidateQueries({ queryKey: ["cases"] });
      close();
    },
  });
  return (
    <Box as="section" aria-label="Another unit" borderWidth="1px" borderColor="slate" bg="panel" p="4" my="3" maxW="640px">
      <Suggest
        label="Which unit is it?"
        placeholder="name or kind: four-speed, transaxle"
        all={(units.data ?? []).filter((u) => u.id !== shown.unit).map((u) => ({ value: u.id, label: u.name, about: u.summary }))}
        value={unit}
        choose={setUnit}
      />
      {look.error && <Problem error={look.error} />}
      {look.data && (
        <Box mt="2" aria-live="polite">
          <Text>
            <b>{look.data.fits}</b> {look.data.fits === 1 ? "reading stays" : "readings stay"} and count on the {look.data.unitName}.
          </Text>
          {look.data.left.length > 0 && (
            <>
              <Text fontWeight="600">The {look.data.unitName} has no word for these. They are taken back and stay in the log:</Text>
              <Box as="ul" pl="5" listStyleType="disc">
                {look.data.left.map((l) => (
                  <li key={l}>{l}</li>
                ))}
              </Box>
            </>
          )}
        </Box>
      )}
      {move.error && <Problem error={move.error} />}
      <Flex gap="3" mt="3">
        <Button variant="solid" disabled={!look.data} loading={move.isPending} onClick={() => move.mutate()}>
          Change the unit
        </Button>
        <Button onClick={close}>Close</Button>
      </Flex>
    </Box>
  );
}
