import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../../api/client";
import type { Recording } from "../../api/recordings";
import type { ShiftsAsked, ShiftsTold, ShiftTold } from "../../api/shifts";
import { Choice } from "../../shared/Choice";
import { Disclosed } from "../../shared/Disclosed";
import { number, percent } from "../../shared/format";
import { Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useSingleKey } from "../../shared/useSingleKey";
import { worker } from "../../shared/worker";
import { pictureOf } from "../recordings/pictureOf";
import { moment } from "../recordings/words";
import { Numbers } from "./Numbers";
import { Pennant } from "./Pennant";
import { gearWord } from "./Strip";

/** The numbers of the shift in hand, what they mean together, and the way into the case. */
export function Beside({ r, told, s, asked }: { r: Recording; told: ShiftsTold; s: ShiftTold | undefined; asked: ShiftsAsked }) {
  return (
    <Box>
      {s && (
        <Box px="4" pt="3" pb="2" borderBottomWidth="1px" borderColor="line">
          <Flex justify="space-between" align="baseline" gap="3" mb="1">
            <Text as="h2" textStyle="heading" fontWeight="700">
              {s.unfinished ? gearWord(told, s.from) : `${gearWord(told, s.from)}–${gearWord(told, s.to)}`} at {moment(s.leaves.at, 0.1)}
            </Text>
            <Text color="ink2" textStyle="small">
              {[
                s.throttle > 0 || told.channels.some((c) => c.role === "throttle") ? `${percent(s.throttle)} % throttle` : "",
                s.fluid ? `${number(s.fluid)} °C` : "",
              ]
                .filter(Boolean)
                .join(" · ")}
            </Text>
          </Flex>
          <Numbers s={s} />
          <Text mt="2" fontWeight="600">
            {s.said}
          </Text>
        </Box>
      )}
      {told.converter && told.converter.shudders.length > 0 && (
        <Box as="section" aria-label="Converter clutch" px="4" py="3" borderBottomWidth="1px" borderColor="line">
          <Text as="h2" textStyle="heading" fontWeight="700">
            The converter clutch shudders
          </Text>
          <Text mt="1">{told.converter.said}</Text>
        </Box>
      )}
      <Suspects told={told} />
      <IntoCase r={r} told={told} asked={asked} />
      <Box px="4" py="2">
        {told.kinds.length > 0 && (
          <Disclosed title="How alike the shifts are">
            <Table
              label="Kinds of shift"
              head={["Shift", ">Number", ">Inertia, s", ">Flare, rpm", ">Out"]}
              rows={told.kinds.map((k) => [
                `${gearWord(told, k.from)}–${gearWord(told, k.to)}`,
                String(k.shifts),
                `${number(k.inertia, 2)}${k.shifts > 1 ? ` ± ${number(k.scatter, 2)}` : ""}`,
                number(k.flare),
                String(k.out),
              ])}
              note="± is the scatter from shift to shift."
            />
          </Disclosed>
        )}
        {told.taps.length > 0 && (
          <Disclosed title="Pressures at the taps" open={told.taps.some((x) => x.state !== "")}>
            {told.taps.map((x) => (
              <Flex key={x.element} gap="2" align="center">
                <Box w="12px" flexShrink={0}>
                  {x.state !== "" && <Pennant />}
                </Box>
                <Text flex="1">
                  {x.name.charAt(0).toUpperCase() + x.name.slice(1)}: {x.state === "" ? x.words : <b>{x.words}</b>}
                </Text>
                <Text color="ink2" textStyle="small" title="stretches and changes that it rests on">
                  {x.seen} ×
                </Text>
              </Flex>
            ))}
          </Disclosed>
        )}
        {told.engagements.length > 0 && (
          <Disclosed title="Taking up from neutral" open={told.engagements.some((e) => e.late || !e.finished)}>
            {told.engagements.map((e) => (
              <Text key={e.at}>
                {e.gear === "reverse" ? "Reverse" : e.name} at {moment(e.at, 0.1)}:{" "}
                <b>{e.finished ? `${number(e.delay.value, 2)} ± ${number(e.delay.u, 2)} s` : "not caught in 4 s"}</b>
                {e.late && ", late"}
              </Text>
            ))}
          </Disclosed>
        )}
        {told.converter && <Converter told={told} />}
        {told.touch && told.shifts.length > 0 && (
          <Disclosed title="Touch point of the clutch" open>
            <Touch touch={told.touch} />
          </Disclosed>
        )}
        {told.limits.length > 0 && (
          <Box textStyle="note" color="ink2" mt="2">
            {told.limits.map((l) => (
              <Text key={l} mb="1">
                {l}
              </Text>
            ))}
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** Where an automated clutch takes hold: against its sheet, and since another drive. */
export function Touch({ touch }: { touch: NonNullable<ShiftsTold["touch"]> }) {
  return (
    <>
      <Text lineHeight="1.1" mb="1">
        <Text as="span" textStyle="display" fontWeight="700">
          {number(touch.point.value, 2)}
        </Text>{" "}
        <Text as="span" color="ink2">
          ± {number(touch.point.u, 2)} mm
        </Text>
      </Text>
      <Text color="ink2">
        Over {touch.ramps} {touch.ramps === 1 ? "ramp" : "ramps"} at {number(touch.ramp, 1)} mm/s.
      </Text>
      {touch.window && (
        <Text>
          {touch.inside ? "Inside" : "Out of"} the sheet's window, {number(touch.window.low, 1)} to {number(touch.window.high, 1)} mm.
        </Text>
      )}
      {touch.since && (
        <Text>
          Moved {number(touch.since.by.value, 2)} ± {number(touch.since.by.u, 2)} mm since the other drive
          {touch.since.wear && (
            <>
              : wear index <b>{number(100 * touch.since.wear.value)}</b> ± {number(100 * touch.since.wear.u)} of 100
            </>
          )}
          .
        </Text>
      )}
      {touch.since?.unlike && <Text>The ramps were not as slow as each other: drive both alike.</Text>}
      {touch.unlike && <Text>Ramps of unlike speed: compare only like ones.</Text>}
      {touch.judderHertz > 0 && (
        <Text>
          It chatters {number(touch.judderHertz, 1)} times a second, {number(touch.judderDepth)} rpm deep.
        </Text>
      )}
    </>
  );
}

/** What is behind the shifts of the whole drive, and where to look. */
function Suspects({ told }: { told: ShiftsTold }) {
  if (!told.said) return null;
  const lead = told.suspects[0];
  return (
    <Box as="section" aria-label="Behind the shifts" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Text as="h2" textStyle="subheading" fontWeight="700">
        All shifts together
      </Text>
      {told.sure && lead ? (
        <>
          <Text mt="1">
            <Text as="span" textStyle="heading" fontWeight="700">
              {lead.words.charAt(0).toUpperCase() + lead.words.slice(1)}
            </Text>{" "}
            <Text as="span" color="ink2">
              {percent(lead.probability)} in 100
            </Text>
          </Text>
          <Text textStyle="note" mt="1">
            {lead.look}
          </Text>
        </>
      ) : (
        <>
          <Text mt="1">{told.said}</Text>
          {lead && lead.blame !== "sound" && <Bars told={told} />}
        </>
      )}
      {told.missing.map((m) => (
        <Text key={m.at} mt="1">
          At {moment(m.at, 0.1)} {m.toName} was commanded and never came.
        </Text>
      ))}
    </Box>
  );
}

function Bars({ told }: { told: ShiftsTold }) {
  return (
    <Box mt="2">
      {told.suspects.slice(0, 4).map((s) => (
        <Flex key={`${s.blame}${s.element}`} align="center" gap="2" py="0.5">
          <Text flex="1" textStyle="note">
            {s.words}
          </Text>
          <Box w="96px" h="8px" bg="line" aria-hidden>
            <Box h="full" bg="slate" style={{ width: `${100 * s.probability}%` }} />
          </Box>
          <Text w="28px" textAlign="right" textStyle="note">
            {percent(s.probability)}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}

function IntoCase({ r, told, asked }: { r: Recording; told: ShiftsTold; asked: ShiftsAsked }) {
  const client = useQueryClient();
  const [temperature, setTemperature] = useState<"hot" | "cold">("hot");
  const note = useMutation({
    mutationFn: async () => {
      const noted = await answer(
        api.POST("/recordings/{id}/shifts", { params: { path: { id: r.id }, query: { ...asked, temperature, by: worker() } } }),
      );
      const picture = await pictureOf(document.querySelector<SVGSVGElement>("svg[data-shift]"));
      if (picture) {
        const form = new FormData();
        form.append("file", picture, "shift.png");
        form.append("caption", `${r.title}: ${told.said}`);
        form.append("stage", "road");
        form.append("by", worker());
        await fetch(`/api/cases/${r.case}/photos`, { method: "POST", body: form });
      }
      return noted;
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ["case", r.case] }),
  });
  const can = !!r.case && told.verdicts.length > 0 && !note.data;
  useSingleKey("enter", () => can && note.mutate());
  return (
    <Box px="4" py="3" borderBottomWidth="1px" borderColor="line">
      {note.error && <Problem error={note.error} />}
      {note.data ? (
        <Text role="status">
          In the case: {note.data.said.length} {note.data.said.length === 1 ? "reading" : "readings"}.{" "}
          <Link to={`/cases/${note.data.case}/road`}>To the road test</Link>
        </Text>
      ) : !r.case ? (
        <Text color="ink2">
          Say under <Link to={`/recordings/${r.id}`}>Traces</Link> of which case this is; then its shifts go there as readings.
        </Text>
      ) : (
        <>
          {told.temperature === "" && told.verdicts.length > 0 && (
            <Flex align="center" gap="2" mb="2">
              <Text>The drive was</Text>
              <Choice
                label="The drive was"
                value={temperature}
                options={[
                  ["hot", "hot"],
                  ["cold", "cold"],
                ]}
                onChange={setTemperature}
              />
            </Flex>
          )}
          <Button variant="solid" disabled={!can || note.isPending} onClick={() => note.mutate()}>
            Put into case <kbd>Enter</kbd>
          </Button>
          {told.verdicts.length === 0 ? (
            <Text textStyle="note" color="ink2" mt="1">
              Too few shifts of a kind for a reading.
            </Text>
          ) : (
            <Disclosed title={`${told.verdicts.length} ${told.verdicts.length === 1 ? "reading" : "readings"}`}>
              {told.verdicts.map((v) => (
                <Text key={v.finding} textStyle="note" borderTopWidth="1px" borderColor="line" py="1">
                  {v.title}
                  <Text as="span" color="ink2">
                    {" "}
                    {v.value}
                  </Text>
                </Text>
              ))}
            </Disclosed>
          )}
        </>
      )}
    </Box>
  );
}

/** What the converter clutch did: when it came on, how far it slips at what throttle, whether it shudders. */
function Converter({ told }: { told: ShiftsTold }) {
  const c = told.converter;
  if (!c) return null;
  return (
    <Disclosed title="Converter clutch">
      {c.shudders.length === 0 && <Text fontWeight="600">{c.said}</Text>}
      {c.shudders.length > 0 && (
        <Table
          label="Shudder"
          head={["From", ">Hz", ">Depth, rpm", ">Throttle"]}
          rows={c.shudders.map((s) => [
            `${moment(s.from, 0.1)} to ${moment(s.to, 0.1)}, ${s.gear}`,
            number(s.hertz, 1),
            `${number(s.depth)}${s.atLeast ? " +" : ""}`,
            `${percent(s.throttle)} %`,
          ])}
          note="+ : the speeds were counted over a time that is not known, so it was at least as deep."
        />
      )}
      {c.slips.length > 0 && (
        <Table
          label="Slip of the converter clutch once on"
          head={["Throttle", ">°C", ">Slip, rpm", ">For, s"]}
          rows={c.slips.map((x) => [
            `${percent(x.throttle)} %`,
            number(x.fluid),
            `${number(x.slip.value)} ± ${number(Math.max(1, x.slip.u))}`,
            number(x.seconds),
          ])}
        />
      )}
      {c.applies.length > 0 && (
        <Table
          label="When it came on"
          head={["At", "Gear", ">Came on in, s", ">Stayed, s", ">Let go in, s"]}
          rows={c.applies.map((a) => [
            moment(a.at, 0.1),
            a.gear,
            a.took ? number(a.took, 1) : "–",
            number(a.seconds, 1),
            a.letGo ? number(a.letGo, 1) : "–",
          ])}
        />
      )}
    </Disclosed>
  );
}
