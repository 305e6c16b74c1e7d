import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ApplyChart } from "./ApplyChart";
import { SpeedDiagram } from "./SpeedDiagram";

type Range = Schemas["UnitRange"];

function Torques({ range, maxTorque }: { range: Range; maxTorque: string }) {
  if (range.torques.length === 0) return null;
  return (
    <Box mt="5">
      <Text as="h2" fontWeight="600" color="ink2" mb="1">
        {range.name}, {maxTorque} at the input, converter coupled
      </Text>
      <chakra.table w="full" borderCollapse="collapse">
        <thead>
          <tr>
            {["element", "share of input", "carries", "capacity / load"].map((h, i) => (
              <chakra.th key={h} scope="col" textAlign={i ? "right" : "left"} fontWeight="400" color="ink2" fontSize="13px" py="1">
                {h}
              </chakra.th>
            ))}
          </tr>
        </thead>
        <tbody>
          {range.torques.map((t) => (
            <chakra.tr key={t.element} borderTopWidth="1px" borderColor="line">
              <chakra.th scope="row" textAlign="left" fontWeight="400" py="1.5">
                {t.name}
              </chakra.th>
              <chakra.td textAlign="right">{t.shared ? "shared" : t.share.toFixed(3)}</chakra.td>
              <chakra.td textAlign="right" fontWeight="700">
                {t.share > 0 ? t.carries : "nothing here"}
              </chakra.td>
              <chakra.td textAlign="right">{t.margin > 0 ? t.margin.toFixed(1) : "–"}</chakra.td>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
      {range.torques.some((t) => t.shared) && (
        <Text fontSize="13px" color="ink2" mt="1">
          Shared: two paths hold the same member; rigid gears cannot say which carries how much.
        </Text>
      )}
    </Box>
  );
}

const coasting: Record<string, string> = {
  brakes: "The engine brakes in this range.",
  free: "Foot off, a freewheel lets go: no engine braking.",
  "other-gear": "Foot off, it brakes through another gear.",
};

export function Gears({ unit }: { unit: Schemas["Unit"] }) {
  const driving = unit.ranges.filter((r) => r.driving);
  const [picked, setPicked] = useState(driving.find((r) => r.id === "D3")?.id ?? driving[0]?.id ?? "");
  const range = unit.ranges.find((r) => r.id === picked);
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) minmax(0, 1fr)" }} gap="8">
      <Box>
        <ApplyChart unit={unit} picked={picked} pick={setPicked} />
        {range && <Torques range={range} maxTorque={unit.maxTorque} />}
        {range && coasting[range.coast] && <Text mt="2">{coasting[range.coast]}</Text>}
      </Box>
      <Box>
        <SpeedDiagram unit={unit} picked={picked} />
        {range && (
          <Flex mt="4" gap="6" wrap="wrap">
            {range.speeds.map((s) => (
              <Box key={s.member}>
                <Text fontSize="13px" color="ink2">
                  {unit.members.find((m) => m.id === s.member)?.name}
                </Text>
                <Text fontWeight="700">{s.known ? `${s.speed.toFixed(3)} ×` : "free"}</Text>
              </Box>
            ))}
          </Flex>
        )}
      </Box>
    </Grid>
  );
}
