import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { percent, signed } from "../../shared/format";
import { useCase } from "./useCase";

type Suspect = Schemas["Suspect"];

function Readings({ title, items }: { title: string; items: Schemas["WeightedReading"][] }) {
  if (items.length === 0) return null;
  return (
    <Box mt="1">
      <Text color="ink2">{title}</Text>
      {items.map((r) => (
        <Flex key={r.title} justify="space-between" gap="3">
          <Text>{r.title}</Text>
          <Text>{signed(r.weight)}</Text>
        </Flex>
      ))}
    </Box>
  );
}

function Row({
  suspect,
  first,
  open,
  toggle,
  why,
}: {
  suspect: Suspect;
  first: boolean;
  open: boolean;
  toggle: () => void;
  why: () => void;
}) {
  const change = Math.round(suspect.change * 100);
  return (
    <Box borderTopWidth={first ? "0" : "1px"} borderColor="line" data-first={first ? "" : undefined}>
      <button type="button" className="row-button" aria-expanded={open} onClick={toggle}>
        <span className="suspect">
          <span className="suspect-head">
            <span className="suspect-title">{suspect.title}</span>
            <span className="suspect-share">
              {percent(suspect.probability)} <small>%</small>
            </span>
          </span>
          <span className="suspect-reach">
            <span className="suspect-line" aria-hidden>
              <span className="suspect-bar" style={{ width: `${suspect.probability * 100}%` }} />
            </span>
            <span className="suspect-change">{change === 0 ? "" : signed(change, 0)}</span>
          </span>
        </span>
      </button>
      {open && (
        <Box px="4" pb="3" textStyle="small">
          <Readings title="points to it" items={suspect.for} />
          <Readings title="points away from it" items={suspect.against} />
          <Text color="ink2" mt="1">
            Before any reading: {suspect.reason}.
          </Text>
          <Button mt="1" onClick={why}>
            Chain and reasons
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** How sure the ranking is of itself, and what else it implies. */
function Sure({ suspicion }: { suspicion: Schemas["Suspicion"] }) {
  return (
    <Box px="4" py="2" borderTopWidth="1px" borderColor="line" textStyle="small">
      {suspicion.damages.length > 0 && (
        <Box mb="2">
          <Text color="ink2">Damage to be found with it</Text>
          {suspicion.damages.map((d) => (
            <Flex key={d.id} justify="space-between" gap="3">
              <Text>{d.title}</Text>
              <Text whiteSpace="nowrap">{percent(d.probability)} %</Text>
            </Flex>
          ))}
        </Box>
      )}
      <Flex justify="space-between" gap="3">
        <Text color="ink2">More than one cause at once</Text>
        <Text whiteSpace="nowrap">{percent(suspicion.several)} %</Text>
      </Flex>
      {suspicion.other > 0 && (
        <Flex justify="space-between" gap="3">
          <Text color="ink2">Something that is not in the list</Text>
          <Text whiteSpace="nowrap">{percent(suspicion.other)} %</Text>
        </Flex>
      )}
      <Text color="ink2" mt="1">
        {suspicion.exact
          ? `Exact over ${suspicion.causes} causes in every combination. The next step leaves out at most ${percent(suspicion.leftOut)} %, proved.`
          : `About: from the likeliest sets of ${suspicion.causes} causes. The exact answer is being computed.`}
      </Text>
    </Box>
  );
}

export function Suspects() {
  const { shown } = useCase();
  const [open, setOpen] = useState("");
  const [, setParams] = useSearchParams();
  return (
    <Box borderTopWidth="1px" borderColor="line" pb="4">
      <Flex px="4" pt="3" pb="1" justify="space-between" textStyle="note" fontWeight="600" color="ink2">
        <Text as="h2">Suspects</Text>
        <Text>change</Text>
      </Flex>
      {shown.suspects.map((s, i) => (
        <Row
          key={s.id}
          suspect={s}
          first={i === 0}
          open={open === s.id}
          toggle={() => setOpen(open === s.id ? "" : s.id)}
          why={() => setParams({ why: s.id })}
        />
      ))}
      <Sure suspicion={shown.suspicion} />
      <Text px="4" textStyle="fine" color="ink2">
        {shown.surprise.limits}
      </Text>
    </Box>
  );
}
