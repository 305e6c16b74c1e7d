import { Box, chakra, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { powerQuery } from "../../api/queries";
import { Problem } from "../../shared/states";
import { SpeedBars } from "./SpeedBars";
import { SpeedDiagram } from "./SpeedDiagram";
import { Heading, Table } from "../../shared/Table";
import { TorqueBars } from "./TorqueBars";
import { ratio, type Unit } from "./unit";
import { number } from "../../shared/format";

/** A value that can be dragged, typed, or stepped with the arrow keys. */
function Dial({
  label,
  unit,
  value,
  min,
  max,
  step,
  onChange,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange: (v: number) => void;
}) {
  const clamp = (v: number) => Math.min(max, Math.max(min, Number.isFinite(v) ? v : min));
  return (
    <Box>
      <Text textStyle="small" color="ink2">
        {label}
      </Text>
      <Flex align="center" gap="2">
        <chakra.input
          type="range"
          aria-label={label}
          min={min}
          max={max}
          step={step}
          value={value}
          onChange={(e) => onChange(clamp(Number(e.target.value)))}
          flex="1"
          minW="0"
          h="44px"
          accentColor="brass"
        />
        <Input
          type="number"
          aria-label={`${label}, ${unit}`}
          w="88px"
          px="2"
          textAlign="right"
          min={min}
          max={max}
          step={step}
          value={value}
          onChange={(e) => onChange(clamp(Number(e.target.value)))}
        />
        <Text w="30px" color="ink2">
          {unit}
        </Text>
      </Flex>
    </Box>
  );
}

/** What runs through the unit in one range, at the speed and load that are set. */
export function PowerFlow({ unit, picked }: { unit: Unit; picked: string }) {
  const [speed, setSpeed] = useState(2000);
  const [load, setLoad] = useState(60);
  const [slip, setSlip] = useState(0);
  const range = unit.ranges.find((r) => r.id === picked);
  const { data, error } = useQuery(powerQuery(unit.id, unit.version, { range: picked, speed: `${speed} rpm`, load, slip }));
  if (!range) return null;
  return (
    <Box>
      <Heading>
        {range.id} · {range.name}, {ratio(range.ratio)}
      </Heading>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="4" data-noprint>
        <Dial label="Input speed" unit="rpm" value={speed} min={0} max={6000} step={50} onChange={setSpeed} />
        <Dial label="Load (below zero: foot off)" unit="%" value={load} min={-100} max={100} step={5} onChange={setLoad} />
        {unit.converterInside && <Dial label="Converter slip" unit="%" value={slip} min={0} max={90} step={1} onChange={setSlip} />}
      </Grid>
      {error && <Problem error={error} />}
      {data && (
        <>
          <Text fontWeight="700" mt="3" role="status">
            {data.sentence}
          </Text>
          <Flex gap="6" wrap="wrap" mt="1" color="ink2">
            <Text>
              in <b>{data.input}</b>
            </Text>
            <Text>
              out <b>{data.output}</b> at <b>{data.outSpeed}</b>
            </Text>
            {data.line && (
              <Text>
                line <b>{data.line}</b>
              </Text>
            )}
            {data.loss && (
              <Text>
                lost in the converter <b>{data.loss}</b>
              </Text>
            )}
          </Flex>
          <TorqueBars elements={data.elements} />
          {data.first && <Text mt="2">{data.first}</Text>}
          <SpeedDiagram unit={unit} picked={picked} />
          <SpeedBars members={data.members} />
          <Box as="details" mt="2">
            <summary style={{ minHeight: 44, cursor: "pointer", paddingTop: 10 }}>
              As tables: members, elements, and where each mesh is heard
            </summary>
            <Table
              label="Members"
              head={["member", ">speed", ">torque from gears"]}
              rows={data.members.map((m) => [m.name, m.known ? `${number(Math.round(m.speed))} rpm` : "free", m.gears || "divided"])}
            />
            <Table
              label="Torque on elements"
              head={["element", ">carries", ">can hold", ">in hand", ">speed across"]}
              rows={data.elements.map((e) => [
                e.name,
                e.on || e.holding ? (e.shared ? "shared" : e.torque) : "open",
                e.hold,
                e.margin > 0 ? `${number(e.margin, 1)} ×` : "",
                e.across || "free",
              ])}
              note="Shared: two paths hold the same member; rigid gears cannot say which carries how much."
            />
            <Table
              label="Orders"
              head={["what is heard", ">hertz", ">per output turn", "load"]}
              rows={data.orders.map((o) => [o.name, number(o.hertz), number(o.perOutput, 2), o.loaded ? "loaded" : "idle"])}
            />
          </Box>
        </>
      )}
    </Box>
  );
}
