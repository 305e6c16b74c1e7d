import { Button, Flex } from "@chakra-ui/react";
import { Choice } from "../Choice";

export type Drawn = "exploded" | "built";

/** How a unit is drawn, and how large: zoom is a step of so many. */
export function DrawingTools({
  how,
  setHow,
  zoom,
  setZoom,
  steps,
}: {
  how: Drawn;
  setHow: (h: Drawn) => void;
  zoom: number;
  setZoom: (z: number) => void;
  steps: number;
}) {
  return (
    <>
      <Choice
        label="How the unit is drawn"
        value={how}
        options={[
          ["exploded", "Exploded"],
          ["built", "As built"],
        ]}
        onChange={setHow}
      />
      <Flex gap="1" role="group" aria-label="Size of the drawing">
        <Button aria-label="Smaller" disabled={zoom === 0} onClick={() => setZoom(zoom - 1)}>
          −
        </Button>
        <Button aria-label="Larger" disabled={zoom === steps - 1} onClick={() => setZoom(zoom + 1)}>
          +
        </Button>
      </Flex>
    </>
  );
}
