import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useRef, useState } from "react";
import { answer, api } from "../../api/client";
import type { Recording } from "../../api/recordings";
import { Problem } from "../../shared/states";
import { useSingleKey } from "../../shared/useSingleKey";
import { worker } from "../../shared/worker";
import type { useRecording } from "./useRecording";
import { moment } from "./words";

/** Moments that somebody marked, with what was there. */
export function Marks({
  r,
  done,
  cursor,
  go,
}: {
  r: Recording;
  done: ReturnType<typeof useRecording>;
  cursor?: number;
  go: (at: number) => void;
}) {
  const [note, setNote] = useState("");
  const field = useRef<HTMLInputElement>(null);
  useSingleKey("m", () => field.current?.focus(), { preventDefault: true });
  const client = useQueryClient();
  // The keys are those of the marks: noted twice they stand once.
  const keep = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/cases/{id}/readings", {
          params: { path: { id: r.case } },
          body: {
            readings: r.marks.map((m) => ({
              key: `mark.${m.id}`,
              finding: "wordless",
              state: "noted",
              source: "seen" as const,
              stage: "checks",
              note: `${r.title}, at ${moment(m.at, 0.1)}: ${m.note}`,
              by: m.by || worker(),
            })),
          },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: ["case", r.case] }),
  });
  const mark = () =>
    cursor !== undefined && note.trim() && done.mark.mutate({ at: cursor, note: note.trim() }, { onSuccess: () => setNote("") });
  return (
    <Box as="section" aria-label="Marks" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Text as="h2" textStyle="subheading" fontWeight="700">
        Marks
      </Text>
      {r.marks.map((m) => (
        <Flex key={m.id} align="center" gap="2" borderTopWidth="1px" borderColor="line">
          <button type="button" onClick={() => go(m.at)} style={{ flex: 1, minHeight: 44, textAlign: "left", minWidth: 0 }}>
            <Text as="span" fontWeight="600">
              {moment(m.at, 0.1)}
            </Text>{" "}
            {m.note}
          </button>
          <button
            type="button"
            aria-label={`Take out the mark at ${moment(m.at, 0.1)}`}
            onClick={() => done.unmark.mutate(m.id)}
            style={{ minWidth: 44, minHeight: 44 }}
          >
            <X size={16} aria-hidden style={{ margin: "auto" }} />
          </button>
        </Flex>
      ))}
      {r.case && r.marks.length > 0 && (
        <Flex align="center" gap="3" minH="44px">
          <Button onClick={() => keep.mutate()} disabled={keep.isPending || keep.isSuccess}>
            {r.marks.length === 1 ? "Note it in the case" : `Note all ${r.marks.length} in the case`}
          </Button>
          {keep.isSuccess && <Text role="status">In the case's trail.</Text>}
        </Flex>
      )}
      {keep.error && <Problem error={keep.error} />}
      <Flex
        as="form"
        gap="2"
        mt="2"
        onSubmit={(e) => {
          e.preventDefault();
          mark();
        }}
      >
        <Input
          ref={field}
          aria-label="Note for the mark"
          placeholder={cursor === undefined ? "set the cursor first" : `what is at ${moment(cursor, 0.1)}?`}
          maxLength={1200}
          value={note}
          onChange={(e) => setNote(e.target.value)}
          disabled={cursor === undefined}
        />
        <Button type="submit" disabled={cursor === undefined || !note.trim() || done.mark.isPending}>
          Mark <kbd>m</kbd>
        </Button>
      </Flex>
    </Box>
  );
}
