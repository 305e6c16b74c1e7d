import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import type { Schemas } from "../../api/client";
import { findingsQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { Loading, Problem } from "../../shared/states";
import { FindingRow } from "./FindingRow";
import { useCase } from "./useCase";

type Finding = Schemas["Finding"];

/** Whether every word of what is searched stands in the question or its answers. */
function fits(f: Finding, words: string[]): boolean {
  const text = `${f.title} ${f.ask} ${f.states.map((s) => s.title).join(" ")}`.toLowerCase();
  return words.every((w) => text.includes(w));
}

/** All that a customer can be asked, by where it hurts; found by search, never as one list. */
export function Questions() {
  const { shown } = useCase();
  const { data, error } = useQuery(findingsQuery(shown.id, "complaint", shown.rev));
  const [text, setText] = useState("");
  const [about, setAbout] = useState("");
  const words = useDeferredValue(text).toLowerCase().split(/\s+/).filter(Boolean);
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the questions" />;
  const abouts = [...new Set(data.map((f) => f.about))].filter(Boolean);
  const found = words.length > 0 ? data.filter((f) => fits(f, words)) : data.filter((f) => about !== "" && f.about === about);
  return (
    <Box as="section" aria-label="All questions" py="3">
      <Flex gap="2" wrap="wrap" align="center">
        <Text as="h2" textStyle="label" fontWeight="700" color="ink2" mr="1">
          What else was told
        </Text>
        {abouts.map((a) => {
          const told = data.filter((f) => f.about === a && f.state !== "").length;
          return (
            <Chip
              key={a}
              type="button"
              aria-pressed={words.length === 0 && a === about}
              onClick={() => (setText(""), setAbout(a === about ? "" : a))}
            >
              {a}
              {told > 0 && ` · ${told}`}
            </Chip>
          );
        })}
        <Input
          aria-label="Find a question"
          placeholder="Find a question"
          w={{ base: "full", md: "200px" }}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </Flex>
      <Box mt="2">
        {words.length > 0 && found.length === 0 && <Text color="ink2">No question has these words. Note it in words below.</Text>}
        {found.map((f) => (
          <FindingRow key={f.id} finding={f} source="customer" stage="complaint" />
        ))}
      </Box>
    </Box>
  );
}
