import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import { defineConfig } from "eslint/config";
import ts from "typescript-eslint";

/** The server sends verdicts, rule keys and bounds; what only a person reads decides nothing here. */
const told = (what) => `${what}: the server decides this and sends it.`;
const DECIDED = [
  {
    selector: "Property > Literal.value[value=/^(go|hold|stop)$/]",
    message: told("A table of verdicts"),
  },
  {
    selector:
      "BinaryExpression[operator=/^[!=]==?$/] > MemberExpression[property.name=/^(title|result|what|why|do_next|label|text)$/]",
    message: told("A comparison of words"),
  },
  {
    selector:
      "CallExpression[callee.property.name=/^(startsWith|endsWith|includes|match|test)$/] > MemberExpression > MemberExpression[property.name=/^(title|result|what|why|do_next|sentence)$/]",
    message: told("A search in words"),
  },
  {
    selector: "BinaryExpression[operator=/^[<>]=?$/] > Literal[raw=/^(?![01]$)[0-9.]+$/]",
    message: told("A limit"),
  },
];
/** Where figures are drawn, a limit is one of pixels or of digits. */
const DRAWN = [
  "src/parts/{figures,logs,drum}/{Num,LogView,WindowStrip,Lane,LaneRow,Plot,Sketch,Drawing}.tsx",
  "src/parts/shelf/ShelfField.tsx",
  "src/parts/sheet/{ink.ts,Drawn.tsx,Heights.tsx,Lineage.tsx}",
  "src/stages/load/Writing.tsx",
  "src/api/client.ts",
  "src/away/send.ts",
];

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
      "no-restricted-syntax": ["error", ...DECIDED],
      "max-lines": ["error", { max: 300, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: DRAWN, rules: { "no-restricted-syntax": ["error", ...DECIDED.slice(0, -1)] } },
]);
