import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type KeyboardEvent, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { wordsQuery } from "../../api/queries";
import { meaning } from "../../shared/said";
import { Loading, Problem } from "../../shared/states";
import { ThisMeans } from "./ThisMeans";
import { useCase, useCaseStatus } from "./useCase";
import { useSingleKey } from "../../shared/useSingleKey";

type Phrase = Schemas["SaidPhrase"];

const underlines: Record<Phrase["state"], string> = {
  taken: "solid",
  open: "dashed",
  noted: "dotted",
  struck: "none",
};

/** The words of one phrase, underlined as it stands, with what it means below. */
function PhraseWords({ phrase, end = "", children }: { phrase: Phrase; end?: string; children?: ReactNode }) {
  const struck = phrase.state === "struck";
  return (
    <>
      <Text textStyle={{ base: "heading", md: "title" }} lineHeight="1.4">
        <Box
          as="span"
          borderBottomWidth={struck ? "0" : "3px"}
          borderBottomStyle={underlines[phrase.state]}
          borderColor={phrase.state === "noted" ? "slate" : "brass"}
          textDecoration={struck ? "line-through" : undefined}
          color={struck ? "ink2" : undefined}
        >
          {phrase.text}
        </Box>
        {end}
      </Text>
      <Flex align="center" gap="2" minH="44px">
        <Box minW="0">
          <Text fontWeight="600" textStyle="label" lineHeight="1.2">
            {meaning(phrase)}
          </Text>
          <Text color="ink2" textStyle="small" lineHeight="1.2">
            {stateWords(phrase)}
          </Text>
        </Box>
        {children}
      </Flex>
    </>
  );
}

function stateWords(p: Phrase): string {
  const read = p.readAs ? `read as “${p.readAs}” · ` : "";
  switch (p.state) {
    case "taken":
      return `${read}taken`;
    case "struck":
      return "struck";
    case "noted":
      return "kept as said, not counted";
    default:
      if (p.against) return `${read}said both ways: take one`;
      return p.other ? `${read}told by somebody else: take it?` : p.doubtful ? `${read}not sure: take it?` : `${read}take it?`;
  }
}

function Round({ label, on, children, press }: { label: string; on?: boolean; children: ReactNode; press: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={on}
      onClick={press}
      style={{ minWidth: 44, minHeight: 44, display: "grid", placeItems: "center" }}
    >
      <Box
        boxSize="28px"
        borderRadius="full"
        borderWidth={on === undefined ? "0" : "1px"}
        borderColor="ink"
        bg={on ? "ink" : "transparent"}
        color={on ? "page" : "ink"}
        display="grid"
        placeItems="center"
        fontWeight="700"
      >
        {children}
      </Box>
    </button>
  );
}

function TakenOrNot({ phrase }: { phrase: Phrase }) {
  const { shown, actions } = useCase();
  if (shown.closed || phrase.state === "noted") return null;
  const { ref, state, text } = phrase;
  const take = () => actions.choose.mutate(state === "taken" ? { back: [ref] } : { take: [ref] });
  const strike = () => actions.choose.mutate(state === "struck" ? { back: [ref] } : { strike: [ref] });
  const keys = (e: KeyboardEvent) => {
    if (e.key !== "y" && e.key !== "x") return;
    e.stopPropagation();
    (e.key === "y" ? take : strike)();
  };
  return (
    <Flex as="span" onKeyDown={keys}>
      <Round label={`Take “${text}”`} on={state === "taken"} press={take}>
        ✓
      </Round>
      <Round label={state === "struck" ? `Put back “${text}”` : `Strike “${text}”`} press={strike}>
        {state === "struck" ? "↺" : "✕"}
      </Round>
    </Flex>
  );
}

/** The text with its phrases: plain words flow between them. */
function Sentence({ said, each }: { said: Schemas["Said"]; each: (p: Phrase, end: string) => ReactNode }) {
  const byRef = new Map(said.phrases.map((p) => [p.ref, p]));
  // A comma or point behind a phrase stays with it.
  const endOf = (i: number) => /^[^\s\p{L}\p{N}]+/u.exec(said.pieces[i + 1]?.text ?? "")?.[0] ?? "";
  return (
    <Flex wrap="wrap" columnGap="6px" rowGap="2" align="start" maxH={{ base: "none", md: "380px" }} overflowY="auto">
      {said.pieces.map((piece, i) => {
        const phrase = piece.phrase ? byRef.get(piece.phrase) : undefined;
        if (phrase)
          return (
            <Box key={phrase.ref} maxW="full">
              {each(phrase, endOf(i))}
            </Box>
          );
        const before = i > 0 && said.pieces[i - 1]?.phrase ? endOf(i - 1) : "";
        return piece.text
          .slice(before.length)
          .split(/\s+/)
          .filter(Boolean)
          .map((word, k) => (
            <Text key={`${i}.${k}`} as="span" textStyle={{ base: "heading", md: "title" }} lineHeight="1.4">
              {word}
            </Text>
          ));
      })}
    </Flex>
  );
}

/** What is marked in the page, as the words to teach. */
const selected = () => (getSelection()?.toString() ?? "").replace(/\s+/g, " ").trim().slice(0, 120);

/** The customer's words as they were said. Underlined is understood; nothing counts before it is taken. */
export function SaidWords({ edit }: { edit: () => void }) {
  const { shown, actions } = useCase();
  const { choose } = useCaseStatus();
  const { data, error } = useQuery(wordsQuery(shown.id, shown.rev));
  const [teaching, setTeaching] = useState<string>();
  const open = data?.phrases.filter((p) => p.state === "open") ?? [];
  const sure = open.filter((p) => !p.doubtful && !p.against);
  const takeAll = () => actions.choose.mutate({ all: true });
  useSingleKey("a", () => sure.length > 0 && !shown.closed && takeAll());
  useSingleKey("e", edit);
  return (
    <Box as="section" aria-label="The customer’s words" pb="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" align="center" gap="3" wrap="wrap" mb="2" minH="44px">
        <Text as="h2" textStyle="label" fontWeight="700" color="ink2">
          The customer’s words
        </Text>
        {!shown.closed && (
          <Flex gap="2" wrap="wrap">
            {sure.length > 0 && (
              <Button variant="solid" loading={choose.isPending} onClick={takeAll}>
                Take {sure.length === 1 ? "it" : `all ${sure.length}`} <kbd>a</kbd>
              </Button>
            )}
            <Button aria-expanded={teaching !== undefined} onClick={() => setTeaching(teaching === undefined ? selected() : undefined)}>
              This means …
            </Button>
            <Button onClick={edit}>
              Change words, vehicle <kbd>e</kbd>
            </Button>
          </Flex>
        )}
      </Flex>
      {error && <Problem error={error} />}
      {choose.isError && <Problem error={choose.error} />}
      {!data && !error && <Loading what="the words" />}
      {data && (
        <Sentence
          said={data}
          each={(p, end) => (
            <PhraseWords phrase={p} end={end}>
              <TakenOrNot phrase={p} />
            </PhraseWords>
          )}
        />
      )}
      {teaching !== undefined && <ThisMeans say={teaching} close={() => setTeaching(undefined)} />}
      {data && data.phrases.length === 0 && <Text color="ink2">Nothing in it is known. Say below what it is about.</Text>}
      {data && open.length > 0 && (
        <Text color="ink2" textStyle="small" mt="1">
          Underlined is understood. Nothing counts before you take it.
        </Text>
      )}
    </Box>
  );
}
