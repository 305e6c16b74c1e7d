import { Box, chakra, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { short } from "../format";
import { WindowFigure } from "./WindowFigure";

type Input = Schemas["InstrumentInput"];

const Entry = chakra("input", {
  base: {
    fontFamily: "body",
    w: "full",
    h: "48px",
    minW: "62px",
    textAlign: "center",
    fontSize: "18px",
    fontWeight: "700",
    bg: "panel",
    borderWidth: "1px",
    borderColor: "line",
    _focusVisible: { outline: "2px solid", outlineColor: "brass", position: "relative" },
  },
});

const bound = (v: number) => short(Number(v.toPrecision(3)), 6);
const range = (w: Schemas["Window"]) => `${bound(w.low)}–${bound(w.high)}`;

/** One column for each input, its window drawn above it: for a value in every range. */
export function Columns({
  inputs,
  values,
  set,
  points,
  read,
  wrong,
  others,
}: {
  inputs: Input[];
  values: Record<string, string>;
  set: (id: string, v: string) => void;
  points: Schemas["Point"][];
  /** What the server understood, by input. */
  read: Record<string, string>;
  wrong?: string;
  others: string[];
}) {
  return (
    <Box overflowX="auto" p="2px">
      <chakra.table w="full" borderCollapse="collapse" style={{ tableLayout: "fixed" }} minW={inputs.length > 3 ? "560px" : undefined}>
        <tbody>
          <tr>
            <chakra.td w="86px" />
            {inputs.map((i) => (
              <chakra.th key={i.id} scope="col" textStyle="note" fontWeight="600" pb="1">
                {i.label}
              </chakra.th>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" textStyle="small">
              {inputs[0]?.unit}
            </chakra.th>
            {inputs.map((i) => (
              <td key={i.id}>
                <WindowFigure input={i} point={points.find((p) => p.input === i.id)} all={inputs} />
              </td>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" textStyle="note">
              measured
            </chakra.th>
            {inputs.map((i) => (
              <chakra.td key={i.id} p="0">
                <Entry
                  autoComplete="off"
                  aria-label={`${i.label}, ${i.unit}`}
                  maxLength={80}
                  value={values[i.id] ?? ""}
                  aria-invalid={wrong === `values.${i.id}`}
                  borderColor={wrong === `values.${i.id}` ? "fault" : "line"}
                  onChange={(e) => set(i.id, e.target.value)}
                />
              </chakra.td>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" textStyle="small">
              read as
            </chakra.th>
            {inputs.map((i) => (
              <chakra.td key={i.id} textAlign="center" textStyle="fine" color="ink2" pt="1" h="26px">
                {read[i.id]}
              </chakra.td>
            ))}
          </tr>
          <tr>
            <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" textStyle="small">
              expected
            </chakra.th>
            {inputs.map((i) => (
              <chakra.td key={i.id} textAlign="center" textStyle="small" color="ink2" pt="1">
                {i.window ? range(i.window) : ""}
              </chakra.td>
            ))}
          </tr>
          {inputs.some((i) => i.feeds.length > 0) && (
            <tr>
              <chakra.th scope="row" textAlign="left" fontWeight="400" color="ink2" textStyle="small">
                feeds
              </chakra.th>
              {inputs.map((i) => (
                <chakra.td key={i.id} textAlign="center" textStyle="fine" color="ink2">
                  {i.feeds.join(" ") || "–"}
                </chakra.td>
              ))}
            </tr>
          )}
        </tbody>
      </chakra.table>
      <Text textStyle="fine" color="ink2" mt="1">
        Other units may be typed: {others.join(", ")}.
      </Text>
    </Box>
  );
}
