import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../../api/client";
import { entryQuery } from "../../api/queries";
import { kindNames, knowledgePath } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";

function SentenceRow({ unit, sentence }: { unit: string; sentence: Schemas["Sentence"] }) {
  const { search } = useLocation();
  const { to, state, strength, why } = sentence;
  return (
    <Flex as="li" gap="3" py="1.5" borderTopWidth="1px" borderColor="line">
      <Text w="92px" flexShrink={0} color="ink2">
        {strength}
      </Text>
      <Box minW="0">
        <Link to={{ pathname: knowledgePath(unit, to.kind, to.id), search }}>
          <Text as="span" textDecoration="underline">
            {to.title}
          </Text>
        </Link>
        {state && (
          <>
            : <b>{state}</b>
          </>
        )}
        {why && <Text color="ink2">{strength ? `because ${why}` : why}</Text>}
      </Box>
    </Flex>
  );
}

/** One entry with every sentence that speaks of it. */
export function EntryView({ unit, kind, entry }: { unit: string; kind: string; entry: string }) {
  const { data, error } = useQuery(entryQuery(unit, kind, entry));
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the entry" />;
  return (
    <Box as="article" aria-label={data.title} minW="0">
      <Text as="h2" textStyle="figure" fontWeight="700" lineHeight="1.25">
        {data.title}
      </Text>
      <Text color="ink2" textStyle="note">
        {[kindNames[data.kind], data.note, data.id].filter(Boolean).join(" · ")}
      </Text>
      {data.facts.map((f) => (
        <Text key={f} mt="1.5" maxW="72ch">
          {f}
        </Text>
      ))}
      {data.sections.map((s) => (
        <Box as="section" key={s.title} mt="5" aria-label={s.title}>
          <Text as="h3" fontWeight="700">
            {s.title}{" "}
            <Text as="span" color="ink2" fontWeight="400">
              {s.sentences.length}
            </Text>
          </Text>
          <Box as="ul">
            {s.sentences.map((x) => (
              <SentenceRow key={`${x.to.kind} ${x.to.id} ${x.state} ${x.why}`} unit={unit} sentence={x} />
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
