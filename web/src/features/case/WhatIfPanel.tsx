import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { whatIfQuery } from "../../api/queries";
import { percent } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { useCase } from "./useCase";

/** Filled is with the reading, hollow is without it. */
function Row({ row }: { row: Schemas["WhatIfRow"] }) {
  const at = (p: number) => 6 + p * 248;
  return (
    <Flex align="center" gap="3" minH="40px" borderTopWidth="1px" borderColor="line" role="row">
      <Text flex="1" minW="0" role="cell">
        {row.title}
      </Text>
      <svg width="260" height="20" aria-hidden>
        <line x1="6" x2="254" y1="10" y2="10" stroke="var(--chakra-colors-line)" />
        <line x1={at(row.now)} x2={at(row.without)} y1="10" y2="10" stroke="var(--chakra-colors-slate)" strokeWidth="3" />
        <circle cx={at(row.now)} cy="10" r="5.5" fill="var(--chakra-colors-slate)" />
        <circle cx={at(row.without)} cy="10" r="5" fill="var(--chakra-colors-page)" stroke="var(--chakra-colors-brass)" strokeWidth="2.5" />
      </svg>
      <Text w="64px" textAlign="right" role="cell">
        {percent(row.now)} %
      </Text>
      <Text w="64px" textAlign="right" fontWeight="700" role="cell">
        {percent(row.without)} %
      </Text>
    </Flex>
  );
}

/** The ranking with and without one reading. */
export function WhatIfPanel({ reading, back }: { reading: string; back: () => void }) {
  const { shown, actions } = useCase();
  const { data, error } = useQuery(whatIfQuery(shown.id, reading, shown.rev + shown.trail.length));
  return (
    <Box>
      <Button variant="ghost" px="0" onClick={back}>
        ← Back to the work
      </Button>
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the ranking" />}
      {data && (
        <>
          <Text as="h2" textStyle="heading" fontWeight="700">
            What if this were wrong: {data.title}?
          </Text>
          <Text mb="3">{data.sentence}</Text>
          <Box role="table" aria-label="Suspects with and without the reading">
            <Flex gap="3" color="ink2" textStyle="small" fontWeight="600" role="row">
              <Text flex="1" role="columnheader">
                Suspect
              </Text>
              <Box w="260px" aria-hidden />
              <Text w="64px" textAlign="right" role="columnheader">
                ● with it
              </Text>
              <Text w="64px" textAlign="right" role="columnheader">
                ○ without
              </Text>
            </Flex>
            {data.rows.map((r) => (
              <Row key={r.id} row={r} />
            ))}
          </Box>
          {!shown.closed && (
            <Button mt="4" onClick={() => actions.read.mutate([{ withdraws: reading }], { onSuccess: back })}>
              Take back this reading
            </Button>
          )}
        </>
      )}
    </Box>
  );
}
