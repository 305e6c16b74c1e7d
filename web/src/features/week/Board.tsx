import { DndContext, MouseSensor, TouchSensor, useDraggable, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { clock, hours, weekday, weekMoment } from "../../shared/format";
import { letters, peopleOf, place, type WeekDay, type WeekJob } from "./weekLayout";

const lane = 96; // px, of a bay
const dayWidth = 168; // px, at least
const names = 92; // px, of the bays

const hatch = (colour: string) => `repeating-linear-gradient(135deg, {colors.${colour}} 0 1.5px, transparent 1.5px 6px)`;

/** The phases of a job at the foot of its bar: who works, hatched where it waits. */
function Phases({ job, days, from, to }: { job: WeekJob; days: WeekDay[]; from: number; to: number }) {
  const of = (v: number) => `${((v - from) / (to - from)) * 100}%`;
  return (
    <Box
      position="absolute"
      left="0"
      right="0"
      bottom="0"
      h="20px"
      borderTopWidth="1px"
      borderColor="line"
      backgroundImage={hatch("slate")}
    >
      {job.slot.phases
        .filter((p) => p.by.length > 0)
        .map((p, i) => {
          const [a, b] = [place(days, p.from), place(days, p.to)];
          return (
            <Flex
              key={i}
              position="absolute"
              top="0"
              bottom="0"
              left={of(a)}
              w={of(from + b - a)}
              bg="panel"
              borderRightWidth="1px"
              borderColor="line"
              justify="center"
              align="center"
              overflow="hidden"
              textStyle="tiny"
              color="ink2"
            >
              {(b - a) * dayWidth > 20 ? p.by.map(letters).join(" ") : ""}
            </Flex>
          );
        })}
    </Box>
  );
}

function Bar({ job, days, picked, pick, open }: { job: WeekJob; days: WeekDay[]; picked: boolean; pick: () => void; open: () => void }) {
  const { attributes, listeners, setNodeRef, transform } = useDraggable({ id: job.case });
  const from = place(days, job.slot.from);
  const to = Math.max(place(days, job.slot.to), from + 0.02);
  const late = job.slot.late > 0;
  const narrow = (to - from) * dayWidth < 76;
  const slim = (to - from) * dayWidth < 44; // its name runs down
  const label = [
    job.vehicle,
    job.work,
    `${job.slot.bay}, ${weekMoment(job.slot.from)} to ${weekMoment(job.slot.to)}`,
    peopleOf(job).join(" and "),
    late && `late by ${hours(job.slot.late)}`,
    job.set && "set by hand",
    !job.agreed && "not agreed yet",
  ];
  return (
    <chakra.button
      ref={setNodeRef}
      {...listeners}
      {...attributes}
      type="button"
      aria-pressed={picked}
      aria-roledescription={undefined}
      aria-label={label.filter(Boolean).join(", ")}
      data-job={job.case}
      onClick={pick}
      onFocus={pick}
      onDoubleClick={open}
      position="absolute"
      top="8px"
      h={`${lane - 16}px`}
      left={`calc((100% / ${days.length}) * ${from} + 1px)`}
      w={`calc((100% / ${days.length}) * ${to - from} - 2px)`}
      minW="24px"
      bg={picked ? "brassSoft" : "panel"}
      borderWidth={picked ? "2px" : "1px"}
      borderStyle={job.agreed ? "solid" : "dashed"}
      borderColor={picked ? "brass" : late ? "fault" : "slate"}
      borderRadius="4px"
      overflow="hidden"
      textAlign="left"
      zIndex={transform ? 3 : picked ? 2 : 1}
      cursor="grab"
      touchAction="manipulation"
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
    >
      <Box position="absolute" top="0" left="0" right="0" px={narrow ? "0.5" : "1.5"} pt="1" bottom="20px" overflow="hidden">
        <Text
          textStyle={narrow ? "tiny" : "small"}
          fontWeight="700"
          lineHeight="1.15"
          lineClamp={slim ? undefined : narrow ? 4 : 1}
          writingMode={slim ? "vertical-rl" : undefined}
          whiteSpace={slim ? "nowrap" : undefined}
          wordBreak="keep-all"
          overflowWrap="normal"
        >
          {late && (
            <Box as="span" color="fault" aria-hidden>
              ▲{" "}
            </Box>
          )}
          {job.vehicle}
          {job.set && (
            <Box as="span" color="brass" aria-hidden>
              {" "}
              ●
            </Box>
          )}
        </Text>
        {!narrow && (
          <Text textStyle="tiny" color="ink2" lineHeight="1.2" lineClamp="2">
            {late ? `late ${hours(job.slot.late)} · ` : ""}
            {job.work}
          </Text>
        )}
      </Box>
      <Phases job={job} days={days} from={from} to={to} />
    </chakra.button>
  );
}

/** Jobs over bays and days. A bar is dragged, or moved by keys; what is closed has no width. */
export function Board({
  week,
  picked,
  pick,
  move,
  open,
}: {
  week: Schemas["Week"];
  picked: string;
  pick: (id: string) => void;
  move: (job: WeekJob, days: number, bays: number) => void;
  open: (id: string) => void;
}) {
  const grid = useRef<HTMLDivElement>(null);
  // A bar that is pressed is chosen; only one that is moved away is dragged, by a finger after a moment, so that the board still scrolls.
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 220, tolerance: 8 } }),
  );
  const dropped = (e: DragEndEvent) => {
    const job = week.jobs.find((j) => j.case === e.active.id);
    const width = (grid.current?.clientWidth ?? 1) / week.days.length;
    if (job) move(job, e.delta.x / width, Math.round(e.delta.y / lane));
  };
  return (
    <DndContext sensors={sensors} onDragEnd={dropped} accessibility={{ screenReaderInstructions: { draggable: "" } }}>
      <Box overflowX="auto" borderTopWidth="1px" borderColor="line" role="region" aria-label="Bays and days" tabIndex={0}>
        <Box minW={`${names + week.days.length * dayWidth}px`} _print={{ minW: "0" }}>
          <Flex pl={`${names}px`} textStyle="small" aria-hidden>
            {week.days.map((d, i) => (
              <Box key={d.from} flex="1" px="2" py="1.5" borderLeftWidth="1px" borderColor="line">
                <Text fontWeight="700">
                  {i === 0 && Date.parse(d.from) < Date.parse(week.now) ? `Today, ${weekday(d.from)}` : weekday(d.from)}
                </Text>
                <Text color="ink2">
                  {clock(d.from)} to {clock(d.to)}
                </Text>
              </Box>
            ))}
          </Flex>
          {week.bays.map((bay) => (
            <Flex key={bay} h={`${lane}px`} borderTopWidth="1px" borderColor="line">
              <Flex w={`${names}px`} flexShrink="0" align="center" fontWeight="600" textStyle="label" pr="2">
                {bay}
              </Flex>
              <Box ref={bay === week.bays[0] ? grid : undefined} position="relative" flex="1" role="group" aria-label={bay}>
                {week.days.map((d, i) => (
                  <Box
                    key={d.from}
                    position="absolute"
                    top="0"
                    bottom="0"
                    left={`${(100 / week.days.length) * i}%`}
                    borderLeftWidth="1px"
                    borderColor="line"
                  />
                ))}
                <Box
                  position="absolute"
                  top="0"
                  bottom="0"
                  left={`${(100 / week.days.length) * place(week.days, week.now)}%`}
                  borderLeftWidth="2px"
                  borderColor="brass"
                />
                {week.jobs
                  .filter((j) => j.slot.bay === bay)
                  .map((j) => (
                    <Bar
                      key={j.case}
                      job={j}
                      days={week.days}
                      picked={j.case === picked}
                      pick={() => pick(j.case)}
                      open={() => open(j.case)}
                    />
                  ))}
              </Box>
            </Flex>
          ))}
          <People week={week} picked={picked} />
        </Box>
      </Box>
    </DndContext>
  );
}

/** When each person works, the job in hand in brass. */
function People({ week, picked }: { week: Schemas["Week"]; picked: string }) {
  return (
    <Box borderTopWidth="1px" borderColor="line" aria-hidden>
      {week.people.map((who) => (
        <Flex key={who} h="26px" align="center" borderTopWidth="1px" borderColor="line">
          <Text w={`${names}px`} flexShrink="0" textStyle="small" color="ink2" lineClamp="1" pr="2">
            {who}
          </Text>
          <Box position="relative" flex="1" h="100%">
            {week.jobs.flatMap((j) =>
              j.slot.phases
                .filter((p) => p.by.includes(who))
                .map((p, i) => {
                  const [a, b] = [place(week.days, p.from), place(week.days, p.to)];
                  return (
                    <Box
                      key={`${j.case} ${i}`}
                      position="absolute"
                      top="7px"
                      h="12px"
                      left={`${(100 / week.days.length) * a}%`}
                      w={`${(100 / week.days.length) * (b - a)}%`}
                      bg={j.case === picked ? "brass" : "slate"}
                      borderRightWidth="1px"
                      borderColor="page"
                    />
                  );
                }),
            )}
          </Box>
        </Flex>
      ))}
    </Box>
  );
}
