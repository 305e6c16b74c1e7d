import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Problem } from "../../shared/states";
import type { View } from "./sheet";

/** What instruments read on vehicles with this unit, each for a number of its sheet: taken one by one, never by itself. */
export function Offers({ offers, take }: { offers: View["offers"]; take: (path: string) => Promise<void> }) {
  const [failed, setFailed] = useState<unknown>();
  const news = offers.filter((o) => o.stands !== o.window);
  if (news.length === 0) return null;
  return (
    <Box mt="2" role="group" aria-label="Measured on this unit in your cases">
      <Text fontWeight="600">Measured on this unit in your cases</Text>
      <Text color="ink2" textStyle="small">
        Take what comes from sound vehicles. A sick one belongs in no sheet.
      </Text>
      {news.map((o) => (
        <Flex key={o.path} align="center" gap="2" borderTopWidth="1px" borderColor="line">
          <Text flex="1" textStyle="small">
            {o.words}
            {o.stands && <>. The sheet says {o.stands.replace("..", " to ")}.</>}
          </Text>
          <Button
            variant="ghost"
            aria-label={`Take ${o.words}`}
            onClick={() => void take(o.path).then(() => setFailed(undefined), setFailed)}
          >
            Take it
          </Button>
        </Flex>
      ))}
      {failed !== undefined && <Problem error={failed} />}
    </Box>
  );
}
