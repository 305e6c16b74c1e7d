import { Box, Button, Flex, Spinner, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { problemWords } from "./problemWords";

export function Loading({ what }: { what: string }) {
  return (
    <Flex role="status" align="center" gap="3" p="10" color="ink2">
      <Spinner size="sm" /> Loading {what} …
    </Flex>
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Box py="12" maxW="520px">
      <Text as="h2" textStyle="heading" fontWeight="700">
        {title}
      </Text>
      <Box color="ink2" mt="1">
        {children}
      </Box>
    </Box>
  );
}

/** What was wrong, where, and what would be accepted. */
export function Problem({ error, retry }: { error: unknown; retry?: () => void }) {
  const w = problemWords(error);
  return (
    <Box role="alert" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="4" py="3" my="3">
      <Text fontWeight="700">{w.title}</Text>
      {w.detail && <Text>{w.detail}</Text>}
      {w.accepted && <Text color="ink2">Accepted: {w.accepted}</Text>}
      {retry && (
        <Button mt="2" onClick={retry}>
          Try again
        </Button>
      )}
    </Box>
  );
}
