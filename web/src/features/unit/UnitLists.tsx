import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { accessNames, minutes } from "../../shared/format";

type Unit = Schemas["Unit"];

function Line({ left, right }: { left: ReactNode; right: ReactNode }) {
  return (
    <Flex justify="space-between" gap="4" py="1.5" borderTopWidth="1px" borderColor="line">
      <Text>{left}</Text>
      <Text fontWeight="600" textAlign="right">
        {right}
      </Text>
    </Flex>
  );
}

function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box as="section" mb="6">
      <Text as="h2" fontWeight="700" mb="1">
        {title}
      </Text>
      {children}
    </Box>
  );
}

export function Feeds({ unit }: { unit: Unit }) {
  return (
    <Box>
      <Block title="From the pump to the piston">
        {unit.feeds.map((f) => (
          <Box key={f.id} py="2.5" borderTopWidth="1px" borderColor="line">
            <Text fontWeight="600">
              {f.name}{" "}
              <Text as="span" color="ink2" fontWeight="400">
                feeds {f.serves.join(", ")}
              </Text>
            </Text>
            <Text color="ink2">{f.path.join(" → ")}</Text>
          </Box>
        ))}
      </Block>
      <Block title="Line pressure, hot, at idle">
        {unit.ranges.map((r) => (
          <Line key={r.id} left={`${r.id} · ${r.name}`} right={r.lineIdle} />
        ))}
      </Block>
    </Box>
  );
}

/** The unit from the side: each part where it sits, with its access. */
function SideElevation({ unit }: { unit: Unit }) {
  return (
    <figure>
      <svg
        viewBox="0 0 1000 470"
        width="100%"
        role="img"
        aria-label="Unit from the side, front at the left; the parts stand in the list below"
      >
        <path
          d="M10 60 H160 L230 110 H960 V350 H690 V440 H240 V370 L160 410 H10Z"
          fill="none"
          stroke="var(--chakra-colors-slate)"
          strokeWidth="2"
        />
        {unit.parts.map((p, i) => {
          const [x = 0, y = 0, w = 0, h = 0] = p.zone;
          return (
            <g key={p.id}>
              <rect
                x={x * 10}
                y={450 - (y + h) * 4.4}
                width={w * 10}
                height={h * 4.4}
                fill="var(--chakra-colors-panel)"
                stroke="var(--chakra-colors-ink2)"
              />
              <text
                x={(x + w / 2) * 10}
                y={450 - (y + h / 2) * 4.4 + 6}
                textAnchor="middle"
                fontSize="24"
                fontWeight="700"
                fill="var(--chakra-colors-ink)"
              >
                {i + 1}
              </text>
            </g>
          );
        })}
        <text x="12" y="462" fontSize="20" fill="var(--chakra-colors-ink2)">
          front
        </text>
      </svg>
    </figure>
  );
}

export function PartsAndTraps({ unit }: { unit: Unit }) {
  const upTo = (i: number) => unit.ladder.slice(0, i + 1).reduce((sum, r) => sum + r.minutes, 0);
  return (
    <Grid templateColumns={{ base: "1fr", lg: "1.3fr 1fr" }} gap="8">
      <Box>
        <SideElevation unit={unit} />
        <Block title="Parts, with the access and hours to renew them">
          {unit.parts.map((p, i) => (
            <Line key={p.id} left={`${i + 1} · ${p.name}`} right={`${accessNames[p.access]} · ${p.hours.toFixed(1)} h`} />
          ))}
        </Block>
      </Box>
      <Box>
        <Block title="Access, from the ground">
          {unit.ladder.map((r, i) => (
            <Line key={r.level} left={accessNames[r.level]} right={`${minutes(r.minutes)}, ${minutes(upTo(i))} in all`} />
          ))}
        </Block>
        <Block title="Traps, before they spring">
          {unit.traps.map((t) => (
            <Box key={t.text} py="2" borderTopWidth="1px" borderColor="line">
              <Text color="ink2" fontSize="13px">
                before {accessNames[t.before]}
              </Text>
              <Text>⚠ {t.text}</Text>
            </Box>
          ))}
        </Block>
      </Box>
    </Grid>
  );
}

export function FluidAndLimits({ unit }: { unit: Unit }) {
  const { fluid } = unit;
  return (
    <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap="8">
      <Box>
        <Block title="Limits">
          {unit.limits.map((l) => (
            <Line key={l.id} left={l.name} right={l.window} />
          ))}
          <Line left="stall speed" right={unit.stall} />
        </Block>
        <Block title="Torques">
          {unit.torques.map((t) => (
            <Line key={t.joint} left={t.joint} right={t.torque} />
          ))}
          <Text fontSize="13px" color="ink2" mt="1">
            The maker’s procedure goes first.
          </Text>
        </Block>
      </Box>
      <Box>
        <Block title="Fluid">
          <Line left="kind" right={fluid.kind} />
          <Line left="dry fill" right={fluid.capacity} />
          <Line left="refill after the pan" right={fluid.refill} />
        </Block>
        <Block title="Level, by this unit’s own procedure">
          <Box as="ol" pl="5" listStyleType="decimal">
            {fluid.level.steps.map((s) => (
              <Box as="li" key={s} py="0.5">
                {s}
              </Box>
            ))}
          </Box>
          <Line left="fluid at" right={fluid.level.temperature} />
          <Line left="from mark to mark" right={`${fluid.level.betweenMarks} over ${fluid.level.marksApart}`} />
        </Block>
      </Box>
    </Grid>
  );
}
