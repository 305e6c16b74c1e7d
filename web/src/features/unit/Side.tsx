import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { accessNames, minutes, number } from "../../shared/format";
import { outline, sideHeight, sideWidth, sideY } from "../../shared/UnitOutline";
import { Heading, Table } from "../../shared/Table";
import type { Unit } from "./unit";

/** The unit from the side: each part where it sits; the one at hand in brass. */
function Elevation({ unit, picked, pick }: { unit: Unit; picked: string; pick: (id: string) => void }) {
  const y = sideY;
  return (
    <figure>
      <svg
        viewBox={`0 0 ${sideWidth} ${sideHeight}`}
        width="100%"
        role="img"
        aria-label="Unit from the side, front at the left; the parts are in the list below"
      >
        <path
          d={outline(unit.parts.map((p) => p.zone))}
          fill="var(--chakra-colors-panel)"
          stroke="var(--chakra-colors-slate)"
          strokeWidth="3"
          strokeLinejoin="round"
        />
        {unit.parts.map((p, i) => {
          const [px = 0, py = 0, pw = 0, ph = 0] = p.zone;
          const on = p.id === picked;
          return (
            <g key={p.id} onClick={() => pick(p.id)} style={{ cursor: "pointer" }}>
              <rect
                x={px * 10}
                y={y(py + ph)}
                width={pw * 10}
                height={ph * 4.1}
                fill={on ? "var(--chakra-colors-brass-soft)" : "var(--chakra-colors-page)"}
                stroke={on ? "var(--chakra-colors-brass)" : "var(--chakra-colors-ink2)"}
                strokeWidth={on ? 4 : 1.5}
              />
              <text
                style={{ fontSize: 24, fontWeight: 700 }}
                x={(px + pw / 2) * 10}
                y={y(py + ph / 2) + 8}
                textAnchor="middle"
                fill="var(--chakra-colors-ink)"
              >
                {i + 1}
              </text>
            </g>
          );
        })}
        <text style={{ fontSize: 19 }} x="8" y={sideHeight - 4} fill="var(--chakra-colors-ink2)">
          front
        </text>
      </svg>
    </figure>
  );
}

export function Side({ unit }: { unit: Unit }) {
  const [picked, pick] = useState(unit.parts[0]?.id ?? "");
  const upTo = (level: string) => {
    const i = unit.ladder.findIndex((r) => r.level === level);
    return unit.ladder.slice(0, i + 1).reduce((sum, r) => sum + r.minutes, 0);
  };
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1.3fr) minmax(0, 1fr)" }} gap="8">
      <Box>
        <Elevation unit={unit} picked={picked} pick={pick} />
        <Heading>Parts, with the access and hours to renew them</Heading>
        {unit.parts.map((p, i) => (
          <Box
            as="button"
            key={p.id}
            display="flex"
            w="full"
            textAlign="left"
            alignItems="center"
            justifyContent="space-between"
            gap="4"
            minH="44px"
            px="2"
            borderTopWidth="1px"
            borderColor="line"
            bg={p.id === picked ? "brassSoft" : undefined}
            fontWeight={p.id === picked ? "700" : "400"}
            aria-pressed={p.id === picked}
            onClick={() => pick(p.id)}
          >
            <Text>
              {i + 1} · {p.name}
            </Text>
            <Text whiteSpace="nowrap">
              {accessNames[p.access]}, {minutes(upTo(p.access))} to get there · {number(p.hours, 1)} h
            </Text>
          </Box>
        ))}
      </Box>
      <Box>
        <Heading>Access, from the ground</Heading>
        <Table
          label="Access"
          head={["level", ">from the level before", ">in all"]}
          rows={unit.ladder.map((r) => [accessNames[r.level], minutes(r.minutes), <b key="m">{minutes(upTo(r.level))}</b>])}
        />
        <Box mt="6">
          <Heading>Traps, before they spring</Heading>
          {unit.traps.map((t) => (
            <Box key={t.text} py="2" borderTopWidth="1px" borderColor="line">
              <Text color="ink2" textStyle="small">
                {t.before === "ground" ? "at any time" : `before ${accessNames[t.before]}`}
              </Text>
              <Text>⚠ {t.text}</Text>
            </Box>
          ))}
        </Box>
        {unit.known.length > 0 && (
          <Box mt="6">
            <Heading>Known failures of this design</Heading>
            {unit.known.map((k) => (
              <Box key={k.title} py="2" borderTopWidth="1px" borderColor="line">
                <Text fontWeight="600">
                  {k.title}
                  {k.distance && (
                    <Text as="span" color="ink2" fontWeight="400">
                      {" "}
                      {k.distance}
                    </Text>
                  )}
                </Text>
                <Text>{k.note}</Text>
              </Box>
            ))}
          </Box>
        )}
        {unit.resets.length > 0 && (
          <Box mt="6">
            <Heading>After the repair: teach, set, reset</Heading>
            {unit.resets.map((r) => (
              <Box key={r.text} py="2" borderTopWidth="1px" borderColor="line">
                <Text color="ink2" textStyle="small">
                  {r.after}
                </Text>
                <Text>{r.text}</Text>
              </Box>
            ))}
          </Box>
        )}
      </Box>
    </Grid>
  );
}
