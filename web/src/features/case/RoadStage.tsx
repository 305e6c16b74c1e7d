import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { Choice } from "../../shared/Choice";
import { Drive } from "./Drive";
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
  const driving = params.has("drive") && !shown.closed;
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
        {!driving && !shown.closed && (
          <Button variant="solid" onClick={() => setParams({ drive: "1" })}>
            Drive it cell by cell
          </Button>
        )}
      </Flex>
      <Flex gap="4" wrap="wrap" mb="2">
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
      {driving ? (
        <Drive key={temperature} temperature={temperature} source={source} end={() => setParams({}, { replace: true })} />
      ) : (
        <>
          <RoadGrid temperature={temperature} source={source} />
          <Predicted />
          <InWords stage="road" source="seen" />
        </>
      )}
      <Flex mt="3" pt="3" borderTopWidth="1px" borderColor="line" justify="space-between" align="start" gap="4" wrap="wrap">
        <Box flex="1 1 300px">
          <Text fontWeight="700">{shown.road.sentence}</Text>
          {shown.road.caution && !driving && (
            <Text mt="1">
              <b>⚠ Before you drive:</b> {shown.road.caution}
            </Text>
          )}
          {shown.road.driveText && !driving && <Text mt="1">{shown.road.driveText}</Text>}
        </Box>
        <Flex gap="2">
          {shown.road.driveNext && !shown.closed && !driving && <Button onClick={driveNext}>Drive this next</Button>}
          <Button onClick={onward}>To the checks</Button>
        </Flex>
      </Flex>
    </Box>
  );
}
