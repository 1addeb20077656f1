import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["node_modules", ".next", "dist", "data", "coverage", "next-env.d.ts", "drizzle", ".dependency-cruiser.cjs"] },
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
    // the computation has no clock, no chance but the seeded one, and no input or output
    files: ["src/core/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-globals": ["error", "window", "document", "process", "fetch", "performance", "setTimeout", "Date"],
      "no-restricted-properties": ["error", { object: "Math", property: "random", message: "Use core/random with a seed." }],
    },
  },
);
