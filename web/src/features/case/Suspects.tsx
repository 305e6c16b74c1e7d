import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
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

function Row({ suspect, first, open, toggle }: { suspect: Suspect; first: boolean; open: boolean; toggle: () => void }) {
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
        <Box px="4" pb="3" fontSize="13px">
          <Text>{suspect.chain.join(" → ")}</Text>
          <Readings title="speaks for it, dB" items={suspect.for} />
          <Readings title="speaks against it, dB" items={suspect.against} />
          <Text color="ink2" mt="1">
            Prior: {suspect.reason}.
          </Text>
        </Box>
      )}
    </Box>
  );
}

export function Suspects() {
  const { shown } = useCase();
  const [open, setOpen] = useState("");
  return (
    <Box borderTopWidth="1px" borderColor="line" pb="4">
      <Flex px="4" pt="3" pb="1" justify="space-between" fontSize="13.5px" fontWeight="600" color="ink2">
        <Text as="h2">Suspects</Text>
        <Text>change</Text>
      </Flex>
      {shown.suspects.map((s, i) => (
        <Row key={s.id} suspect={s} first={i === 0} open={open === s.id} toggle={() => setOpen(open === s.id ? "" : s.id)} />
      ))}
      <Flex px="4" py="2" justify="space-between" borderTopWidth="1px" borderColor="line">
        <Text color="ink2">all others together</Text>
        <Text>{percent(shown.restShare)} %</Text>
      </Flex>
      <Text px="4" fontSize="12.5px" color="ink2">
        {shown.surprise.limits}
      </Text>
    </Box>
  );
}
