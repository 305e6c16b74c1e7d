import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { instrumentPath } from "../../shared/instrument/path";
import { shortMoment } from "../../shared/format";

/** What was measured in a case: newest first, what no longer stands struck out and said to be so. */
export function Kept({
  title,
  kept,
  caseId,
  takeBack,
}: {
  title: string;
  kept: Schemas["Measurement"][];
  caseId: string;
  takeBack?: (id: string) => void;
}) {
  if (kept.length === 0) return null;
  return (
    <Box as="section" aria-label={title} mt="5">
      <Text as="h2" fontWeight="700" mb="1">
        {title}
      </Text>
      {[...kept].reverse().map((k) => (
        <Flex
          key={k.id}
          gap="4"
          align="center"
          borderTopWidth="1px"
          borderColor="line"
          py="1.5"
          minH="52px"
          wrap={{ base: "wrap", md: "nowrap" }}
        >
          <Box flex="1 1 320px">
            <Text>
              <Link to={instrumentPath(k.instrument, { case: caseId })}>
                <u>{k.title}</u>
              </Link>{" "}
              <Text as="span" fontWeight="700" textDecoration={k.stands ? undefined : "line-through"}>
                {k.value}
              </Text>
              {!k.stands && <Text as="span"> · replaced or taken back</Text>}
            </Text>
            <Text color="ink2" textStyle="note">
              {k.says}
            </Text>
          </Box>
          <Text color="ink2" textStyle="note" whiteSpace="nowrap">
            {[k.by, shortMoment(k.at), k.gauge].filter(Boolean).join(" · ")}
          </Text>
          {takeBack && k.stands && <Button onClick={() => takeBack(k.id)}>Take back</Button>}
        </Flex>
      ))}
    </Box>
  );
}
