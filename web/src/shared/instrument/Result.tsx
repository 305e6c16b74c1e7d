import { Box, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { knowledgePath } from "../format";
import { WindowLine } from "./WindowLine";

const verdicts: Record<string, string> = {
  conforms: "inside",
  below: "▼ below",
  above: "▲ above",
  "cannot-tell": "cannot be told with this gauge",
};

/** What the numbers mean, the number itself, the others, and what it would pay to measure better. */
export function Result({ result }: { result: Schemas["Result"] }) {
  const [main, ...others] = result.outputs;
  return (
    <Box>
      {main && (
        <Flex align="baseline" gap="3" wrap="wrap">
          <Text textStyle="display" fontWeight="700" lineHeight="1.15">
            {main.text}
          </Text>
          <Text color="ink2">{main.label}</Text>
          {main.others.length > 0 && <Text color="ink2">= {main.others.join(" = ")}</Text>}
        </Flex>
      )}
      <Text textStyle="lead" fontWeight="600" mt="1">
        {result.headline}
      </Text>
      {result.detail && <Text mt="1">{result.detail}</Text>}
      {result.causes && result.causes.length > 0 && (
        <Text mt="1" textStyle="note">
          Could come from{" "}
          {result.causes.map((c, i) => (
            <span key={c.id}>
              {i > 0 && ", "}
              <Link to={knowledgePath(c.unit, "cause", c.id)}>
                <u>{c.title}</u>
              </Link>
            </span>
          ))}
          .
        </Text>
      )}
      {main?.verdict && <WindowLine output={main} />}
      {main?.verdict && (
        <Text color={main.verdict === "below" || main.verdict === "above" ? "fault" : "ink2"}>
          Window {main.window}: {verdicts[main.verdict] ?? main.verdict}
        </Text>
      )}
      {others.length > 0 && (
        <Box as="dl" mt="3" borderBottomWidth="1px" borderColor="line">
          {others.map((o) => (
            <Flex key={o.id} justify="space-between" gap="4" borderTopWidth="1px" borderColor="line" py="1.5">
              <Text as="dt" color="ink2">
                {o.label}
              </Text>
              <Text as="dd" fontWeight="600" textAlign="right">
                {o.text}
              </Text>
            </Flex>
          ))}
        </Box>
      )}
      {result.matters.length > 0 && (
        <Text textStyle="note" mt="2">
          <b>What matters most:</b> {result.matters.map((m) => `${m.label.toLowerCase()} ${Math.round(100 * m.share)} %`).join(", ")}
          {result.outputs.some((o) => o.sampled) && "; uncertainty from samples"}.
        </Text>
      )}
      {result.unstable && (
        <Text textStyle="note" color="fault" mt="1">
          Within the uncertainty some of these values cannot go together. Measure again before you rely on it.
        </Text>
      )}
    </Box>
  );
}
