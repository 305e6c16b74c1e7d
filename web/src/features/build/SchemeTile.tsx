import { chakra, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { SchemeSketch } from "./Lines";
import { linesOf } from "./linesLayout";
import type { Sheet } from "./sheet";

/** A scheme of gears to choose: its lines and sets in small, its name, what it is usual in. */
export function SchemeTile({
  scheme,
  about,
  choose,
  disabled,
}: {
  scheme: Schemas["Scheme"];
  about: string;
  choose: () => void;
  disabled?: boolean;
}) {
  return (
    <chakra.button
      type="button"
      disabled={disabled}
      onClick={choose}
      w="176px"
      px="3"
      py="2"
      textAlign="left"
      borderWidth="1px"
      borderColor="line"
      mr="-1px"
      mb="-1px"
      bg="page"
      _hover={{ bg: "brassSoft" }}
      display="grid"
      alignContent="start"
      gap="1"
    >
      <SchemeSketch lines={linesOf(scheme.sheet as unknown as Sheet)} />
      <Text fontWeight="700" textStyle="label" lineHeight="1.2">
        {scheme.name}
      </Text>
      <Text color="ink2" textStyle="small" lineHeight="1.2">
        {about}
      </Text>
    </chakra.button>
  );
}
