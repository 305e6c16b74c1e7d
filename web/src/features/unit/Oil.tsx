import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Chip } from "../../shared/Chip";
import { Empty } from "../../shared/states";
import { OilPath } from "./OilPath";
import { Heading, Table } from "../../shared/Table";
import type { Unit } from "./unit";

/** Where the oil of each element comes from, what stands on the way, where a gauge goes in. */
export function Oil({ unit }: { unit: Unit }) {
  const fed = unit.elements.filter((e) => unit.feeds.some((f) => f.id === e.feed));
  const [picked, setPicked] = useState(fed[0]?.id ?? "");
  const element = fed.find((e) => e.id === picked);
  const feed = unit.feeds.find((f) => f.id === element?.feed);
  if (!element || !feed)
    return (
      <Empty title="No oil under pressure">The elements of this unit are worked by hand; its gears run in oil that nothing pumps.</Empty>
    );
  const used = unit.ranges.filter((r) => r.driving && r.applied.includes(element.id));
  const shared = unit.shared.filter((s) => s.serves.includes(element.id));
  const pressed = unit.ranges.some((r) => r.lineIdle);
  return (
    <Box>
      <Heading>From the pump to the {element.name}</Heading>
      <Box display="flex" gap="1.5" flexWrap="wrap" mb="3" role="group" aria-label="Element" data-noprint>
        {fed.map((e) => (
          <Chip key={e.id} type="button" aria-pressed={e.id === picked} onClick={() => setPicked(e.id)}>
            {e.id} · {e.name}
          </Chip>
        ))}
      </Box>
      <OilPath steps={feed.path} end={element.name} />
      <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }} gap="8" mt="4">
        <Box>
          <Text>
            Fed {feed.selectors.length > 0 ? `with the selector in ${feed.selectors.join(", ")}` : "in every selector position"}; on in{" "}
            {used.map((r) => r.id).join(", ") || "no range"}.
            {feed.serves.length > 1 && ` The same feed serves ${feed.serves.filter((s) => s !== element.id).join(", ")}.`}
          </Text>
          {shared.map((s) => (
            <Text key={s.id}>
              Rests on {s.name}, with {s.serves.filter((x) => x !== element.id).join(", ")}: if all are late together, look there.
            </Text>
          ))}
          {element.touch && (
            <Text>
              Begins to hold at <b>{element.touch}</b>; holds <b>{element.capacity}</b> at full throttle.
            </Text>
          )}
          <Box mt="5">
            <Heading>Pump and pressure</Heading>
            <Table label="Pump and pressure" head={["", ">"]} rows={unit.hydraulics.map((f) => [f.label, <b key="v">{f.value}</b>])} />
          </Box>
        </Box>
        {pressed && (
          <Box>
            <Heading>Line pressure by range, hot</Heading>
            <Table
              label="Line pressure by range"
              head={["range", "on", ">idle", ">full throttle"]}
              rows={unit.ranges.map((r) => [
                r.applied.includes(element.id) ? <b key="r">{r.id}</b> : r.id,
                r.applied.join(" "),
                r.lineIdle,
                r.lineFull + (r.limit ? ` (engine held to ${r.limit})` : ""),
              ])}
              note={`Bold: ranges that use the ${element.name}. Low there and good elsewhere is this path.`}
            />
          </Box>
        )}
      </Grid>
    </Box>
  );
}
