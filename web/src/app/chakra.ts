import { defineConfig, defaultBaseConfig, mergeConfigs } from "@chakra-ui/react";
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  comboboxSlotRecipe,
  cssVarsPrefix,
  cssVarsRoot,
  dialogSlotRecipe,
  drawerSlotRecipe,
  fieldSlotRecipe,
  globalCss,
  inputRecipe,
  keyframes,
  layerStyles,
  linkRecipe,
  semanticTokens,
  spinnerRecipe,
  textareaRecipe,
  textStyles,
  tokens,
} from "@chakra-ui/react/theme";

/** What the library comes with, as far as this app uses it: the recipes of all its components would be a fifth of the first page. */
export const chakra = mergeConfigs(
  defaultBaseConfig,
  defineConfig({
    preflight: true,
    cssVarsPrefix,
    cssVarsRoot,
    globalCss,
    theme: {
      breakpoints,
      keyframes,
      tokens,
      semanticTokens,
      recipes: { button: buttonRecipe, input: inputRecipe, link: linkRecipe, spinner: spinnerRecipe, textarea: textareaRecipe },
      slotRecipes: { combobox: comboboxSlotRecipe, dialog: dialogSlotRecipe, drawer: drawerSlotRecipe, field: fieldSlotRecipe },
      textStyles,
      layerStyles,
      animationStyles,
    },
  }),
);
