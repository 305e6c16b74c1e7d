import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { hours, short, weekday, weekMoment } from "../../shared/format";
import { SelectField } from "../../shared/fields";
import type { Change } from "./useWeek";
import type { WeekJob } from "./weekLayout";

/** The job in hand: what it is, where it lies, and what a person settles about it. */
export function Picked({
  job,
  week,
  settle,
  saving,
}: {
  job: WeekJob;
  week: Schemas["Week"];
  settle: (c: Change) => void;
  saving: boolean;
}) {
  const any = (names: string[]): [string, string][] => [["", "whichever is free first"], ...names.map((n): [string, string] => [n, n])];
  const known = week.days.some((d) => d.to === job.settled.due);
  return (
    <Grid as="section" aria-label="The job in hand" templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) 560px" }} gap="6" py="4">
      <Box>
        <Text as="h2" textStyle="figure" fontWeight="700">
          {job.vehicle}
        </Text>
        <Text>
          {job.work} · {job.unit}
          {job.customer && ` · ${job.customer}`}
        </Text>
        <Text mt="1">
          <b>
            {job.slot.bay}, {weekMoment(job.slot.from)} to {weekMoment(job.slot.to)}
          </b>
          {job.slot.late > 0 && (
            <Box as="span" color="fault" fontWeight="600">
              {" "}
              ▲ {hours(job.slot.late)} after it is promised
            </Box>
          )}
        </Text>
        <Box as="ol" listStyleType="none" mt="1">
          {job.slot.phases.map((p, i) => (
            <Text as="li" key={i} textStyle="note" color="ink2">
              {weekMoment(p.from)}: {p.title}
              {p.by.length > 0 && `, ${p.by.join(" and ")}`}
              {p.wait > 0 && `, after ${short(p.wait, 1)} days of waiting`}
            </Text>
          ))}
        </Box>
        {(!job.agreed || job.lacks > 0) && (
          <Text mt="1" textStyle="note">
            {[
              !job.agreed && "The customer has not agreed yet.",
              job.lacks > 0 && `Parts that it needs are here in ${short(job.lacks, 1)} days${job.missing ? "" : ", when ordered today"}.`,
            ]
              .filter(Boolean)
              .join(" ")}
          </Text>
        )}
      </Box>
      <Box>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1fr 1fr" }} gap="3">
          <SelectField
            label="Bay"
            value={job.settled.bay}
            options={any(week.bays)}
            disabled={saving}
            onChange={(e) => settle({ bay: e.target.value })}
          />
          <SelectField
            label="Person"
            value={job.settled.person}
            options={any(week.people)}
            disabled={saving}
            onChange={(e) => settle({ person: e.target.value })}
          />
          <SelectField
            label="Promised for"
            value={job.settled.due}
            options={[
              ["", "nobody said"],
              ...(job.settled.due && !known ? [[job.settled.due, weekMoment(job.settled.due)] as [string, string]] : []),
              ...week.days.map((d): [string, string] => [d.to, `${weekday(d.to)}, closing`]),
            ]}
            disabled={saving}
            onChange={(e) => settle({ due: e.target.value })}
          />
        </Grid>
        <Flex gap="3" mt="3" wrap="wrap">
          <Button asChild variant="solid">
            <Link to={`/cases/${job.case}/job`}>Open the job</Link>
          </Button>
          {job.set && (
            <Button disabled={saving} onClick={() => settle({ bay: "", person: "", from: "" })}>
              Let it find its own place
            </Button>
          )}
        </Flex>
      </Box>
    </Grid>
  );
}
