import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";
import { layers } from "./layers.js";

export default tseslint.config(
  { ignores: ["dist", "public", "src/base/api/schema.d.ts"] },
  ...tseslint.configs.strict,
  {
    plugins: { "react-hooks": hooks, house: { rules: { layers } } },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error", "house/layers": "error" },
  },
  {
    // How days, times and sizes are said, and what makes an answer old, is known in one place.
    files: ["src/**"],
    ignores: ["src/base/format.ts", "src/base/api/freshness.ts", "src/app/session.tsx"],
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
      ],
    },
  },
);
