import { Box, Button, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { problemWords } from "./problemWords";

/** While a place loads its lines stand already, empty: nothing jumps when the values come. */
export function Loading({ what, rows = 3 }: { what: string; rows?: number }) {
  return (
    <Box role="status" color="ink2">
      <Text textStyle="note" py="2">
        Loading {what} …
      </Text>
      {Array.from({ length: rows }, (_, i) => (
        <Box key={i} h="56px" borderTopWidth="1px" borderColor="line" aria-hidden />
      ))}
    </Box>
  );
}

/** A whole place that is not there yet: its name, and its lines. */
export function LoadingPlace({ title, what }: { title: string; what: string }) {
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Text as="h1" textStyle="title" fontWeight="700" mb="3">
        {title}
      </Text>
      <Loading what={what} rows={8} />
    </Box>
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
