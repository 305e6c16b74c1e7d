import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { SignatureStrokes } from "./SignatureStrokes";

/** A signature, with a way to begin it anew. */
export function SignaturePad({ value, onChange }: { value: string; onChange: (strokes: string) => void }) {
  return (
    <Box>
      <Flex justify="space-between" align="end" mb="1">
        <Text fontWeight="600" textStyle="label" id="signature-label">
          Signature
        </Text>
        {value && (
          <Button variant="ghost" onClick={() => onChange("")}>
            Clear it
          </Button>
        )}
      </Flex>
      <SignatureStrokes value={value} onChange={onChange} border="var(--chakra-colors-slate)" />
    </Box>
  );
}
