import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useHotkeys } from "react-hotkeys-hook";
import { singleKeys } from "../shared/useSingleKey";

const groups: { place: string; keys: [string, string][] }[] = [
  {
    place: "Everywhere",
    keys: [
      ["?", "these keys"],
      ["/, Ctrl K", "find anything"],
      ["g f", "Floor"],
      ["g w", "Week"],
      ["g u", "Units"],
      ["g i", "Instruments"],
      ["g r", "Recordings"],
      ["g k", "Knowledge"],
      ["g s", "Settings"],
    ],
  },
  {
    place: "Floor",
    keys: [
      ["n", "take in a vehicle"],
      ["↑ ↓", "move"],
      ["Enter", "open"],
    ],
  },
  {
    place: "Case",
    keys: [
      ["1 … 6", "stage, but not while the customer is asked"],
      ["h", "start the heading"],
      ["z", "undo the last reading"],
      ["w", "checks: what if the likeliest result came out"],
    ],
  },
  {
    place: "Week",
    keys: [
      ["◂ ▸", "the job in hand half a day earlier, later"],
      ["▴ ▾", "to another bay"],
      ["x", "let it find its own place"],
      ["Enter", "open the job"],
      ["t", "as a table"],
    ],
  },
  {
    place: "Complaint",
    keys: [
      ["a", "take all that is understood"],
      ["y, x", "take or strike the phrase in hand"],
      ["1 … 9", "answer"],
      ["0", "leave out"],
      ["n", "enough asked: the next check"],
      ["e", "change the words"],
    ],
  },
  {
    place: "Recording",
    keys: [
      ["◂ ▸", "earlier, later"],
      ["Shift ◂ ▸", "cursor"],
      ["+ − 0", "closer, farther, all"],
      ["m", "mark the moment"],
      ["t", "as a table"],
      ["s", "what turns: the axis of speeds"],
    ],
  },
  {
    place: "Road test",
    keys: [
      ["arrows", "move"],
      ["Space", "normal"],
      ["letters", "as named above the grid"],
      ["Delete", "take back"],
      ["0, ◂", "cell by cell: leave out, back"],
    ],
  },
];

export function KeysPanel({ close }: { close: () => void }) {
  useHotkeys("escape", close);
  return (
    <Box
      role="region"
      aria-label="Keys"
      position="fixed"
      bottom="0"
      insetX="0"
      bg="panel"
      borderTopWidth="2px"
      borderColor="brass"
      px="6"
      py="4"
      zIndex="10"
    >
      <Flex justify="space-between" align="start" wrap="wrap" gap="6">
        {groups.map((g) => (
          <Box key={g.place} minW="180px">
            <Text fontWeight="700" mb="1">
              {g.place}
            </Text>
            {g.keys.map(([key, what]) => (
              <Flex key={key} gap="3" py="0.5">
                <Box minW="70px">
                  <kbd>{key}</kbd>
                </Box>
                <Text>{what}</Text>
              </Flex>
            ))}
          </Box>
        ))}
        {!singleKeys() && <Text color="ink2">Single keys are turned off at this device, in Settings: n, h, z and 1 to 6 do nothing.</Text>}
        <Button onClick={close} autoFocus>
          Close
        </Button>
      </Flex>
    </Box>
  );
}
