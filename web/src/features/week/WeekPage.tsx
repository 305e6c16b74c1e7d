import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { hours, number, weekMoment } from "../../shared/format";
import { Empty, LoadingPlace, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { useSingleKey } from "../../shared/useSingleKey";
import { Board } from "./Board";
import { Picked } from "./Picked";
import { useWeek } from "./useWeek";
import { momentAt, peopleOf, place, type WeekJob } from "./weekLayout";

/** The same week as rows. */
function AsTable({ week, pick }: { week: Schemas["Week"]; pick: (id: string) => void }) {
  return (
    <Box overflowX="auto">
      <chakra.table w="full" textAlign="left">
        <thead>
          <tr>
            {["vehicle", "work", "bay", "begins", "done", "people", ""].map((h) => (
              <chakra.th key={h} textStyle="small" color="ink2" fontWeight="600" py="2" pr="3">
                {h}
              </chakra.th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...week.jobs]
            .sort((a, b) => Date.parse(a.slot.from) - Date.parse(b.slot.from))
            .map((j) => (
              <chakra.tr key={j.case} borderTopWidth="1px" borderColor="line">
                <chakra.td py="2" pr="3" fontWeight="600">
                  <button type="button" style={{ minHeight: 44 }} onClick={() => pick(j.case)}>
                    <u>{j.vehicle}</u>
                  </button>
                </chakra.td>
                <chakra.td pr="3">{j.work}</chakra.td>
                <chakra.td pr="3">{j.slot.bay}</chakra.td>
                <chakra.td pr="3">{weekMoment(j.slot.from)}</chakra.td>
                <chakra.td pr="3">{weekMoment(j.slot.to)}</chakra.td>
                <chakra.td pr="3">{peopleOf(j).join(", ")}</chakra.td>
                <chakra.td>
                  {[j.slot.late > 0 && `▲ late ${hours(j.slot.late)}`, j.set && "set by hand", !j.agreed && "not agreed yet"]
                    .filter(Boolean)
                    .join(", ")}
                </chakra.td>
              </chakra.tr>
            ))}
        </tbody>
      </chakra.table>
    </Box>
  );
}

function headline(week: Schemas["Week"]) {
  const n = week.jobs.length;
  const late = week.late === 0 ? "none late" : `${week.late} late`;
  return `${number(n)} ${n === 1 ? "job" : "jobs"}, ${hours(week.hours)} of work, ${late}`;
}

/** All open jobs over bays and people. Whatever nobody has set finds its own place; what somebody has set stays. */
export function WeekPage() {
  const { week, settle } = useWeek();
  const [picked, setPicked] = useState("");
  const [table, setTable] = useState(false);
  const navigate = useNavigate();
  const data = week.data;
  const job = data?.jobs.find((j) => j.case === picked) ?? data?.jobs[0];
  const move = (j: WeekJob, days: number, bays: number) => {
    if (!data) return;
    const at = data.bays.indexOf(j.slot.bay) + bays;
    const bay = data.bays[Math.min(data.bays.length - 1, Math.max(0, at))];
    const from = Math.abs(days) < 0.03 ? j.slot.from : momentAt(data.days, place(data.days, j.slot.from) + days);
    settle.mutate({ job: j, change: { bay, from } });
  };
  const step = (days: number, bays: number) => job && !table && move(job, days, bays);
  useHotkeys("left", () => step(-0.5, 0), { preventDefault: true });
  useHotkeys("right", () => step(0.5, 0), { preventDefault: true });
  useHotkeys("up", () => step(0, -1), { preventDefault: true });
  useHotkeys("down", () => step(0, 1), { preventDefault: true });
  useSingleKey("x", () => job?.set && settle.mutate({ job, change: { bay: "", person: "", from: "" } }));
  useSingleKey("t", () => setTable((t) => !t));
  if (week.error && !data)
    return (
      <Box as="main" px="5" py="4">
        <Text as="h1" textStyle="title" fontWeight="700">
          Week
        </Text>
        <Problem error={week.error} retry={() => void week.refetch()} />
      </Box>
    );
  if (!data) return <LoadingPlace title="Week" what="the week" />;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Title of="Week" />
      <Flex justify="space-between" align="end" wrap="wrap" gap="3" mb="3">
        <Box>
          <Text as="h1" textStyle="small" color="ink2" fontWeight="600">
            Week
          </Text>
          <Text textStyle="display" fontWeight="700" lineHeight="1.15">
            {data.jobs.length > 0 ? headline(data) : "Nothing is planned"}
          </Text>
          {data.left > 0 && <Text color="ink2">Of the open jobs the oldest are planned; {data.left} more wait.</Text>}
        </Box>
        <Flex gap="2" wrap="wrap" data-noprint>
          {data.jobs.length > 0 && (
            <>
              <Button aria-pressed={table} onClick={() => setTable(!table)}>
                {table ? "As a board" : "As a table"}
              </Button>
              <Button asChild>
                <a href="/api/week/calendar" download>
                  Calendar file
                </a>
              </Button>
            </>
          )}
          <Button asChild>
            <Link to="/settings#workshop">Bays, people, hours</Link>
          </Button>
        </Flex>
      </Flex>
      {settle.isError && <Problem error={settle.error} />}
      {data.jobs.length === 0 ? (
        <Empty title="A job comes here once its work is agreed">
          <Text>Or open a case, go to Job, and put it in the week before the customer has answered.</Text>
        </Empty>
      ) : table ? (
        <AsTable week={data} pick={setPicked} />
      ) : (
        <Board week={data} picked={job?.case ?? ""} pick={setPicked} move={move} open={(id) => void navigate(`/cases/${id}/job`)} />
      )}
      {data.jobs.length > 0 && !table && (
        <Text textStyle="small" color="ink2" mt="1" data-noprint>
          ● set by hand · dashed: not agreed yet · hatched: the bay waits · ▲ after its promise · drag a job, or move the one in hand with{" "}
          <kbd>◂</kbd> <kbd>▸</kbd> <kbd>▴</kbd> <kbd>▾</kbd>
        </Text>
      )}
      {job && <Picked job={job} week={data} settle={(change) => settle.mutate({ job, change })} saving={settle.isPending} />}
    </Box>
  );
}
