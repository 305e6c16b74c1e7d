import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import { recordingQuery, recordingsQuery, type Recording } from "../../api/recordings";
import { SelectField, TextField } from "../../shared/fields";
import { short } from "../../shared/format";
import { Problem } from "../../shared/states";

/** Speeds of another recording of the same drive: a scan tool's beside a microphone's, by their clap or by seconds. */
export function JoinForm({ r }: { r: Recording }) {
  const client = useQueryClient();
  const { data: all } = useQuery(recordingsQuery());
  const [other, setOther] = useState(r.joined?.id ?? "");
  const [offset, setOffset] = useState(r.joined ? short(r.joined.offset, 3) : "");
  const join = useMutation({
    mutationFn: (b: { with: string; offset?: number }) =>
      answer(api.PUT("/recordings/{id}/joined", { params: { path: { id: r.id } }, body: { revision: r.revision, ...b } })),
    onSuccess: (now) => client.setQueryData(recordingQuery(r.id).queryKey, now),
  });
  const rest = all?.filter((x) => x.id !== r.id) ?? [];
  const seconds = Number(offset.replace(",", "."));
  return (
    <Box>
      {r.joined && (
        <Text mb="2">
          Speeds come from {r.joined.title}; this one begins {short(r.joined.offset, 2)} s after it.
        </Text>
      )}
      <SelectField
        label="Recording with the speed"
        value={other}
        options={[["", "none"], ...rest.map((x): [string, string] => [x.id, x.title])]}
        onChange={(e) => setOther(e.target.value)}
      />
      <Flex gap="2" align="end" mt="2" wrap="wrap">
        <Box flex="1 1 150px">
          <TextField label="This one begins later by, s" inputMode="decimal" value={offset} onChange={(e) => setOffset(e.target.value)} />
        </Box>
        <Button
          disabled={!other || offset.trim() === "" || Number.isNaN(seconds) || join.isPending}
          onClick={() => join.mutate({ with: other, offset: seconds })}
        >
          Join
        </Button>
        <Button disabled={!other || join.isPending} onClick={() => join.mutate({ with: other })}>
          By the clap
        </Button>
        {r.joined && <Button onClick={() => join.mutate({ with: "" })}>Part them</Button>}
      </Flex>
      {join.error && <Problem error={join.error} />}
    </Box>
  );
}
