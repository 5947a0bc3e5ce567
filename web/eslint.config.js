import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import { defineConfig } from "eslint/config";
import ts from "typescript-eslint";

export default defineConfig([
  { ignores: ["dist", ".dependency-cruiser.cjs", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ts.configs.recommended,
  a11y.flatConfigs.recommended,
  {
    files: ["worker.js"],
    languageOptions: {
      globals: Object.fromEntries(
        ["self", "caches", "fetch", "location", "Response", "Headers", "AbortSignal", "URL", "__FILES__"].map(
          (name) => [name, "readonly"],
        ),
      ),
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks },
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      // The first field of a dialog and of the sign-in takes the keyboard: gloves type at once.
      "jsx-a11y/no-autofocus": "off",
      "jsx-a11y/label-has-associated-control": [
        "error",
        { controlComponents: ["Input", "Input.TextArea", "Select", "Switch", "Figure"], depth: 4 },
      ],
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "max-lines-per-function": ["error", { max: 150, skipBlankLines: true, skipComments: true }],
      "max-lines": ["error", { max: 300, skipBlankLines: true, skipComments: true }],
    },
  },
]);
