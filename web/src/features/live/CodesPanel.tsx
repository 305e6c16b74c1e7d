import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { memo, useState } from "react";
import { answer, api } from "../../api/client";
import { openCasesQuery } from "../../api/queries";
import { Select } from "../../shared/fields";
import { quoted } from "../../shared/format";
import { Problem } from "../../shared/states";
import { worker } from "../../shared/worker";
import type { LiveState } from "./useLive";

/** Codes with their status: read, noted, and only then cleared. */
export const CodesPanel = memo(function CodesPanel({ s, take }: { s: LiveState; take: (s: LiveState) => void }) {
  const client = useQueryClient();
  const { data: cases } = useQuery(openCasesQuery);
  const [of, setOf] = useState("");
  const read = useMutation({ mutationFn: () => answer(api.GET("/live/codes", {})), onSuccess: take });
  const note = useMutation({
    mutationFn: () => answer(api.PUT("/live/codes", { body: { case: of, by: worker() } })),
    onSuccess: (now) => {
      take(now);
      if (of) void client.invalidateQueries({ queryKey: ["case", of] });
    },
  });
  const clear = useMutation({ mutationFn: () => answer(api.DELETE("/live/codes", {})), onSuccess: take });
  const error = read.error ?? note.error ?? clear.error;
  return (
    <Box as="section" aria-label="Codes" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" align="center">
        <Text as="h2" textStyle="subheading" fontWeight="700">
          Codes
        </Text>
        <Button disabled={!s.connected || read.isPending} onClick={() => read.mutate()}>
          Read
        </Button>
      </Flex>
      {s.codesRead && s.codes.length === 0 && <Text>None, stored or pending.</Text>}
      {s.codes.map((c) => (
        <Flex key={`${c.code} ${c.status}`} justify="space-between" borderTopWidth="1px" borderColor="line" py="1.5">
          <Text fontWeight="700">{c.code}</Text>
          <Text color="ink2">
            {c.status}, {c.module}
          </Text>
        </Flex>
      ))}
      {s.codes.length > 0 && (
        <Box mt="2">
          {!s.codesNoted && (
            <Flex gap="2" mb="2">
              <Select aria-label="Case that the codes go into" value={of} onChange={(e) => setOf(e.target.value)} flex="1" minW="0">
                <option value="">written down elsewhere</option>
                {(cases?.items ?? []).map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.vehicle} {quoted(c.words)}
                  </option>
                ))}
              </Select>
              <Button disabled={note.isPending} onClick={() => note.mutate()}>
                Note
              </Button>
            </Flex>
          )}
          <Text textStyle="note" mb="1">
            {s.codesNoted ? "Noted. What is cleared is gone, with what the modules froze." : "Note them first. What is cleared is gone."}
          </Text>
          <Button disabled={!s.codesNoted || clear.isPending} onClick={() => clear.mutate()}>
            Clear
          </Button>
        </Box>
      )}
      {error && <Problem error={error} />}
    </Box>
  );
});
