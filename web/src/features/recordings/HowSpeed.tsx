import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { settingsQuery } from "../../api/queries";
import type { OrdersAsked } from "../../api/recordings";
import { SelectField, TextField } from "../../shared/fields";
import { short } from "../../shared/format";
import { Problem } from "../../shared/states";
import { roadUnit } from "./words";

const lines: [string, string][] = [
  ["firing", "firing of the engine"],
  ["engine", "the engine, once a turn"],
  ["joint", "joints of the driveshaft"],
  ["shaft", "the driveshaft, once a turn"],
  ["wheel", "a wheel, once a turn"],
  ["pump", "teeth or vanes of the oil pump"],
];

/** Without a speed channel: a speed that was held, or a line that is known and gives it. */
export function HowSpeed({
  asked,
  set,
  error,
}: {
  asked: OrdersAsked;
  set: (n: Record<string, string | undefined>) => void;
  error?: unknown;
}) {
  const { data: settings } = useQuery(settingsQuery);
  const { per, unit } = roadUnit(settings?.distance ?? "km");
  const [road, setRoad] = useState(asked.road ? short(asked.road * per, 1) : "");
  const [known, setKnown] = useState(asked.known ?? "firing");
  const [low, setLow] = useState(String(asked.low ?? 25));
  const [high, setHigh] = useState(String(asked.high ?? 150));
  const number = (t: string) => Number(t.replace(",", "."));
  const hold = (e: FormEvent) => {
    e.preventDefault();
    if (number(road) > 0) set({ road: String(number(road) / per), known: undefined, line: undefined });
  };
  const follow = (e: FormEvent) => {
    e.preventDefault();
    set({ known, low: String(number(low)), high: String(number(high)), road: undefined, line: undefined });
  };
  return (
    <Box as="section" aria-label="Speed" my="3" maxW="760px">
      <Text as="h2" textStyle="heading" fontWeight="700">
        No speed was recorded
      </Text>
      <Text color="ink2" mb="4">
        What turns can be told with a speed only. Next time record the scan tool's speed beside the sound, or hold one speed.
      </Text>
      {error !== undefined && <Problem error={error} />}
      <Grid as="form" onSubmit={follow} gap="3" borderTopWidth="1px" borderColor="line" py="4">
        <Text fontWeight="600">One line is known: it gives the speed at every moment</Text>
        <Flex gap="3" align="end" wrap="wrap">
          <Box w="240px">
            <SelectField label="The line is" value={known} options={lines} onChange={(e) => setKnown(e.target.value)} />
          </Box>
          <Box w="110px">
            <TextField label="From, Hz" inputMode="decimal" value={low} onChange={(e) => setLow(e.target.value)} />
          </Box>
          <Box w="110px">
            <TextField label="to, Hz" inputMode="decimal" value={high} onChange={(e) => setHigh(e.target.value)} />
          </Box>
          <Button type="submit" variant="solid">
            Follow it
          </Button>
        </Flex>
      </Grid>
      <Grid as="form" onSubmit={hold} gap="3" borderTopWidth="1px" borderColor="line" py="4">
        <Text fontWeight="600">One speed was held all the time</Text>
        <Flex gap="3" align="end" wrap="wrap">
          <Box w="160px">
            <TextField label={`Road speed, ${unit}`} inputMode="decimal" value={road} onChange={(e) => setRoad(e.target.value)} />
          </Box>
          <Button type="submit" disabled={!(number(road) > 0)}>
            Take it
          </Button>
        </Flex>
      </Grid>
    </Box>
  );
}
