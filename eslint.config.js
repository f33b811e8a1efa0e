import js from "@eslint/js";
import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import importX from "eslint-plugin-import-x";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** The rooms, lowest first. A room may import from itself and from the rooms listed for it, never upwards. */
const rooms = {
  core: [],
  capture: ["core"],
  server: ["core"],
  demo: ["server", "core"],
  app: ["server", "capture", "core"],
};

const zones = Object.entries(rooms).map(([room, below]) => ({
  target: `./${room}`,
  from: Object.keys(rooms)
    .filter((other) => other !== room && !below.includes(other))
    .map((other) => `./${other}`),
  message: `Arrows point downward: ${room}/ may import only from ${[room, ...below].join(", ")}.`,
}));

export default tseslint.config(
  { ignores: ["build", "node_modules", ".react-router", ".data", "test-results"] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    plugins: { "import-x": importX, "react-hooks": reactHooks },
    settings: { "import-x/resolver-next": [createTypeScriptImportResolver()] },
    rules: {
      "import-x/no-restricted-paths": ["error", { zones }],
      "import-x/no-cycle": "error",
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
      "@typescript-eslint/consistent-type-imports": "error",
      "no-console": "error",
      eqeqeq: "error",
    },
  },
  {
    // The core is pure: no clock, no I/O, no platform.
    files: ["core/**/*.ts"],
    ignores: ["core/**/*.test.ts"],
    rules: {
      "no-restricted-globals": [
        "error",
        ...["window", "document", "fetch", "setTimeout", "setInterval", "performance", "process", "navigator"],
      ],
      "no-restricted-imports": ["error", { patterns: ["node:*", "react*", "@mui/*", "sequelize", "pg"] }],
    },
  },
  {
    files: ["bin/**/*.mjs", "bench/**/*.ts"],
    languageOptions: { globals: { process: "readonly", console: "readonly", fetch: "readonly", setTimeout: "readonly", URL: "readonly" } },
    rules: { "no-console": "off" },
  },
);
