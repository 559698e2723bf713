import { defineConfig } from "oxlint";

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

/** A dialog that fades can stay over the page unseen. */
const DIALOG = { regex: "^react-bootstrap/Modal$", message: "A dialog is a Dialog of frame/." };

const downOnly = ROOMS.map((room, floor) => ({
  files: [`src/${room}/**/*.{ts,tsx}`],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          ...(room === "frame" ? [] : [DIALOG]),
          ...ROOMS.slice(floor + 1).map((above) => ({
            regex: `^(\\.\\./)+${above}(/|$)`,
            message: `${room}/ stands below ${above}/: imports point down.`,
          })),
        ],
      },
    ],
  },
}));

/** What is held besides all that is plainly wrong: types without holes, promises that are awaited, nothing needless. */
const STRICT = {
  eslint: "no-var prefer-const prefer-rest-params prefer-spread",
  typescript: `
    await-thenable ban-ts-comment no-array-constructor no-array-delete no-base-to-string no-deprecated
    no-duplicate-enum-values no-duplicate-type-constituents no-dynamic-delete no-empty-object-type no-explicit-any
    no-extra-non-null-assertion no-extraneous-class no-floating-promises no-for-in-array no-generated-empty-object-type
    no-implied-eval no-invalid-void-type no-meaningless-void-operator no-misused-new no-misused-promises
    no-misused-spread no-mixed-enums no-namespace no-non-null-asserted-nullish-coalescing
    no-non-null-asserted-optional-chain no-non-null-assertion no-redundant-type-constituents no-require-imports
    no-this-alias no-unnecessary-boolean-literal-compare no-unnecessary-condition no-unnecessary-template-expression
    no-unnecessary-type-arguments no-unnecessary-type-assertion no-unnecessary-type-constraint
    no-unnecessary-type-conversion no-unnecessary-type-parameters no-unsafe-argument no-unsafe-assignment
    no-unsafe-call no-unsafe-declaration-merging no-unsafe-enum-assignment no-unsafe-enum-comparison
    no-unsafe-function-type no-unsafe-member-access no-unsafe-return no-unsafe-unary-minus no-unused-expressions
    no-unused-vars no-useless-constructor no-useless-default-assignment no-wrapper-object-types only-throw-error
    prefer-as-const prefer-literal-enum-member prefer-namespace-keyword prefer-promise-reject-errors
    prefer-reduce-type-parameter prefer-return-this-type related-getter-setter-pairs require-await
    triple-slash-reference unbound-method unified-signatures use-unknown-in-catch-callback-variable`,
  react: `
    rules-of-hooks exhaustive-deps static-components use-memo void-use-memo preserve-manual-memoization
    incompatible-library immutability globals refs set-state-in-effect error-boundaries purity set-state-in-render
    unsupported-syntax`,
};

const strict = Object.entries(STRICT).flatMap(([plugin, names]) =>
  names
    .trim()
    .split(/\s+/)
    .map((name) => [plugin === "eslint" ? name : `${plugin}/${name}`, "error"]),
);

export default defineConfig({
  plugins: ["typescript", "react"],
  categories: { correctness: "error" },
  ignorePatterns: ["src/api/schema.d.ts"],
  rules: {
    ...Object.fromEntries(strict),
    "typescript/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
    "typescript/restrict-plus-operands": [
      "error",
      { allowAny: false, allowBoolean: false, allowNullish: false, allowNumberAndString: false, allowRegExp: false },
    ],
    "typescript/restrict-template-expressions": ["error", { allowNumber: true }],
    "typescript/return-await": ["error", "error-handling-correctness-only"],
  },
  overrides: downOnly,
});
