import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { Disclosed } from "../../shared/Disclosed";

type Teeth = Schemas["Teeth"];

function Counts({ sets, large }: { sets: Schemas["FitSet"][]; large?: boolean }) {
  return (
    <Box>
      {sets.map((s) => (
        <Box key={s.name} mt="1">
          <Text color="ink2" textStyle="small">
            {s.name}
          </Text>
          <Flex gap="4" wrap="wrap">
            {s.teeth.map((t) => (
              <Box key={t.part}>
                <Text textStyle={large ? "title" : "lead"} fontWeight="700" lineHeight="1.15">
                  {t.teeth}
                </Text>
                <Text color="ink2" textStyle="tiny">
                  {t.part}
                </Text>
              </Box>
            ))}
          </Flex>
        </Box>
      ))}
    </Box>
  );
}

/** The teeth that the printed ratios ask for, the proof when there are none, and what may be misprinted. */
export function TeethFound({ teeth, choose }: { teeth: Teeth; choose: (fit: number) => void }) {
  const fit = teeth.fits[teeth.chosen];
  if (!fit)
    return (
      <Box as="section" aria-label="Teeth">
        <Text as="h2" fontWeight="700" color="fault">
          ✕ No teeth give these ratios
        </Text>
        <Text color="ink2" textStyle="small">
          Searched: {teeth.bounds}.
        </Text>
        {teeth.suspects.length > 0 && (
          <Box mt="2">
            <Text fontWeight="600">{teeth.suspects.length === 1 ? "This one may be misprinted" : "One of these may be misprinted"}</Text>
            {teeth.suspects.map((s) => (
              <Text key={s.range}>
                <b>{s.range}</b>: {s.words}
              </Text>
            ))}
          </Box>
        )}
        {teeth.suspects.length === 0 && (
          <Text mt="2">No single ratio explains it. Two versions of the unit may share a name: ask for the gear set.</Text>
        )}
        {teeth.suspects.length !== 1 && teeth.nearest.length > 0 && (
          <Box mt="2">
            <Text fontWeight="600">Nearest</Text>
            <Counts sets={teeth.nearest} />
            {teeth.misses.map((m) => (
              <Text key={m.range} textStyle="small">
                {m.range}: {m.words}
              </Text>
            ))}
          </Box>
        )}
      </Box>
    );
  return (
    <Box as="section" aria-label="Teeth">
      <Text as="h2" fontWeight="700">
        Teeth found
      </Text>
      <Counts sets={fit.sets} large={fit.sets.length < 3} />
      {fit.final > 0 && <Text mt="1">Final drive {fit.final.toFixed(3)}</Text>}
      <Text mt="2" textStyle="small">
        {teeth.words.charAt(0).toUpperCase() + teeth.words.slice(1)}. {teeth.differs}
      </Text>
      {teeth.cut && <Text textStyle="small">They fit when the printed ratios are cut, not rounded.</Text>}
      {teeth.enough && <Text textStyle="small">{teeth.enough}</Text>}
      {fit.loose.length > 0 && <Text textStyle="small">No ratio says how large the {fit.loose.join(", ")} is: usual teeth are taken.</Text>}
      {teeth.fits.length > 1 && (
        <Disclosed title={`Other teeth that fit: ${teeth.fits.length - 1} shown`}>
          {teeth.fits.map((f, i) => (
            <Button key={i} variant="ghost" w="full" justifyContent="start" aria-pressed={i === teeth.chosen} onClick={() => choose(i)}>
              {i === teeth.chosen ? "● " : "○ "}
              {f.words}
            </Button>
          ))}
        </Disclosed>
      )}
    </Box>
  );
}
