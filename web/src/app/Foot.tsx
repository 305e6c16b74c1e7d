import { Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { healthQuery } from "../api/queries";

/** At the foot of every page: which version this is, with which knowledge, and what somebody should look at. */
export function Foot() {
  const { data } = useQuery(healthQuery);
  if (!data?.version) return null;
  const failing = data.parts?.filter((p) => p.status === "failing") ?? [];
  return (
    <Flex as="footer" gap="4" wrap="wrap" px={{ base: "3", md: "5" }} py="2" color="ink2" textStyle="fine" data-noprint>
      <Text>
        Inner Compass {data.version} · knowledge {data.knowledge}
      </Text>
      {failing.map((p) => (
        <Text key={p.name} color="fault" fontWeight="700">
          ▲ {p.name}: {p.says}
        </Text>
      ))}
    </Flex>
  );
}
