import { Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ComponentProps, ReactNode } from "react";
import { ProblemError } from "../api/client";
import { numberQuery } from "../api/queries";
import { TextField } from "./fields";
import { useSettled } from "./useSettled";

/** What a typed number is, for the server that reads it: money, hours, percent, distance or a dimension, and the unit of a bare one. */
export interface NumberKind {
  kind: string;
  unit?: string;
  /** How numbers are written, by a sample, when not as in the settings. */
  numbers?: string;
}

/** How a typed number is read, or why it cannot be; empty while nothing is typed or the fingers move. */
export function useUnderstood({ kind, unit = "", numbers }: NumberKind, text = "") {
  const settled = useSettled(text);
  const { data, error } = useQuery(numberQuery(kind, unit, settled, numbers));
  const current = settled === text && text.trim() !== "";
  const problem = current && error instanceof ProblemError ? error.problem : undefined;
  return {
    read: current && !error ? data?.text : undefined,
    wrong: problem && `${problem.detail}. Accepted: ${problem.accepted}`,
  };
}

/** What was understood, in small print below a field that has no room for more. */
export function Understood({ text, ...kind }: NumberKind & { text: string }) {
  const { read, wrong } = useUnderstood(kind, text);
  return (
    <Text textStyle="fine" color={wrong ? "fault" : "ink2"} minH="18px" aria-live="polite">
      {wrong ?? read}
    </Text>
  );
}

/** A field for a number: what is typed goes to the server as it is, and what was understood stands below it. */
export function NumberField({
  kind,
  unit,
  numbers,
  value,
  error,
  help,
  ...field
}: NumberKind & { label: string; value?: string; error?: string; help?: ReactNode } & Omit<ComponentProps<typeof TextField>, "value">) {
  const { read, wrong } = useUnderstood({ kind, unit, numbers }, value);
  return <TextField {...field} inputMode="text" autoComplete="off" value={value} error={error ?? wrong} help={read ?? help} />;
}
