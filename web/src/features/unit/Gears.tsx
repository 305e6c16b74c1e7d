import { Box, Grid } from "@chakra-ui/react";
import { useState } from "react";
import { ApplyChart } from "./ApplyChart";
import { GearFinder } from "./GearFinder";
import { PowerFlow } from "./PowerFlow";
import { Table } from "../../shared/Table";
import type { Unit } from "./unit";

export function Gears({ unit }: { unit: Unit }) {
  const driving = unit.ranges.filter((r) => r.driving);
  const [picked, setPicked] = useState((driving[2] ?? driving[0])?.id ?? "");
  if (unit.depth === "chart")
    return (
      <Box maxW="900px">
        <ApplyChart unit={unit} picked={picked} pick={setPicked} />
        {unit.ranges.some((r) => r.ratio !== 0) && <GearFinder unit={unit} />}
      </Box>
    );
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "minmax(0, 1fr) minmax(0, 1fr)" }} gap="8" gridTemplateRows={{ xl: "auto 1fr" }}>
      <ApplyChart unit={unit} picked={picked} pick={setPicked} />
      <Box gridRow={{ xl: "1 / span 2" }} gridColumn={{ xl: "2" }}>
        <PowerFlow unit={unit} picked={picked} />
      </Box>
      <Box>
        <Box as="details">
          <summary style={{ minHeight: 44, cursor: "pointer", paddingTop: 10 }}>What the elements join, and what they hold</summary>
          <Table
            label="Elements"
            head={["element", "kind", "joins", ">holds at full throttle", ">begins at", ">clearance"]}
            rows={unit.elements.map((e) => [
              `${e.id} · ${e.name}`,
              e.kind,
              e.b === "case" ? `${e.a} to the case` : `${e.a} and ${e.b}`,
              e.capacity || "not given",
              e.touch,
              e.clearance,
            ])}
            note="From plates, piston and springs of the sheet, at the lowest full-throttle pressure of the ranges that use it."
          />
        </Box>
        <Box as="details">
          <summary style={{ minHeight: 44, cursor: "pointer", paddingTop: 10 }}>Teeth: they mesh, assemble and leave room</summary>
          <Box as="ul" pl="5" listStyleType="disc">
            {unit.teeth.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </Box>
        </Box>
        <GearFinder unit={unit} />
      </Box>
    </Grid>
  );
}
