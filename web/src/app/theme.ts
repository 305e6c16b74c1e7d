import { createSystem, defineConfig, defineRecipe } from "@chakra-ui/react";
import { chakra } from "./chakra";
import { colours } from "../shared/colours";
import { hotStyles } from "./hotStyles";

const both = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } });

const button = defineRecipe({
  base: {
    fontWeight: "600",
    borderRadius: "6px",
    minH: "44px",
    px: "14px",
    fontSize: "15px",
    _focusVisible: { outline: "2px solid", outlineColor: "brass", outlineOffset: "2px" },
  },
  variants: {
    variant: {
      solid: { bg: "ink", color: "page", _hover: { bg: "ink2" }, _disabled: { opacity: 0.5 } },
      outline: { bg: "transparent", color: "ink", borderWidth: "1px", borderColor: "slate", _hover: { bg: "brassSoft" } },
      ghost: { bg: "transparent", color: "ink", _hover: { bg: "brassSoft" } },
    },
    size: { sm: { minH: "44px", h: "44px" }, md: { minH: "44px", h: "44px" } },
  },
  defaultVariants: { variant: "outline", size: "md" },
});

const field = {
  bg: "panel",
  color: "ink",
  borderColor: "slate",
  minH: "44px",
  fontSize: "15px",
  _focusVisible: { outlineColor: "brass", borderColor: "brass", outlineWidth: "2px" },
  _placeholder: { color: "ink2" },
};

const size = (fontSize: string) => ({ value: { fontSize } });

/** How large text is, by what it is; nothing else in the app names a size of text. */
const textStyles = {
  display: size("30px"), // the one figure of a view
  title: size("24px"), // of a place
  figure: size("20px"), // a result
  heading: size("18px"),
  subheading: size("17px"),
  lead: size("16px"), // what a row is about
  body: size("14.5px"),
  label: size("14px"),
  note: size("13.5px"), // what explains
  small: size("13px"), // what goes with a row
  fine: size("12.5px"),
  tiny: size("11.5px"), // inside a drawing
};

export const system = createSystem(
  chakra,
  defineConfig({
    globalCss: {
      ...hotStyles,
      html: {
        bg: "page",
        color: "ink",
        fontFamily: "'Archivo Variable', system-ui, sans-serif",
        fontVariantNumeric: "tabular-nums",
        fontSize: "16px",
      },
      body: { bg: "page", color: "ink", fontSize: "14.5px", lineHeight: "1.35" },
      "*:focus-visible": { outline: "2px solid", outlineColor: "brass", outlineOffset: "1px" },
      "button, input, select, textarea": { fontFamily: "inherit", fontVariantNumeric: "tabular-nums" },
      "input[type=checkbox], input[type=radio]": { accentColor: "{colors.brass}" },
      kbd: { fontFamily: "inherit", fontSize: "12px", borderWidth: "1px", borderColor: "slate", borderRadius: "3px", px: "4px" },
      "*, *::before, *::after": {
        "@media (prefers-reduced-motion: reduce)": { transition: "none !important", animation: "none !important" },
      },
      "header, nav, [data-noprint]": { "@media print": { display: "none !important" } },
    },
    theme: {
      textStyles,
      tokens: {
        fonts: {
          body: { value: "'Archivo Variable', system-ui, sans-serif" },
          heading: { value: "'Archivo Variable', system-ui, sans-serif" },
        },
      },
      semanticTokens: {
        colors: {
          ...Object.fromEntries(Object.entries(colours).map(([name, [light, dark]]) => [name, both(light, dark)])),
          bg: { DEFAULT: both(...colours.page), panel: both(...colours.panel) },
          fg: { DEFAULT: both(...colours.ink), muted: both(...colours.ink2) },
          border: { DEFAULT: both(...colours.line) },
        },
      },
      recipes: {
        button,
        input: defineRecipe({ variants: { variant: { outline: field } } }),
        textarea: defineRecipe({ variants: { variant: { outline: field } } }),
      },
    },
  }),
);
