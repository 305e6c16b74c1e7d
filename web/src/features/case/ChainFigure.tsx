import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { kindNames, knowledgePath, percent } from "../../shared/format";
import { chainLayout } from "./chainLayout";

const strokes: Record<string, number> = { always: 4, usually: 3, often: 2.2, sometimes: 1.5, rarely: 1 };

/** How the root brings about what was read, drawn from left to right; the sentences beside it say the same. */
export function ChainFigure({ unit, chain }: { unit: string; chain: Schemas["Explanation"] }) {
  const { placed, box, width, height } = chainLayout(chain.nodes, chain.links);
  return (
    <Box overflowX="auto" py="2" role="group" aria-label="Chain from the root to the readings" tabIndex={0}>
      <Box position="relative" style={{ width, height }}>
        <svg width={width} height={height} aria-hidden style={{ position: "absolute", inset: 0 }}>
          {chain.links.map((l) => {
            const from = placed[l.from];
            const to = placed[l.to];
            if (!from || !to) return null;
            const x1 = from.x + box.width;
            const y1 = from.y + box.height / 2;
            const x2 = to.x;
            const y2 = to.y + box.height / 2;
            const bend = Math.max(18, (x2 - x1) / 2);
            return (
              <path
                key={`${l.from}-${l.to}`}
                d={`M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`}
                fill="none"
                stroke="var(--chakra-colors-slate)"
                strokeWidth={strokes[l.strength] ?? 2}
                strokeDasharray={l.strength === "rarely" || l.strength === "sometimes" ? "5 4" : undefined}
              />
            );
          })}
        </svg>
        {placed.map(({ node, x, y }) => (
          <Link
            key={node.id}
            to={knowledgePath(unit, node.kind, node.id)}
            style={{ position: "absolute", left: x, top: y, width: box.width, height: box.height }}
          >
            <Box
              h="full"
              bg={node.kind === "cause" ? "brassSoft" : "panel"}
              borderWidth={node.kind === "cause" ? "2px" : "1px"}
              borderStyle={node.kind === "fault" ? "dashed" : "solid"}
              borderColor={node.kind === "cause" ? "brass" : "slate"}
              borderRadius={node.kind === "finding" ? "14px" : "3px"}
              px="2"
              py="1"
              overflow="hidden"
              textStyle="fine"
              lineHeight="1.22"
              title={`${node.title}${node.state ? `: ${node.state}` : ""}`}
            >
              <Text textStyle="tiny" color="ink2">
                {node.kind === "finding" ? "read" : node.kind === "fault" ? "fault" : kindNames[node.kind]}
                {node.probability < 0.995 && `, ${percent(node.probability)} %`}
              </Text>
              <Text lineClamp={node.state ? 3 : 4}>{node.title}</Text>
              {node.state && (
                <Text fontWeight="700" lineClamp={2}>
                  {node.state}
                </Text>
              )}
            </Box>
          </Link>
        ))}
      </Box>
    </Box>
  );
}
