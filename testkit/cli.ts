import { spawnSync } from "node:child_process";
import { join } from "node:path";

/** The command line, as a user has it: the bundled program. */
const root = new URL("..", import.meta.url).pathname;

export async function buildProgram(): Promise<void> {
  const { buildEngine } = (await import(join(root, "scripts/launch/steps.mjs"))) as { buildEngine: (root: string) => Promise<void> };
  await buildEngine(root);
}

export const umber = (...args: string[]) =>
  spawnSync(process.execPath, [join(root, "dist", "cli.mjs"), ...args], { encoding: "utf8", timeout: 500_000, env: { ...process.env } });
