import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState, type FormEvent } from "react";
import { TextField } from "../../shared/fields";
import { useCase } from "./useCase";

/** What no finding says is noted in words: it stays with the case, and is counted as what the vocabulary lacks. */
export function InWords({ stage, source }: { stage: string; source: string }) {
  const { shown, actions, by } = useCase();
  const [note, setNote] = useState("");
  if (shown.closed) return null;
  const keep = (e: FormEvent) => {
    e.preventDefault();
    if (!note.trim()) return;
    actions.read.mutate([{ finding: "wordless", state: "noted", source, stage, note: note.trim(), by }], { onSuccess: () => setNote("") });
  };
  return (
    <Box py="3" borderTopWidth="1px" borderColor="line">
      <form onSubmit={keep}>
        <Flex gap="3" align="end" wrap="wrap">
          <Box flex="1 1 320px">
            <TextField label="Not on the list? Write it down" maxLength={400} value={note} onChange={(e) => setNote(e.target.value)} />
          </Box>
          <Button type="submit" disabled={!note.trim()}>
            Keep the note
          </Button>
        </Flex>
      </form>
      <Text mt="1" color="ink2" textStyle="small">
        It goes in the trail and does not change the ranking.
      </Text>
    </Box>
  );
}
