import { Box, Text, VisuallyHidden } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { movesQuery } from "../../api/queries";
import { percent } from "../../shared/format";
import { drawMoves, movesFigure as f } from "./movesLayout";
import { useCase } from "./useCase";

const colour = (name: string) => `var(--chakra-colors-${name})`;

/** How the words and each answer moved the suspects: a line for each, its name where it stands now. */
export function MovesFigure() {
  const { shown } = useCase();
  const { data } = useQuery(movesQuery(shown.id, shown.rev));
  if (!data || data.columns.length < 2 || data.rows.length === 0) return null;
  const { xs, lines } = drawMoves(data);
  const last = data.columns.length - 1;
  return (
    <Box as="section" aria-label="How the answers moved the suspects" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      <Text textStyle="small" color="ink2" fontWeight="600">
        How the answers moved them
      </Text>
      <Box position="relative" aria-hidden>
        <svg viewBox={`0 0 ${f.width} ${f.height}`} width="100%" style={{ display: "block" }}>
          {xs.map((x, i) => (
            <g key={i}>
              <line x1={x} x2={x} y1={f.top} y2={f.bottom} stroke={colour("line")} strokeWidth={i === last ? 2 : 1} />
              <text
                x={x}
                y={f.height - 1}
                textAnchor={i === 0 ? "start" : "middle"}
                fill={colour("ink2")}
                style={{ fontSize: 12, fontWeight: i === last ? 700 : 400 }}
              >
                {data.columns[i]}
              </text>
            </g>
          ))}
          {[...lines].reverse().map(({ row, points, name }) => {
            const lead = row === data.rows[0];
            const end = points[last]!;
            return (
              <g key={row.id}>
                <polyline
                  points={points.map((p) => p.join(",")).join(" ")}
                  fill="none"
                  stroke={colour(lead ? "brass" : "slate")}
                  strokeWidth={lead ? 3 : 1.8}
                />
                <line x1={end[0]} y1={end[1]} x2={f.right + 12} y2={name} stroke={colour("slate")} strokeWidth="0.8" />
                <circle cx={end[0]} cy={end[1]} r={lead ? 4 : 3} fill={colour(lead ? "brass" : "slate")} />
              </g>
            );
          })}
        </svg>
        {lines.map(({ row, name }) => (
          <Box
            key={row.id}
            position="absolute"
            left={`${((f.right + 15) / f.width) * 100}%`}
            top={`${(name / f.height) * 100}%`}
            transform="translateY(-50%)"
            right="0"
            textStyle="fine"
            lineHeight="1.15"
            fontWeight={row === data.rows[0] ? "700" : "400"}
          >
            <Text lineClamp="2">
              <b>{percent(row.shares[last] ?? 0)}</b> {row.title}
            </Text>
          </Box>
        ))}
      </Box>
      <VisuallyHidden>
        <table>
          <caption>Percent after the words and after each answer</caption>
          <tbody>
            {data.rows.map((r) => (
              <tr key={r.id}>
                <th scope="row">{r.title}</th>
                {r.shares.map((s, i) => (
                  <td key={i}>{percent(s)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </VisuallyHidden>
    </Box>
  );
}
