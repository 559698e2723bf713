import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** The rooms from the ground up: each may use those before it, none after it. */
const ROOMS = [
  "api",
  "frame",
  "people",
  "line",
  "drawing",
  "tanks",
  "readings",
  "gauges",
  "wiring",
  "scaling",
  "devices",
  "proving",
  "loading",
  "pouring",
  "faults",
  "register",
  "visits",
  "history",
  "board",
  "app",
];

const downOnly = ROOMS.map((room, floor) => ({
  files: [`src/${room}/**/*.{ts,tsx}`],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: ROOMS.slice(floor + 1).map((above) => ({
          regex: `^(\\.\\./)+${above}(/|$)`,
          message: `${room}/ stands below ${above}/: imports point down.`,
        })),
      },
    ],
  },
}));

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...tseslint.configs.strictTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  hooks.configs.flat["recommended-latest"],
  {
    rules: {
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
    },
  },
  ...downOnly.filter((one) => one.rules["no-restricted-imports"][1].patterns.length > 0),
);
