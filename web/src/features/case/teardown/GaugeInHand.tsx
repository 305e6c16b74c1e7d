import { Box, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { gaugesQuery } from "../../../api/queries";
import { SelectField } from "../../../shared/fields";
import { gaugeInHand, takeGauge } from "../../../shared/gaugeInHand";

/** Which gauge of the shop sizes are read with: it says how unsure they are, where no ± is typed. */
export function GaugeInHand() {
  const { data } = useQuery(gaugesQuery);
  const [gauge, setGauge] = useState(gaugeInHand());
  const fits = data?.gauges.filter((g) => g.dimension === "length") ?? [];
  const now = fits.find((g) => g.id === gauge);
  const gone = data !== undefined && gauge !== "" && !now;
  useEffect(() => {
    if (gone) takeGauge(""); // the shop has it no longer
  }, [gone]);
  if (fits.length === 0) return null;
  return (
    <Box mb="2">
      <SelectField
        label="Read with"
        value={now ? gauge : ""}
        options={[
          ["", "the usual gauge"],
          ...fits.map((g): [string, string] => [g.id ?? "", `${g.name}${g.overdue ? ", calibration ended" : ""}`]),
        ]}
        onChange={(e) => {
          takeGauge(e.target.value);
          setGauge(e.target.value);
        }}
      />
      {now?.overdue && (
        <Text color="fault" textStyle="note">
          Its calibration has ended. You can still use it.
        </Text>
      )}
    </Box>
  );
}
