import { Box, chakra, Grid, Text } from "@chakra-ui/react";
import { accessNames, number } from "../../shared/format";
import { Empty } from "../../shared/states";
import { Heading, Table } from "../../shared/Table";
import type { Unit } from "./unit";

/** A setting of one control: a filled field for on, an empty one for off; the digit says it too. */
function Bit({ on, kind }: { on: boolean; kind: string }) {
  const word = kind === "valve" ? (on ? "up" : "down") : on ? "on" : "off";
  return (
    <chakra.span
      display="inline-block"
      minW="46px"
      px="2"
      py="0.5"
      textAlign="center"
      textStyle="small"
      borderWidth="1px"
      borderColor={on ? "brass" : "line"}
      bg={on ? "brassSoft" : "transparent"}
      color={on ? "ink" : "ink2"}
      fontWeight={on ? "700" : "400"}
    >
      {word}
    </chakra.span>
  );
}

/** Solenoids or shift valves: what each range commands, what other settings would give, what is left without power. */
export function Controls({ unit }: { unit: Unit }) {
  if (unit.controls.length === 0)
    return <Empty title="No controls">The ranges of this unit are worked by hand: lever, sleeves and pedal.</Empty>;
  const groups: [string, Unit["controlTable"]][] = [
    ["Commanded in health", unit.controlTable.filter((r) => r.healthy)],
    ["Settings that only a failure gives", unit.controlTable.filter((r) => !r.healthy && r.bits.length > 0)],
    ["Without electric power", unit.controlTable.filter((r) => r.bits.length === 0)],
  ];
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", xl: "minmax(0, 1.5fr) minmax(0, 1fr)" }} gap="8">
      <Box>
        {groups
          .filter(([, rows]) => rows.length > 0)
          .map(([title, rows]) => (
            <Box key={title} mb="5">
              <Heading>{title}</Heading>
              <Table
                label={title}
                head={["selector", "range", ...(rows[0]!.bits.length ? unit.controls.map((c) => c.id) : []), "on", "gives"]}
                rows={rows.map((r) => [
                  r.selector,
                  r.healthy ? <b key="r">{r.range}</b> : "",
                  ...r.bits.map((b, i) => <Bit key={i} on={b === 1} kind={unit.controls[i]!.kind} />),
                  r.applied.join(" ") || "none",
                  <b key="g">{r.result.replace("-", "−")}</b>,
                ])}
              />
            </Box>
          ))}
      </Box>
      <Box>
        <Heading>{unit.control === "hydraulic" ? "Shift valves" : "Solenoids"}</Heading>
        <Table
          label="Controls"
          head={["control", "at rest", "good coil", "reached at", ">to renew"]}
          rows={unit.controls.map((c) => [
            `${c.id} · ${c.name}${c.applies ? ` (${c.applies})` : ""}`,
            c.kind === "valve" ? (c.rest ? "up" : "down") : c.rest ? "on" : "off",
            c.ohms,
            accessNames[c.access],
            `${number(c.hours, 1)} h`,
          ])}
          note={
            unit.controls.some((c) => c.watched)
              ? "The module watches the circuits: an open one drops the unit to its state without power."
              : undefined
          }
        />
        {unit.shifts.length > 0 && (
          <Box mt="6">
            <Heading note="From governor weights, throttle pressure and spring of each valve.">Shift points, by computation</Heading>
            <Table
              label="Shift points"
              head={["valve", "into", ">light throttle", ">full throttle"]}
              rows={unit.shifts.map((s) => [
                s.control,
                s.to,
                <Text key="l">
                  <b>{s.light}</b>
                  <br />
                  <Text as="span" color="ink2" textStyle="fine">
                    {s.lightWindow}
                  </Text>
                </Text>,
                <Text key="f">
                  <b>{s.full}</b>
                  <br />
                  <Text as="span" color="ink2" textStyle="fine">
                    {s.fullWindow}
                  </Text>
                </Text>,
              ])}
            />
          </Box>
        )}
        {unit.sensors.length > 0 && (
          <Box mt="6">
            <Heading>Sensors</Heading>
            <Table
              label="Sensors"
              head={["sensor", "counts", ">teeth", "reached at"]}
              rows={unit.sensors.map((s) => [
                s.name,
                s.kind === "speed" ? s.on : s.kind,
                s.teeth ? String(s.teeth) : "",
                accessNames[s.access],
              ])}
            />
          </Box>
        )}
      </Box>
    </Grid>
  );
}
