import { Flex } from "@chakra-ui/react";
import { Chip } from "./Chip";

/** A choice between two or three things, each a full-size target. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (v: T) => void;
}) {
  return (
    <Flex role="radiogroup" aria-label={label} gap="1" wrap="wrap">
      {options.map(([v, text]) => (
        <Chip key={v} type="button" role="radio" aria-checked={v === value} onClick={() => onChange(v)}>
          {text}
        </Chip>
      ))}
    </Flex>
  );
}
