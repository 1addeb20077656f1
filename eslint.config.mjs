import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** What a type is said to be against the compiler's knowledge: a union, a check or a query says it truly. */
const NO_CASTS = [
  { selector: "TSAsExpression > TSNeverKeyword", message: "No “as never”: give the value its type." },
  { selector: "TSAsExpression > TSAsExpression > TSUnknownKeyword", message: "No “as unknown as”: check it, or give it its type." },
];

export default tseslint.config(
  { ignores: ["node_modules", ".next", "dist", "data", "coverage", "next-env.d.ts", "drizzle", ".dependency-cruiser.cjs", "src/core/simd/assembly"] },
  ...tseslint.configs.recommended,
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error" },
  },
  {
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "@typescript-eslint/no-non-null-assertion": "off",
      eqeqeq: "error",
      "no-console": "off",
    },
  },
  {
    // one place starts ffmpeg, and one place makes what it is told; jobs are forked, and never given a program's name
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["**/*.test.ts", "src/engine/media/ffmpeg.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          paths: [
            { name: "execa", message: "Programs are started in engine/media/ffmpeg.ts alone." },
            { name: "child_process", message: "Use node:child_process's fork, or engine/media/ffmpeg.ts." },
            {
              name: "node:child_process",
              importNames: ["spawn", "spawnSync", "exec", "execSync", "execFile", "execFileSync", "default"],
              message: "Programs are started in engine/media/ffmpeg.ts alone.",
            },
          ],
        },
      ],
    },
  },
  {
    // what is called checked was checked: only the builder may say so
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["**/*.test.ts", "src/engine/media/arguments.ts"],
    rules: {
      "no-restricted-syntax": [
        "error",
        ...NO_CASTS,
        {
          selector: "TSAsExpression TSTypeReference[typeName.name=/^(Word|Path|Argument|Arguments)$/]",
          message: "Make it with the functions of engine/media/arguments.ts, which check it.",
        },
      ],
    },
  },
  {
    // the one place that makes checked arguments may say so; the rest holds for it as well
    files: ["src/engine/media/arguments.ts"],
    rules: { "no-restricted-syntax": ["error", ...NO_CASTS] },
  },
  {
    // the computation has no clock, no chance but the seeded one, and no input or output
    files: ["src/core/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-globals": ["error", "window", "document", "process", "fetch", "performance", "setTimeout", "Date"],
      "no-restricted-properties": ["error", { object: "Math", property: "random", message: "Use core/random with a seed." }],
    },
  },
);
