import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { number } from "../format";
import { Table } from "../Table";

type Body = Schemas["StackBody"];
type Bore = Schemas["StackBore"];

const ink = "var(--chakra-colors-ink)";
const k = 3.4; // px for a mm

const dir: Record<string, [number, number]> = { rear: [1, 0], front: [-1, 0], up: [0, -1], down: [0, 1] };

/** Pieces of a bore, from its mouth inward, each to scale. */
function Train({ bore, on, y }: { bore: Bore; on: boolean; y: (mm: number) => number }) {
  const [dx, dy] = dir[bore.way] ?? [1, 0];
  const [mx = 0, my = 0] = bore.at;
  const d = bore.bore * k * 0.62;
  const starts = bore.train.map((_, i) => bore.train.slice(0, i).reduce((t, p) => t + p.length, 0));
  const total = bore.train.reduce((t, p) => t + p.length, 0);
  const flat = dx !== 0;
  const rect = (from: number, length: number, thick: number) => {
    const a = (dx || dy) > 0 ? from : -(from + length);
    return flat
      ? { x: mx * k + a * k, y: y(my) - thick / 2, width: length * k, height: thick }
      : { x: mx * k - thick / 2, y: y(my) + a * k, width: thick, height: length * k };
  };
  return (
    <g>
      <rect
        {...rect(0, total + 2, d + 4)}
        fill="var(--chakra-colors-page)"
        stroke={on ? "var(--chakra-colors-brass)" : "var(--chakra-colors-ink2)"}
        strokeWidth={on ? 2.5 : 1}
      />
      {bore.train.map((p, i) => {
        const from = starts[i]!;
        const r = rect(from, p.length, p.kind === "valve" || p.kind === "sleeve" ? d : p.kind === "plug" ? d * 0.92 : d * 0.7);
        if (p.kind === "spring") {
          const n = 9;
          const points = Array.from({ length: n }, (_, j) => {
            const f = j / (n - 1);
            return flat ? `${r.x + r.width * f},${r.y + (j % 2 ? r.height : 0)}` : `${r.x + (j % 2 ? r.width : 0)},${r.y + r.height * f}`;
          });
          return <polyline key={i} points={points.join(" ")} fill="none" stroke={ink} strokeWidth="1.1" />;
        }
        if (p.kind === "valve") {
          // Three lands with a stem between them.
          const lands = [0, 0.42, 0.8].map((f) =>
            flat
              ? { x: r.x + r.width * f, y: r.y, width: r.width * 0.2, height: r.height }
              : { x: r.x, y: r.y + r.height * f, width: r.width, height: r.height * 0.2 },
          );
          const stem = flat
            ? { x: r.x, y: r.y + r.height * 0.3, width: r.width, height: r.height * 0.4 }
            : { x: r.x + r.width * 0.3, y: r.y, width: r.width * 0.4, height: r.height };
          return (
            <g key={i}>
              <rect {...stem} fill="var(--chakra-colors-panel)" stroke={ink} />
              {lands.map((l, j) => (
                <rect key={j} {...l} fill="var(--chakra-colors-slate)" stroke={ink} />
              ))}
            </g>
          );
        }
        return (
          <rect
            key={i}
            {...r}
            fill={p.kind === "clip" || p.kind === "pin" ? ink : p.kind === "sleeve" ? "url(#cut-a)" : "var(--chakra-colors-panel)"}
            stroke={ink}
          />
        );
      })}
    </g>
  );
}

/** The valve body from the side that comes off: each bore with what slides in it, balls by place and size, solenoids by place. */
export function BodyFigure({ body }: { body: Body }) {
  const [w = 0, h = 0] = body.size;
  const [picked, pick] = useState(body.bores[0]?.id ?? "");
  const y = (mm: number) => 14 + (h - mm) * k;
  const bore = body.bores.find((b) => b.id === picked);
  return (
    <Box>
      <Box overflowX="auto" tabIndex={0} role="region" aria-label="Drawing of the valve body">
        <svg
          width={w * k + 28}
          height={h * k + 28}
          role="img"
          aria-label="Valve body with its bores, balls and solenoids; the same is in the list below"
        >
          <g transform="translate(14 0)">
            <rect x="0" y={y(h)} width={w * k} height={h * k} fill="url(#cut-b)" stroke={ink} strokeWidth="1.5" />
            <rect x="3" y={y(h) + 3} width={w * k - 6} height={h * k - 6} fill="var(--chakra-colors-panel)" fillOpacity="0.82" />
            {body.bores.map((b) => (
              <g key={b.id} onClick={() => pick(b.id)} style={{ cursor: "pointer" }}>
                <Train bore={b} on={b.id === picked} y={y} />
                <text
                  x={b.way === "front" ? (b.at[0] ?? 0) * k - 6 : (b.at[0] ?? 0) * k + 6}
                  y={y(b.at[1] ?? 0) - b.bore * k * 0.31 - 6}
                  textAnchor={b.way === "front" ? "end" : "start"}
                  style={{ fontSize: 12, fontWeight: b.id === picked ? 700 : 400 }}
                  fill={ink}
                >
                  {b.name}
                </text>
              </g>
            ))}
            {body.balls.flatMap((x) =>
              x.at.map(([bx = 0, by = 0], i) => (
                <circle
                  key={`${x.size} ${i}`}
                  cx={bx * k}
                  cy={y(by)}
                  r={(x.diameter / 2) * k * 0.8}
                  fill="var(--chakra-colors-slate)"
                  stroke={ink}
                  strokeWidth={x.diameter > 7 ? 2.5 : 1}
                >
                  <title>{`check ball ${x.size}, lies in the ${x.in}`}</title>
                </circle>
              )),
            )}
            {body.solenoids.map((x) => (
              <g key={x.control}>
                <rect
                  x={(x.at[0] ?? 0) * k - 14}
                  y={y(x.at[1] ?? 0) - 12}
                  width="28"
                  height="24"
                  rx="4"
                  fill="var(--chakra-colors-panel)"
                  stroke={ink}
                />
                <text
                  x={(x.at[0] ?? 0) * k}
                  y={y(x.at[1] ?? 0) + 4}
                  textAnchor="middle"
                  style={{ fontSize: 12, fontWeight: 700 }}
                  fill={ink}
                >
                  {x.control}
                </text>
              </g>
            ))}
          </g>
        </svg>
      </Box>
      {body.balls.length > 0 && (
        <Text textStyle="small" color="ink2">
          Check balls: {body.balls.map((b) => `${b.at.length} of ${b.size}, in the ${b.in}`).join("; ")}.
        </Text>
      )}
      {bore && (
        <Box mt="2">
          <Text fontWeight="700">{bore.name}, from its mouth inward</Text>
          <Table
            label={bore.name}
            head={["Piece", ">Length, mm", "Way round"]}
            rows={bore.train.map((p) => [p.name || p.kind, number(p.length, 1), p.says])}
          />
        </Box>
      )}
      <Box as="ul" pl="0" mt="2" listStyleType="none" display="flex" flexWrap="wrap" gap="1">
        {body.bores.map((b) => (
          <li key={b.id}>
            <button
              type="button"
              onClick={() => pick(b.id)}
              aria-pressed={b.id === picked}
              style={{ minHeight: 44, padding: "0 10px", textDecoration: b.id === picked ? "underline" : "none", textUnderlineOffset: 6 }}
            >
              {b.name}
            </button>
          </li>
        ))}
      </Box>
    </Box>
  );
}
