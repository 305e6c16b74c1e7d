import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Schemas } from "../../../api/client";
import { benchQuery, stackQuery } from "../../../api/queries";
import { useCase } from "../useCase";

export type Bench = Schemas["Bench"];
export type BenchPart = Schemas["BenchPart"];
export type Pack = Schemas["BenchPack"];

/** The parts of the case's unit and how far they are taken apart; both undefined while they load. */
export function useBench() {
  const { shown } = useCase();
  const stack = useQuery(stackQuery(shown.unit, shown.unitVersion));
  const bench = useQuery(benchQuery(shown.id, shown.rev));
  const by = useMemo(() => new Map(bench.data?.parts.map((p) => [p.id, p])), [bench.data]);
  return { stack: stack.data, bench: bench.data, by, error: stack.error ?? bench.error };
}

/** Verdicts on a part with their words and the sign that stands beside the colour. */
export const verdicts: [string, string, string][] = [
  ["kept", "sound", "✓"],
  ["worn", "worn", "~"],
  ["burnt", "burnt", "▲"],
  ["cut", "cut", "✂"],
  ["broken", "broken", "✕"],
  ["wrong", "wrong", "≠"],
  ["missing", "missing", "○"],
  ["differs", "not as the sheet", "Δ"],
];

export const verdictWord = (id: string) => verdicts.find(([v]) => v === id)?.[1] ?? id;
export const verdictSign = (id: string) => verdicts.find(([v]) => v === id)?.[2] ?? "";
