import { Box, Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { accessNames } from "../format";
import type { StackPart } from "./layout";

const ways: Record<string, string> = { front: "to the front", rear: "to the rear", up: "upward", down: "downward", aside: "to the side" };
const withs: Record<string, string> = {
  dry: "threads dry",
  oil: "threads oiled",
  "anti-seize": "anti-seize",
  locker: "thread locker",
  sealant: "thread sealant",
};
const patterns: Record<string, string> = {
  star: "in a star",
  crosswise: "crosswise",
  "middle-out": "from the middle out",
  round: "one after the other",
};

export const boltsWords = (b: StackPart["bolts"][number]) =>
  `${b.count} × ${b.thread} × ${b.length}, ${b.torque.join(" then ")}${b.turn ? ` and ${b.turn}` : ""}, ${b.count > 1 ? `${patterns[b.pattern]}, ` : ""}${withs[b.with]}${b.once ? ", new ones" : ""}${b.where ? `; ${b.where}` : ""}`;

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Flex gap="3" py="1" borderTopWidth="1px" borderColor="line">
      <Text w="110px" flexShrink={0} color="ink2" textStyle="small">
        {name}
      </Text>
      <Box minW="0">{children}</Box>
    </Flex>
  );
}

/** Everything that the sheet says of one part: what can hurt first, then marks, then the rest. */
export function PartFacts({ part, of, nameOf }: { part: StackPart; of: "out" | "in" | "all"; nameOf: (id: string) => string }) {
  const rules = part.rules.filter((r) => of === "all" || !(of === "out" ? r.startsWith("Back: ") : r.startsWith("Out: ")));
  return (
    <Box>
      {part.heed && (
        <Text borderLeftWidth="4px" borderColor="fault" bg="faultSoft" px="3" py="1.5" mb="1">
          ⚠ {part.heed}
        </Text>
      )}
      {part.mark && of !== "in" && <Fact name="Mark first">{part.mark}</Fact>}
      <Fact name="Leaves">
        {part.sitsIn ? `${nameOf(part.sitsIn)}, ` : "the unit, "}
        {ways[part.out] ?? "last"} · {accessNames[part.access] ?? part.access}
      </Fact>
      {part.turns && <Fact name="Turns with">{part.turns}</Fact>}
      {part.way && <Fact name="Way round">{part.way}</Fact>}
      {part.limits.map((l) => (
        <Fact key={l.id} name="Limit">
          {l.name}: {l.window}
        </Fact>
      ))}
      {part.fit && <Fact name="Select from">{part.fit.sizes.join(", ")}</Fact>}
      {part.bolts.map((b, i) => (
        <Fact key={i} name={i ? "" : "Bolts"}>
          {boltsWords(b)}
        </Fact>
      ))}
      {part.joint && <Fact name="Joint">{part.joint}</Fact>}
      {part.lube && <Fact name="Lube">{part.lube}</Fact>}
      {part.tool && (
        <Fact name="Tool">
          {part.tool}
          {part.instead && <Text color="ink2">or {part.instead}</Text>}
        </Fact>
      )}
      {part.once && <Fact name="Once only">renewed every time</Fact>}
      {part.better.map((b) => (
        <Fact key={b.id} name="Upgrade">
          {b.name}: {b.says}
          {b.does.length > 0 && <Text color="ink2">{b.does.join("; ")}</Text>}
        </Fact>
      ))}
      {part.together.map((t) => (
        <Fact key={t} name="Goes with it">
          {t}
        </Fact>
      ))}
      {rules.map((r) => (
        <Fact key={r} name="Trade rule">
          {of === "all" ? r : r.replace(/^(Out|Back): /, "")}
        </Fact>
      ))}
    </Box>
  );
}
