import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";
import { Problem } from "../../shared/states";
import type { Build } from "./useBuild";

/** A chart copied out of a table: a line with the elements, a line for each range. */
export function PastePanel({ build, close }: { build: Build; close: () => void }) {
  const [text, setText] = useState("");
  const [error, setError] = useState<unknown>();
  return (
    <Box as="section" aria-label="Paste a chart" borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="3">
      <Text fontWeight="700">Paste the chart</Text>
      <Text color="ink2" textStyle="small" mb="2">
        First line: the elements, and ratio. Then a line for each range. Any mark means on. It replaces the chart below.
      </Text>
      <Textarea
        aria-label="Chart as text"
        rows={7}
        fontFamily="mono"
        maxLength={20000}
        placeholder={"range\tFC\tRC\tB2\tratio\nR\t\tx\t\t2.18\n1st\tx\t\t\t2.55"}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {error !== undefined && <Problem error={error} />}
      <Flex gap="3" mt="3">
        <Button
          variant="solid"
          disabled={text.trim() === ""}
          onClick={() =>
            build
              .paste(text)
              .then(close)
              .catch((e: unknown) => setError(e))
          }
        >
          Take it
        </Button>
        <Button onClick={close}>Close</Button>
      </Flex>
    </Box>
  );
}
