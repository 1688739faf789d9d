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
);
