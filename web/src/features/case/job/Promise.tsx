import { Box, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { hours, percent, plainDay, weekday, weekMoment, clock } from "../../../shared/format";
import { Disclosed } from "../../../shared/Disclosed";

const tall = 84; // px, of the likeliest day
const shownDays = 12;

/** When the vehicle is done: the moment that nine in ten such jobs keep, and how likely each day is. */
export function Promised({ promise }: { promise: Schemas["JobPromise"] }) {
  const most = Math.max(...promise.days.map((d) => d.share));
  const days = promise.days.slice(0, shownDays);
  const rest = promise.days.slice(shownDays).reduce((s, d) => s + d.share, 0);
  const nine = weekday(promise.nine);
  return (
    <Box as="section" aria-label="Promise">
      <Flex gap="8" wrap="wrap" align="end" justify="space-between">
        <Box>
          <Text textStyle="small" color="ink2" fontWeight="600">
            Promise it for
          </Text>
          <Text textStyle="display" fontWeight="700" lineHeight="1.1">
            {weekday(promise.nine)}, {clock(promise.nine)}
          </Text>
          <Text>
            Nine in ten such jobs are done by then, half by <b>{weekMoment(promise.half)}</b>.
          </Text>
          <Text color="ink2" textStyle="note">
            Begins {weekMoment(promise.start)} · {weekMoment(promise.plain)} if nothing is found and nothing takes longer
            {promise.waits > 0.005 && ` · ${percent(promise.waits)} in 100 wait for a part that was not ordered`}
          </Text>
        </Box>
        <Flex gap="1" align="end" role="img" aria-label={days.map((d) => `${plainDay(d.day)} ${percent(d.share)} percent`).join(", ")}>
          {days.map((d) => {
            const last = plainDay(d.day) === nine;
            return (
              <Box key={d.day} textAlign="center" minW="52px">
                <Text textStyle="small" fontWeight={last ? "700" : "400"}>
                  {percent(d.share)} %
                </Text>
                <Box h={`${Math.max(2, (d.share / most) * tall)}px`} bg={last ? "brass" : "slate"} mx="1.5" />
                <Text textStyle="tiny" color={last ? "ink" : "ink2"} fontWeight={last ? "700" : "400"}>
                  {plainDay(d.day).replace(",", "")}
                </Text>
              </Box>
            );
          })}
          {rest > 0.004 && (
            <Text textStyle="tiny" color="ink2" pb="1">
              later {percent(rest)} %
            </Text>
          )}
        </Flex>
      </Flex>
      {promise.founds.length > 0 && (
        <Disclosed title={`What may be found and adds work: ${promise.founds[0]!.title}, and ${promise.founds.length - 1} more`}>
          {promise.founds.slice(0, 12).map((f) => (
            <Flex key={f.title} justify="space-between" gap="4" py="1" borderTopWidth="1px" borderColor="line" textStyle="note">
              <Text>{f.title}</Text>
              <Text whiteSpace="nowrap">
                {percent(f.chance)} % · {hours(f.hours)}
              </Text>
            </Flex>
          ))}
        </Disclosed>
      )}
    </Box>
  );
}
