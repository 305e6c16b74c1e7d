import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";

type Step = Schemas["Step"];

const pitch = 132;
const middle = 58;

/** Our own signs: a box with a spool for a valve, a narrowing for an orifice, two lips for a seal. */
function Sign({ kind }: { kind: string }) {
  const stroke = { stroke: "var(--chakra-colors-ink)", strokeWidth: 1.8, fill: "var(--chakra-colors-panel)" };
  switch (kind) {
    case "valve":
      return (
        <g {...stroke}>
          <rect x="-26" y="-15" width="52" height="30" />
          <path d="M-14 -15 v30 M14 -15 v30" fill="none" />
        </g>
      );
    case "orifice":
      return <path {...stroke} fill="none" d="M-16 -14 Q0 2 16 -14 M-16 14 Q0 -2 16 14" />;
    case "seal":
      return (
        <g {...stroke}>
          <rect x="-18" y="-16" width="10" height="32" />
          <rect x="8" y="-16" width="10" height="32" />
        </g>
      );
    default:
      return <rect {...stroke} x="-26" y="-15" width="52" height="30" rx="15" />;
  }
}

/** Breaks a name into two lines at the space nearest its middle. */
function lines(name: string): string[] {
  if (name.length < 15) return [name];
  const spaces = [...name.matchAll(/ /g)].map((m) => m.index);
  const at = spaces.sort((a, b) => Math.abs(a - name.length / 2) - Math.abs(b - name.length / 2))[0];
  return at === undefined ? [name] : [name.slice(0, at), name.slice(at + 1)];
}

/** The way of the oil. Taps and sensors stand above it, where a gauge or a tool looks in. */
export function OilPath({ steps, end }: { steps: Step[]; end: string }) {
  const way = steps.filter((s) => s.kind !== "tap" && s.kind !== "sensor");
  if (way.length === 0) return <Text color="ink2">The sheet does not say which way the oil takes.</Text>;
  const looks = steps
    .map((s, i) => ({ ...s, after: steps.slice(0, i).filter((x) => x.kind !== "tap" && x.kind !== "sensor").length }))
    .filter((s) => s.kind === "tap" || s.kind === "sensor");
  const width = way.length * pitch + 10;
  const x = (i: number) => i * pitch + pitch / 2;
  return (
    <Box as="figure" overflowX="auto">
      <svg
        viewBox={`0 0 ${width} 132`}
        width={width}
        style={{ maxWidth: way.length > 5 ? undefined : "100%" }}
        role="img"
        aria-label={`Oil path to the ${end}: ${steps.map((s) => s.name).join(", ")}`}
      >
        <line x1={x(0)} x2={x(way.length - 1)} y1={middle} y2={middle} stroke="var(--chakra-colors-brass)" strokeWidth="4" />
        {looks.map((s) => (
          <g key={s.name} transform={`translate(${x(s.after) - pitch / 2} ${middle})`}>
            <line y2="-22" stroke="var(--chakra-colors-brass)" strokeWidth="3" />
            {s.kind === "tap" ? (
              <circle cy="-28" r="7" fill="var(--chakra-colors-page)" stroke="var(--chakra-colors-ink)" strokeWidth="2" />
            ) : (
              <path d="M-7 -21 h14 l-7 -13 z" fill="var(--chakra-colors-page)" stroke="var(--chakra-colors-ink)" strokeWidth="2" />
            )}
            <text style={{ fontSize: 12.5, fontWeight: 700 }} y="-42" textAnchor="middle" fill="var(--chakra-colors-ink)">
              {s.name}
            </text>
          </g>
        ))}
        {way.map((s, i) => (
          <g key={s.name} transform={`translate(${x(i)} ${middle})`}>
            <Sign kind={s.kind} />
            {lines(s.name).map((l, j) => (
              <text style={{ fontSize: 12.5 }} key={l} y={34 + j * 15} textAnchor="middle" fill="var(--chakra-colors-ink)">
                {l}
              </text>
            ))}
          </g>
        ))}
      </svg>
      <Text textStyle="small" color="ink2">
        ○ tap for a gauge · △ sensor · box with lands: valve · two lips: sealing rings · narrowing: orifice
      </Text>
    </Box>
  );
}
