import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { LookSwatch } from "./LookSwatch";
import type { Input } from "./typed";

const Card = chakra("button", {
  base: {
    display: "flex",
    alignItems: "center",
    gap: "8px",
    minH: "60px",
    px: "6px",
    textAlign: "left",
    fontSize: "13.5px",
    lineHeight: "1.2",
    bg: "panel",
    borderWidth: "1px",
    borderColor: "slate",
    borderRadius: "4px",
    "&[aria-pressed=true]": { borderColor: "brass", bg: "brassSoft", fontWeight: "700", boxShadow: "inset 0 0 0 1px {colors.brass}" },
  },
});

/** One thing to grade, beside a drawing of each grade; pressed again, it was not looked at. The first option is that. */
export function Grades({ input, value, set }: { input: Input; value: string; set: (grade: string) => void }) {
  const [none, ...grades] = input.options;
  const mark = input.of;
  return (
    <Box role="group" aria-label={input.label} py="1.5">
      <Text textStyle="label" fontWeight="600" mb="1">
        {input.label}
      </Text>
      <Flex gap="1.5" wrap="wrap">
        {grades.map((g) => (
          <Card
            key={g.id}
            type="button"
            flex={grades.length === 4 ? "1 1 44%" : "1 1 104px"}
            aria-pressed={value === g.id}
            onClick={() => set(value === g.id ? (none?.id ?? "") : g.id)}
          >
            <LookSwatch mark={mark} grade={Number(g.id)} />
            {g.title}
          </Card>
        ))}
      </Flex>
    </Box>
  );
}
