import { Box, Grid, Text } from "@chakra-ui/react";
import { Heading, Table } from "../../shared/Table";
import type { Unit } from "./unit";

const facts = (rows: [string, string][]) => rows.filter(([, v]) => v).map(([l, v]) => [l, <b key="v">{v}</b>]);

export function FluidAndLimits({ unit }: { unit: Unit }) {
  const { fluid } = unit;
  const { level } = fluid;
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }} gap="8">
      <Box>
        <Heading>Limits</Heading>
        <Table
          label="Limits"
          head={["", ">"]}
          rows={facts([
            ...unit.limits.map((l): [string, string] => [l.name, l.window]),
            ["stall speed", unit.stall],
            ["converter seating, pad behind the face", unit.seating],
          ])}
        />
        <Box mt="6">
          <Heading>Torques</Heading>
          <Table
            label="Torques"
            head={["", ">"]}
            rows={facts(unit.torques.map((t) => [t.joint, t.torque]))}
            note="The maker’s procedure goes first."
          />
        </Box>
      </Box>
      <Box>
        <Heading>Fluid</Heading>
        <Table
          label="Fluid"
          head={["", ">"]}
          rows={facts([
            ["kind", fluid.kind],
            ["dry fill", fluid.capacity],
            ["refill", fluid.refill],
          ])}
        />
        <Box mt="6">
          <Heading>Level, by this unit’s own procedure</Heading>
          <Box as="ol" pl="5" listStyleType="decimal" mb="2">
            {level.steps.map((s) => (
              <Box as="li" key={s} py="0.5">
                {s}
              </Box>
            ))}
          </Box>
          <Table
            label="Level"
            head={["", ">"]}
            rows={facts([
              ["engine", level.engine],
              ["selector", level.selector],
              ["read at the", level.at],
              ["fluid at", level.temperature],
              ["from mark to mark", level.betweenMarks && `${level.betweenMarks} over ${level.marksApart}`],
            ])}
          />
          {level.steps.length === 0 && <Text color="ink2">The sheet does not give it.</Text>}
        </Box>
      </Box>
    </Grid>
  );
}
