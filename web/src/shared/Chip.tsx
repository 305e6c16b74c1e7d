import { chakra } from "@chakra-ui/react";

/** A button that stays pressed: the state that was read, the choice that was made. Frame and weight say it beside the colour. */
export const Chip = chakra("button", {
  base: {
    minH: "44px",
    minW: "44px",
    px: "12px",
    py: "6px",
    bg: "panel",
    color: "ink",
    borderWidth: "1px",
    borderColor: "slate",
    borderRadius: "4px",
    fontSize: "14.5px",
    textAlign: "left",
    _hover: { bg: "brassSoft" },
    _disabled: { opacity: 0.75, cursor: "default" },
    "&[aria-pressed=true], &[aria-checked=true]": {
      bg: "brassSoft",
      borderColor: "brass",
      fontWeight: "700",
      boxShadow: "inset 0 0 0 1px {colors.brass}",
    },
  },
});
