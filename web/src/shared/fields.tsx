import { Box, chakra, Field, Input } from "@chakra-ui/react";
import type { ComponentProps, ReactNode } from "react";

/** A labelled field with its help and its error beside it. */
export function Labelled({
  label,
  help,
  error,
  children,
  required,
}: {
  label: string;
  help?: ReactNode;
  error?: string;
  children: ReactNode;
  required?: boolean;
}) {
  return (
    <Field.Root invalid={!!error} required={required}>
      <Field.Label fontWeight="600" textStyle="label">
        {label}
        {required && (
          <Box as="span" color="ink2" fontWeight="400">
            needed
          </Box>
        )}
      </Field.Label>
      {children}
      {help && (
        <Field.HelperText color="ink2" textStyle="small">
          {help}
        </Field.HelperText>
      )}
      <Field.ErrorText color="fault" textStyle="note">
        {error}
      </Field.ErrorText>
    </Field.Root>
  );
}

export function TextField({
  label,
  help,
  error,
  required,
  ...input
}: { label: string; help?: ReactNode; error?: string } & ComponentProps<typeof Input>) {
  return (
    <Labelled label={label} help={help} error={error} required={required}>
      <Input {...input} />
    </Labelled>
  );
}

export const Select = chakra("select", {
  base: {
    bg: "panel",
    color: "ink",
    borderWidth: "1px",
    borderColor: "slate",
    borderRadius: "4px",
    minH: "44px",
    px: "10px",
    fontSize: "15px",
    w: "full",
  },
});

export function SelectField({ label, options, ...select }: { label: string; options: [string, string][] } & ComponentProps<typeof Select>) {
  return (
    <chakra.label display="block" textStyle="label">
      <Box as="span" fontWeight="600" display="block" mb="1.5">
        {label}
      </Box>
      <Select {...select}>
        {options.map(([v, t]) => (
          <option key={v} value={v}>
            {t}
          </option>
        ))}
      </Select>
    </chakra.label>
  );
}
