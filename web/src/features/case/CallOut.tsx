import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Mic } from "lucide-react";
import { useState, type FormEvent } from "react";
import type { Schemas } from "../../api/client";
import { calledQuery } from "../../api/queries";
import { useSettled } from "../../shared/useSettled";
import { problemWords } from "../../shared/problemWords";
import { useListen } from "../../shared/useListen";
import { useCase } from "./useCase";

type Offer = Schemas["SaidOffer"];

/** What the passenger calls out, spoken, dictated or typed: read as cells, shown, and noted by one tap. */
export function CallOut({ at, note }: { at: string; note: (calls: Offer[]) => void }) {
  const { shown } = useCase();
  const [text, setText] = useState("");
  const settled = useSettled(text.trim(), 120);
  const { data, error } = useQuery(calledQuery(shown.id, settled, at));
  const listen = useListen((heard) => setText((t) => `${t} ${heard}`.trim()));
  const calls = settled ? (data?.cells ?? []) : [];
  const keep = (e: FormEvent) => {
    e.preventDefault();
    if (calls.length === 0 || settled !== text.trim()) return;
    note(calls);
    setText("");
  };
  return (
    <form onSubmit={keep}>
      <Flex gap="2" mt="2" align="center">
        <Input
          aria-label="Call out"
          placeholder="Call it out: third flares, fourth fine"
          maxLength={400}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {listen.able && (
          <Button aria-pressed={listen.on} onClick={listen.toggle} aria-label={listen.on ? "Stop listening" : "Listen"} px="0" minW="44px">
            <Mic size={20} aria-hidden />
          </Button>
        )}
        <Button type="submit" disabled={calls.length === 0 || settled !== text.trim()}>
          Note {calls.length || ""}
        </Button>
      </Flex>
      <Box role="status" textStyle="note" minH="20px" mt="1">
        {calls.map((c) => (
          <Text key={c.finding} as="span" mr="3">
            {c.title}: <b>{c.stateTitle}</b>
          </Text>
        ))}
        {settled && data && data.rest.length > 0 && <Text color="ink2">Not understood: {data.rest.join(" ")}</Text>}
        {error && <Text color="fault">{problemWords(error).title}</Text>}
        {!settled && !listen.able && <Text color="ink2">Typed, or by the dictation key of the tablet. {listen.why}</Text>}
      </Box>
    </form>
  );
}
