import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";

const keys = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "", "0", "⌫"];
const length = 6;

/** Six digits by thumb or by keys; the sixth sends them. */
export function PinPad({ name, busy, send }: { name: string; busy: boolean; send: (pin: string) => void }) {
  const [pin, setPin] = useState("");
  const press = (k: string) => {
    if (busy || !k) return;
    const next = k === "⌫" ? pin.slice(0, -1) : (pin + k).slice(0, length);
    if (next.length < length) return setPin(next);
    setPin("");
    send(next);
  };
  useEffect(() => {
    const typed = (e: KeyboardEvent) => {
      if (/^[0-9]$/.test(e.key)) press(e.key);
      if (e.key === "Backspace") press("⌫");
    };
    window.addEventListener("keydown", typed, true);
    return () => window.removeEventListener("keydown", typed, true);
  });
  return (
    <Box role="group" aria-label={`PIN of ${name}`}>
      <Flex gap="3" justify="center" mb="4" role="img" aria-label={`${pin.length} of ${length} digits`}>
        {Array.from({ length }, (_, i) => (
          <Box
            key={i}
            w="16px"
            h="16px"
            borderRadius="full"
            borderWidth="2px"
            borderColor="ink"
            bg={i < pin.length ? "ink" : "transparent"}
          />
        ))}
      </Flex>
      <Grid templateColumns="repeat(3, 1fr)" gap="2">
        {keys.map((k, i) =>
          k ? (
            <Button
              key={k}
              h="64px"
              fontSize="24px"
              aria-label={k === "⌫" ? "Take the last digit back" : k}
              disabled={busy}
              onClick={() => press(k)}
            >
              {k}
            </Button>
          ) : (
            <Text key={i} />
          ),
        )}
      </Grid>
    </Box>
  );
}
