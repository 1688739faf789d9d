// Of all TypeScript there is: it is run at the root of the repository (scripts/test).
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";
import { layers } from "./layers.js";

export default tseslint.config(
  { ignores: ["**/dist", "**/public", "**/schema.d.ts"] },
  ...tseslint.configs.strict,
  {
    // What a call answers with is waited for, or plainly not: nothing fails unheard.
    files: ["**/*.ts", "**/*.tsx"],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      "@typescript-eslint/no-floating-promises": "error",
      "@typescript-eslint/no-misused-promises": "error",
      "@typescript-eslint/await-thenable": "error",
      "@typescript-eslint/no-unnecessary-type-assertion": "error",
      "@typescript-eslint/only-throw-error": "error",
      "@typescript-eslint/switch-exhaustiveness-check": ["error", { considerDefaultExhaustiveForUnions: true }],
    },
  },
  {
    plugins: { "react-hooks": hooks, house: { rules: { layers } } },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error", "house/layers": "error" },
  },
  {
    // How days, times and sizes are said, and what makes an answer old, is known in one place.
    files: ["web/src/**"],
    ignores: ["web/src/base/format.ts", "web/src/base/api/freshness.ts", "web/src/app/session.tsx"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: "MemberExpression[property.name=/^toLocale(Date|Time)?String$/], Identifier[name='Intl']",
          message: "Say it by base/format.ts.",
        },
        {
          selector: "CallExpression[callee.property.name='invalidateQueries']",
          message: "What makes an answer old stands in base/api/freshness.ts.",
        },
        {
          selector: "CallExpression[callee.name='addEventListener'][arguments.0.value=/^key/]",
          message: "Keys of a page are bound by base/keys/useKeys.ts.",
        },
      ],
    },
  },
);
