import { defineConfig } from "vitest/config";

const alias = { "@": new URL("./src", import.meta.url).pathname };

export default defineConfig({
  test: {
    maxWorkers: 2, // by itself it leaves a core free, which of two is half
    projects: [
      {
        resolve: { alias },
        test: {
          name: "unit",
          include: ["src/**/*.test.ts", "benchmarks/**/*.test.ts"],
          testTimeout: 1_800_000,
          hookTimeout: 3_600_000,
          isolate: false, // none of them changes what others import
        },
      },
      {
        resolve: { alias },
        test: {
          name: "integration",
          include: ["demo/**/*.test.ts", "tests/integration/**/*.test.ts"],
          testTimeout: 1_800_000,
          hookTimeout: 3_600_000,
          isolate: false,
        },
      },
      {
        resolve: { alias },
        test: {
          name: "e2e",
          include: ["e2e/**/*.test.ts"],
          setupFiles: ["e2e/support/fetch.ts"],
          testTimeout: 3_600_000,
          hookTimeout: 3_600_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
