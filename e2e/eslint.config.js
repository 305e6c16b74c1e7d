import js from "@eslint/js";
import playwright from "eslint-plugin-playwright";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["test-results"] },
  js.configs.recommended,
  ...ts.configs.strict,
  playwright.configs["flat/recommended"],
  {
    rules: {
      "@typescript-eslint/no-non-null-assertion": "off",
      "playwright/no-wait-for-timeout": "error",
      // A loop over the rows of a table is clearer than the same lines again.
      "playwright/no-conditional-in-test": "off",
      // A helper of ours that asserts is an assertion.
      "playwright/expect-expect": "off",
    },
  },
  {
    files: ["screenshots/*.ts"],
    rules: { "playwright/no-wait-for-timeout": "off", "playwright/no-conditional-in-test": "off", "playwright/expect-expect": "off" },
  },
);
