import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { memo, useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../../api/client";
import { openCasesQuery } from "../../api/queries";
import { Select } from "../../shared/fields";
import { quoted } from "../../shared/format";
import { Problem } from "../../shared/states";
import { useSingleKey } from "../../shared/useSingleKey";
import { worker } from "../../shared/worker";
import { moment } from "../recordings/words";
import type { LiveState } from "./useLive";

/** Record what is watched, mark moments in it, keep it. */
export const RecordPanel = memo(function RecordPanel({ s, take }: { s: LiveState; take: (s: LiveState) => void }) {
  const client = useQueryClient();
  const { data: cases } = useQuery(openCasesQuery);
  const [note, setNote] = useState("");
  const [title, setTitle] = useState("");
  const [of, setOf] = useState("");
  const start = useMutation({ mutationFn: () => answer(api.POST("/live/recording", {})), onSuccess: take });
  const mark = useMutation({
    mutationFn: (text: string) => answer(api.POST("/live/marks", { body: { note: text } })),
    onSuccess: (now) => (setNote(""), take(now)),
  });
  const keep = useMutation({
    mutationFn: () =>
      answer(api.PUT("/live/recording", { body: { title: title.trim() || `Live, ${s.unitName}`, case: of, by: worker() } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["recordings", "list"] }),
  });
  const drop = useMutation({ mutationFn: () => answer(api.DELETE("/live/recording", {})), onSuccess: take });
  useSingleKey("m", () => s.recording && mark.mutate("here"));
  const error = start.error ?? mark.error ?? keep.error ?? drop.error;
  return (
    <Box as="section" aria-label="Recording" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" align="center">
        <Text as="h2" textStyle="subheading" fontWeight="700">
          {s.recording ? (s.full ? "An hour is full" : "Recording") : "Record"}
        </Text>
        {s.recording ? (
          <Text textStyle="figure" fontWeight="700" aria-live="off">
            {moment(s.recorded)}
          </Text>
        ) : (
          <Button variant="solid" disabled={!s.connected || start.isPending} onClick={() => start.mutate()}>
            Record
          </Button>
        )}
      </Flex>
      {s.recording && (
        <>
          <Flex
            as="form"
            gap="2"
            mt="2"
            onSubmit={(e) => {
              e.preventDefault();
              mark.mutate(note.trim() || "here");
            }}
          >
            <Input
              aria-label="Note for the mark"
              placeholder="what happens now?"
              maxLength={120}
              value={note}
              onChange={(e) => setNote(e.target.value)}
            />
            <Button type="submit" disabled={mark.isPending}>
              Mark <kbd>m</kbd>
            </Button>
          </Flex>
          <Text textStyle="small" color="ink2" mt="1">
            {s.marks} {s.marks === 1 ? "mark" : "marks"}
          </Text>
          <Input
            mt="2"
            aria-label="Title of the recording"
            placeholder="what it shows"
            maxLength={120}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          <Select mt="2" aria-label="Case of the recording" value={of} onChange={(e) => setOf(e.target.value)}>
            <option value="">of no case yet</option>
            {(cases?.items ?? []).map((c) => (
              <option key={c.id} value={c.id}>
                {c.vehicle} {quoted(c.words)}
              </option>
            ))}
          </Select>
          <Flex gap="2" mt="2">
            <Button variant="solid" disabled={keep.isPending || s.recorded < 1} onClick={() => keep.mutate()}>
              Stop and keep
            </Button>
            <Button onClick={() => drop.mutate()}>Drop it</Button>
          </Flex>
        </>
      )}
      {keep.data && !s.recording && (
        <Text role="status" mt="2">
          Kept: <Link to={`/recordings/${keep.data.id}/shifts`}>{keep.data.title}</Link>
        </Text>
      )}
      {error && <Problem error={error} />}
    </Box>
  );
});
