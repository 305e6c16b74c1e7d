import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { Choice } from "../../shared/Choice";
import { Predicted } from "./Predicted";
import { RoadGrid } from "./RoadGrid";
import { InWords } from "./InWords";
import { useCase } from "./useCase";

export function RoadStage() {
  const { shown, actions } = useCase();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const asked = params.get("cell") ?? "";
  const [temperature, setTemperature] = useState(asked.includes(".cold.") ? "cold" : "hot");
  const [source, setSource] = useState(params.has("again") ? "again" : "seen");
  useEffect(() => {
    if (!asked) return;
    document.getElementById(asked)?.focus();
  }, [asked, temperature]);
  const driveNext = () => {
    setTemperature(shown.road.driveNext.includes(".cold.") ? "cold" : "hot");
    setParams({ cell: shown.road.driveNext }, { replace: true });
    document.getElementById(shown.road.driveNext)?.focus();
  };
  const onward = () => {
    if (shown.stage === "road" && !shown.closed) actions.update.mutate({ stage: "checks" });
    void navigate(`/cases/${shown.id}/checks`);
  };
  return (
    <Box>
      <Flex justify="space-between" align="center" gap="3" wrap="wrap" mb="2">
        <Text as="h2" textStyle="heading" fontWeight="700">
          Road test, {temperature}{" "}
          <Text as="span" textStyle="label" fontWeight="400" color="ink2">
            {shown.road.driven} of {shown.road.cells} cells
          </Text>
        </Text>
        <Flex gap="4" wrap="wrap">
          <Choice
            label="Fluid"
            value={temperature}
            options={[
              ["hot", "hot"],
              ["cold", "cold"],
            ]}
            onChange={setTemperature}
          />
          <Choice
            label="Who noticed it"
            value={source}
            options={[
              ["seen", "I drove it"],
              ["again", "I drove it again"],
              ["customer", "customer told"],
            ]}
            onChange={setSource}
          />
        </Flex>
      </Flex>
      <RoadGrid temperature={temperature} source={source} />
      <InWords stage="road" source="seen" />
      <Predicted />
      <Flex mt="3" pt="3" borderTopWidth="1px" borderColor="line" justify="space-between" align="start" gap="4" wrap="wrap">
        <Box flex="1 1 300px">
          <Text fontWeight="700">{shown.road.sentence}</Text>
          {shown.road.caution && (
            <Text mt="1">
              <b>⚠ Before it is driven:</b> {shown.road.caution}
            </Text>
          )}
          {shown.road.driveText && <Text mt="1">{shown.road.driveText}</Text>}
        </Box>
        <Flex gap="2">
          {shown.road.driveNext && !shown.closed && (
            <Button variant="solid" onClick={driveNext}>
              Drive this next
            </Button>
          )}
          <Button onClick={onward}>To the checks</Button>
        </Flex>
      </Flex>
    </Box>
  );
}
