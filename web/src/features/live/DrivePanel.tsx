import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { memo } from "react";
import { answer, api } from "../../api/client";
import { Chip } from "../../shared/Chip";
import { number } from "../../shared/format";
import { Problem } from "../../shared/states";
import { useSingleKey } from "../../shared/useSingleKey";
import type { LiveState } from "./useLive";

const Slider = chakra("input", { base: { w: "full", minH: "44px", accentColor: "{colors.brass}" } });

/** One thing that a foot or the road does: a slider, with − and + for a tablet. */
function Foot({
  label,
  value,
  most,
  least = 0,
  step,
  word,
  set,
}: {
  label: string;
  value: number;
  most: number;
  least?: number;
  step: number;
  word: string;
  set: (v: number) => void;
}) {
  const to = (v: number) => set(Math.max(least, Math.min(most, Math.round(v / step) * step)));
  return (
    <Box>
      <Flex justify="space-between">
        <Text textStyle="label" fontWeight="600">
          {label}
        </Text>
        <Text textStyle="label">{word}</Text>
      </Flex>
      <Grid templateColumns="44px 1fr 44px" gap="1" alignItems="center">
        <Button px="0" aria-label={`Less ${label.toLowerCase()}`} onClick={() => to(value - step)}>
          −
        </Button>
        <Slider
          type="range"
          aria-label={label}
          min={least}
          max={most}
          step={step}
          value={value}
          onChange={(e) => to(Number(e.target.value))}
        />
        <Button px="0" aria-label={`More ${label.toLowerCase()}`} onClick={() => to(value + step)}>
          +
        </Button>
      </Grid>
    </Box>
  );
}

/** Driving the vehicle that stands in: selector, throttle, brake, road. */
export const DrivePanel = memo(function DrivePanel({ s, take }: { s: LiveState; take: (s: LiveState) => void }) {
  const drive = useMutation({
    mutationFn: (to: Partial<LiveState["input"]>) => answer(api.PUT("/live/drive", { body: to })),
    onSuccess: take,
  });
  const { selector, throttle, brake, grade } = s.input;
  useSingleKey("up", () => drive.mutate({ throttle: Math.min(1, throttle + 0.02) }), { preventDefault: true });
  useSingleKey("down", () => drive.mutate({ throttle: Math.max(0, throttle - 0.02) }), { preventDefault: true });
  useSingleKey("space", () => drive.mutate(brake > 0 ? { brake: 0 } : { brake: 0.5, throttle: 0 }), { preventDefault: true });
  return (
    <Box as="section" aria-label="Driving" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Flex justify="space-between" align="baseline">
        <Text as="h2" textStyle="subheading" fontWeight="700">
          Drive it
        </Text>
        <Text color="ink2" textStyle="small">
          {s.range}
        </Text>
      </Flex>
      <Flex gap="1" wrap="wrap" role="radiogroup" aria-label="Selector" my="2">
        {s.selectors.map((x) => (
          <Chip key={x} type="button" role="radio" aria-checked={x === selector} onClick={() => drive.mutate({ selector: x })}>
            {x}
          </Chip>
        ))}
      </Flex>
      <Foot
        label="Throttle"
        value={throttle}
        most={1}
        step={0.02}
        word={`${number(100 * throttle)} %`}
        set={(v) => drive.mutate({ throttle: v })}
      />
      <Foot
        label="Brake"
        value={brake}
        most={1}
        step={0.05}
        word={brake === 0 ? "off" : `${number(100 * brake)} %`}
        set={(v) => drive.mutate({ brake: v })}
      />
      <Foot
        label="Road"
        value={grade}
        least={-0.2}
        most={0.2}
        step={0.02}
        word={grade === 0 ? "level" : `${grade > 0 ? "up" : "down"} ${number(100 * Math.abs(grade))} %`}
        set={(v) => drive.mutate({ grade: v })}
      />
      <Text textStyle="fine" color="ink2" mt="1">
        <kbd>▴</kbd> <kbd>▾</kbd> throttle · <kbd>space</kbd> brake
      </Text>
      {drive.error && <Problem error={drive.error} />}
    </Box>
  );
});
