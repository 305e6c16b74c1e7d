import { Box, Button, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import { unitsQuery } from "../../api/queries";
import { SelectField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { Switch } from "../../shared/Switch";
import type { LiveState } from "./useLive";

/** What is to be connected: a vehicle that stands in for one, with nothing wrong, one failure, or one that nobody is told. */
export function ConnectForm({ take }: { take: (s: LiveState) => void }) {
  const { data: units } = useQuery(unitsQuery);
  const [unit, setUnit] = useState("ombrin-s6");
  const [failure, setFailure] = useState("");
  const [celsius, setCelsius] = useState("80");
  const [bad, setBad] = useState(false);
  const [line, setLine] = useState("frames");
  const { data: failures } = useQuery({
    queryKey: ["live", "failures", unit],
    queryFn: ({ signal }) => answer(api.GET("/live/failures", { signal, params: { query: { unit } } })),
  });
  const connect = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/live", {
          body: { unit, failure, celsius: Number(celsius), seed: Math.floor(Math.random() * 1e9), bad, serial: line === "serial" },
        }),
      ),
    onSuccess: take,
  });
  return (
    <Box
      as="form"
      maxW="560px"
      onSubmit={(e) => {
        e.preventDefault();
        connect.mutate();
      }}
    >
      <Text as="h2" textStyle="heading" fontWeight="700">
        Connect a vehicle
      </Text>
      <Text color="ink2" mb="3">
        No adapter is at this machine, so a simulated vehicle stands in for one. It answers a scan tool by the published messages, over a
        local line.
      </Text>
      <Grid gap="3">
        <SelectField
          label="Unit"
          value={unit}
          options={(units ?? []).filter((u) => !u.generic).map((u): [string, string] => [u.id, u.name])}
          onChange={(e) => (setUnit(e.target.value), setFailure(""))}
        />
        <SelectField
          label="What is wrong with it"
          value={failure}
          options={[["", "nothing"], ["?", "something, nobody is told what"], ...(failures ?? []).map((f): [string, string] => [f, f])]}
          onChange={(e) => setFailure(e.target.value)}
        />
        <SelectField
          label="Fluid"
          value={celsius}
          options={[
            ["20", "cold, 20 °C"],
            ["50", "50 °C"],
            ["80", "warm, 80 °C"],
            ["100", "hot, 100 °C"],
          ]}
          onChange={(e) => setCelsius(e.target.value)}
        />
        <SelectField
          label="Line"
          value={line}
          options={[
            ["frames", "frames, 50 readings a second"],
            ["serial", "serial line of an older vehicle, one value at a time"],
          ]}
          onChange={(e) => setLine(e.target.value)}
        />
        <Switch on={bad} set={setBad}>
          The line is no good: frames get lost, modules are busy
        </Switch>
      </Grid>
      {connect.error && <Problem error={connect.error} />}
      <Button mt="4" type="submit" variant="solid" disabled={connect.isPending}>
        Connect
      </Button>
    </Box>
  );
}
