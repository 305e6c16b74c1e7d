import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { NumberField } from "../../../shared/NumberField";

/** A size as it is read, with the gauge's ± where one is typed; noted with Enter. */
export function Measure({
  label,
  kind,
  unit,
  now,
  note,
}: {
  label: string;
  kind: string;
  unit?: string;
  now?: string;
  note: (value: string) => void;
}) {
  const [value, setValue] = useState("");
  const send = () => {
    if (!value.trim()) return;
    note(value);
    setValue("");
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <Flex gap="2" align="end">
        <Box flex="1" minW="0">
          <NumberField
            label={label}
            kind={kind}
            unit={unit}
            value={value}
            onChange={(e) => setValue(e.target.value)}
            help={now ? `stands: ${now}` : "as read, or with ±"}
          />
        </Box>
        <Button type="submit" disabled={!value.trim()} mb="22px">
          Note
        </Button>
      </Flex>
    </form>
  );
}
