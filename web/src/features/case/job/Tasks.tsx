import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { accessNames, hours, number } from "../../../shared/format";
import type { Job, JobTask } from "./useJob";

/** Where a task lies in the whole work: brass when being late makes all late, hatched while nobody works on it. */
function Span({ task, whole }: { task: JobTask; whole: number }) {
  const of = (v: number) => `${(v / whole) * 100}%`;
  const waits = task.days > 0;
  return (
    <Box position="relative" h="14px" borderLeftWidth="1px" borderRightWidth="1px" borderColor="line" aria-hidden>
      <Box
        position="absolute"
        top="2px"
        bottom="2px"
        left={of(task.start)}
        w={`max(3px, ${of(task.end - task.start)})`}
        bg={waits ? "transparent" : task.critical ? "brass" : "slate"}
        backgroundImage={waits ? "repeating-linear-gradient(135deg, {colors.fault} 0 1.5px, transparent 1.5px 5px)" : undefined}
        borderWidth={waits ? "1px" : "0"}
        borderColor="fault"
      />
    </Box>
  );
}

/** What a task needs at hand and in mind. */
function Details({ task }: { task: JobTask }) {
  return (
    <Box pb="3" pl="1" textStyle="note">
      {task.cautions.map((c) => (
        <Text key={c.title} bg="faultSoft" px="2" py="1" mb="1">
          <b>⚠ {c.title}</b> {c.text}
        </Text>
      ))}
      {task.heeds.map((h) => (
        <Text key={h.part + h.text} mb="1">
          <b>⚑ {h.part}:</b> {h.text}
        </Text>
      ))}
      {task.tools.length > 0 && (
        <Text mb="1">
          <b>Tools:</b> {task.tools.map((t) => (t.instead ? `${t.name}, or ${t.instead}` : t.name)).join("; ")}
        </Text>
      )}
      {task.torques.map((t) => (
        <Text key={t.part + t.thread + t.stages.join()} mb="1">
          <b>{t.part}:</b> {t.count} × {t.thread}, {t.stages.join(" then ")}
          {t.turn && `, then turned ${t.turn}`}, {t.pattern}, {t.with}
          {t.once && ", new bolts"}
        </Text>
      ))}
      {task.parts.length > 0 && (
        <Text color="ink2">
          {task.kind === "open" ? "Come out" : "Go back"}: {task.parts.join(", ")}
        </Text>
      )}
      <Text color="ink2">
        {task.days > 0
          ? `${number(task.days, 1)} days by the calendar, likely.`
          : `${hours(task.low)} to ${hours(task.high)}, likely ${hours(task.likely)}.`}{" "}
        {task.slack > 0.05 ? `May be ${hours(task.slack)} late.` : "If it is late, all is late."}
      </Text>
    </Box>
  );
}

/** The work step by step, access shared by all that is done in the visit. */
export function Tasks({ job }: { job: Job }) {
  const whole = Math.max(...job.tasks.map((t) => t.end), 0.1);
  return (
    <Box as="section" aria-label="Work step by step">
      <Flex justify="space-between" align="baseline" wrap="wrap" gap="2">
        <Text as="h2" textStyle="subheading" fontWeight="700">
          {job.tasks.length} steps, {hours(job.hours)} of work
        </Text>
        <Text color="ink2" textStyle="note">
          {job.works.length > 1
            ? `opened up once for all: ${hours(job.opening)}; one by one it would take ${hours(job.apart)}`
            : `${hours(job.opening)} of it to open and close`}
        </Text>
      </Flex>
      <Box as="ol" listStyleType="none" mt="2">
        {job.tasks.map((t, i) => (
          <Box as="li" key={t.id} borderTopWidth="1px" borderColor="line">
            <chakra.details>
              <chakra.summary cursor="pointer" minH="44px" listStyleType="none" alignContent="center">
                <Grid
                  templateColumns={{ base: "24px minmax(0, 1fr) 60px", md: "24px minmax(0, 1fr) 220px 70px" }}
                  gap="3"
                  alignItems="center"
                >
                  <Text color="ink2" textAlign="right">
                    {i + 1}
                  </Text>
                  <Box>
                    <Text fontWeight="600" textStyle="label">
                      {t.cautions.some((c) => c.high) && (
                        <Box as="span" color="fault" aria-label="can hurt">
                          ⚠{" "}
                        </Box>
                      )}
                      {t.title}
                    </Text>
                    <Text textStyle="small" color="ink2">
                      {[
                        t.level && accessNames[t.level],
                        t.people > 1 && `${t.people} people`,
                        t.heeds.length > 0 && `${t.heeds.length} to heed`,
                        t.tools.length > 0 && `${t.tools.length} ${t.tools.length === 1 ? "tool" : "tools"}`,
                        t.torques.length > 0 && `${t.torques.length} ${t.torques.length === 1 ? "torque" : "torques"}`,
                      ]
                        .filter(Boolean)
                        .join(" · ")}
                    </Text>
                  </Box>
                  <Box display={{ base: "none", md: "block" }}>
                    <Span task={t} whole={whole} />
                  </Box>
                  <Text textAlign="right" whiteSpace="nowrap">
                    {t.days > 0 ? `${number(t.days, 1)} d` : hours(t.mean)}
                  </Text>
                </Grid>
              </chakra.summary>
              <Box pl={{ base: "0", md: "36px" }}>
                <Details task={t} />
              </Box>
            </chakra.details>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
