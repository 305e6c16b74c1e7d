import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { whyQuery } from "../../../api/queries";
import { number, percent } from "../../../shared/format";
import { Problem } from "../../../shared/states";
import { useCase } from "../useCase";

type Damaged = Schemas["Damaged"];

const most = 3; // of what must be held, at the right end of the scale

/** What the element holds over what it must, range by range: the line at one is where it slips; the bar is the ±. */
function Margins({ d }: { d: Damaged }) {
  const row = 34;
  const x = (r: number) => 150 + (Math.min(r, most) / most) * 380;
  return (
    <svg
      viewBox={`0 0 640 ${d.margins.length * row + 22}`}
      width="100%"
      style={{ maxWidth: 720, display: "block" }}
      role="img"
      aria-label={d.margins.map((m) => `${m.name}: holds ${m.now} of ${m.load}, ${number(m.ratio, 2)} times`).join("; ")}
    >
      {d.margins.map((m, i) => {
        const y = i * row + 6;
        const slips = m.slips > 0.5;
        return (
          <g key={m.range}>
            <text x="142" y={y + 17} textAnchor="end" style={{ fontSize: 13 }} fill="var(--chakra-colors-ink)">
              {m.name}
            </text>
            <rect
              x={x(0)}
              y={y + 4}
              width={x(m.healthyRatio) - x(0)}
              height="18"
              fill="none"
              stroke="var(--chakra-colors-slate)"
              strokeDasharray="3 3"
            />
            <rect
              x={x(0)}
              y={y + 4}
              width={Math.max(1, x(m.ratio) - x(0))}
              height="18"
              fill={slips ? "var(--chakra-colors-fault-soft)" : "var(--chakra-colors-window)"}
              stroke={slips ? "var(--chakra-colors-fault)" : "var(--chakra-colors-ink2)"}
            />
            <rect
              x={x(m.ratio - 2 * m.u)}
              y={y + 11}
              width={Math.max(1, x(m.ratio + 2 * m.u) - x(m.ratio - 2 * m.u))}
              height="4"
              fill="var(--chakra-colors-ink2)"
            />
            <text
              x={x(Math.max(m.ratio, 1, m.healthyRatio)) + 8}
              y={y + 17}
              style={{ fontSize: 13, fontWeight: 700 }}
              fill={slips ? "var(--chakra-colors-fault)" : "var(--chakra-colors-ink)"}
            >
              {slips && "▲ "}
              {number(m.ratio, 2)}
            </text>
          </g>
        );
      })}
      <line x1={x(1)} x2={x(1)} y1="0" y2={d.margins.length * row + 4} stroke="var(--chakra-colors-ink)" strokeWidth="1.5" />
      <text x={x(1)} y={d.margins.length * row + 18} textAnchor="middle" style={{ fontSize: 12 }} fill="var(--chakra-colors-ink2)">
        1: it slips below
      </text>
    </svg>
  );
}

function One({ d }: { d: Damaged }) {
  const { shown } = useCase();
  const shift = d.margins.find((m) => m.shift)?.shift;
  const worst = d.margins[0];
  return (
    <Box py="3" borderTopWidth="1px" borderColor="line">
      <Text as="h3" textStyle="subheading" fontWeight="700">
        Why the {d.name} is {d.found}
      </Text>
      <Text mb="2" maxW="760px">
        {d.says}
      </Text>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 6fr) minmax(0, 5fr)" }} gap="6">
        <Box minW="0">
          {d.margins.length > 0 && <Margins d={d} />}
          {worst && (
            <Text textStyle="small" color="ink2">
              At full throttle in {worst.name}: must hold {worst.load}, holds {worst.now} as found, {worst.healthy} in health at{" "}
              {worst.line}.{worst.needs && ` Under ${worst.needs} at the piston it slips.`} Dashed: in health.
            </Text>
          )}
          {shift && (
            <Text mt="2">
              Each shift from {shift.from} at full throttle: {shift.healthy.energy} and {shift.healthy.bulk} in the plates in health
              {shift.now.closes
                ? `; as found ${shift.now.energy}, ${shift.now.bulk}, in ${shift.now.time}.`
                : `; as found it does not close: ${shift.now.energy} and ${shift.now.bulk} more with every second.`}{" "}
              <Text as="span" color="ink2" textStyle="small">
                Engine inertia is taken as 0.25 kg·m².
              </Text>
            </Text>
          )}
          {d.feed.length > 0 && (
            <Text mt="2" color="ink2" textStyle="small">
              Fed by {d.feed.join(" → ")}.
            </Text>
          )}
        </Box>
        <Box minW="0">
          <Text textStyle="small" color="ink2">
            What takes it below one, each alone
          </Text>
          {d.conditions.map((c) => (
            <Flex key={c.id} gap="3" py="1" borderTopWidth="1px" borderColor="line" align="baseline">
              <Box flex="1" minW="0">
                <Text fontWeight={c.alone ? "700" : "400"}>
                  {c.alone && "▲ "}
                  {c.title}
                </Text>
                <Text textStyle="small" color="ink2">
                  it takes {c.limit}
                  {!c.known && c.tell && " · "}
                  {!c.known &&
                    (c.instrument ? (
                      <Link
                        to={`/instruments/${c.instrument}?case=${shown.id}${c.part ? `&part=${c.part}` : ""}`}
                        style={{ textDecoration: "underline" }}
                      >
                        {c.tell}
                      </Link>
                    ) : (
                      c.tell
                    ))}
                </Text>
              </Box>
              <Text flexShrink={0} fontWeight={c.known ? "700" : "400"} color={c.alone ? "fault" : c.known ? "ink" : "ink2"}>
                {c.known ? c.at : "not measured"}
              </Text>
            </Flex>
          ))}
          <Text textStyle="small" color="ink2" mt="3">
            Roots that can do that on this design
          </Text>
          {d.roots.length === 0 && <Text>None is known.</Text>}
          {d.roots.slice(0, 5).map((r) => (
            <Flex key={r.id} justify="space-between" gap="3" py="1" borderTopWidth="1px" borderColor="line">
              <Link to={`/cases/${shown.id}/teardown?why=${r.id}`} style={{ textDecoration: "underline" }}>
                {r.title}
              </Link>
              <Text flexShrink={0}>{percent(r.probability)} %</Text>
            </Flex>
          ))}
          <Text mt="1" fontWeight="600">
            {d.root ? "✓ Its root is found, by what was read." : "○ Its root is not found yet: a new pack burns again."}
          </Text>
        </Box>
      </Grid>
    </Box>
  );
}

/** Every element that was found damaged, with what it could hold and what takes it below one. */
export function WhyBurnt() {
  const { shown } = useCase();
  const { data, error } = useQuery(whyQuery(shown.id, shown.rev));
  if (error) return <Problem error={error} />;
  if (!data || data.length === 0) return null;
  return (
    <Box as="section" aria-label="Why did it burn">
      {data.map((d) => (
        <One key={d.element} d={d} />
      ))}
    </Box>
  );
}
