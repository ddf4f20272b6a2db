import { readdirSync } from "node:fs";
import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// Every folder of features: a new one is covered without a word here.
const features = readdirSync(new URL("src/features", import.meta.url));

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  { plugins: { "react-hooks": hooks }, rules: hooks.configs.recommended.rules },
  {
    // A feature never imports another feature, from whatever folder of it; shared parts live in
    // src/ui.
    files: ["src/features/**"],
    rules: {
      "no-restricted-imports": ["error", { patterns: features.map((f) => `../**/${f}/**`) }],
    },
  },
);
