import { Box, Flex, Text } from "@chakra-ui/react";
import { Disclosed } from "../../shared/Disclosed";
import { Assumed } from "./Assumed";
import { TeethFound } from "./TeethFound";
import type { Sheet, View } from "./sheet";

const depthWords: Record<string, string> = {
  chart: "known by its chart",
  gears: "known by its gears",
  full: "known by its gears, with capacities and places",
};

/** What the unit comes to so far: teeth, what is still assumed, what can be diagnosed with it. */
export function Rail({
  view,
  sheet,
  change,
  choose,
  take,
  fill,
}: {
  view: View;
  sheet: Sheet;
  change: (f: (s: Sheet) => Sheet) => void;
  choose: (fit: number) => void;
  take: (path: string) => Promise<void>;
  fill: () => void;
}) {
  const flaws = view.flaws.filter((f) => !f.doubt);
  const doubts = view.flaws.filter((f) => f.doubt);
  return (
    <Flex direction="column" gap="5" minW="0">
      {view.teeth && <TeethFound teeth={view.teeth} choose={choose} />}
      {flaws.length > 0 && (
        <Box as="section" aria-label="Not right yet">
          <Text as="h2" fontWeight="700">
            Not right yet
          </Text>
          {flaws.map((f, i) => (
            <Box key={i} py="1.5" borderTopWidth={i ? "1px" : 0} borderColor="line">
              <Text color="fault" fontWeight="600">
                ✕ {f.reason}
              </Text>
              {f.accepted && <Text textStyle="small">{f.accepted}</Text>}
              {!f.range && !f.element && /[[.]/.test(f.path) && (
                <Text color="ink2" textStyle="small">
                  In the sheet: {f.path}
                </Text>
              )}
            </Box>
          ))}
        </Box>
      )}
      {view.ready && (
        <Box as="section" aria-label="It can diagnose">
          <Text as="h2" fontWeight="700">
            It can diagnose
          </Text>
          <Text>
            <b>{view.faults}</b> failures predicted in every range. One drive tells <b>{view.apart}</b> apart.
          </Text>
          <Text color="ink2" textStyle="small">
            {depthWords[view.depth] ?? view.depth}
          </Text>
          {view.cannot.length > 0 && (
            <Disclosed title={`What it cannot say: ${view.cannot.length}`}>
              <Box as="ul" pl="5" listStyleType="disc">
                {view.cannot.map((c) => (
                  <li key={c}>{c}</li>
                ))}
              </Box>
            </Disclosed>
          )}
        </Box>
      )}
      {doubts.map((f, i) => (
        <Text key={i} textStyle="small">
          <b>Look again:</b> {f.reason}; {f.accepted}
        </Text>
      ))}
      <Assumed view={view} sheet={sheet} change={change} take={take} fill={fill} />
    </Flex>
  );
}
