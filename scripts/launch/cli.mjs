import { spawn } from "node:child_process";
import { join } from "node:path";
import { buildEngine, installPackages, needFfmpeg } from "./steps.mjs";

/** Runs a command of the command line, with this terminal's streams. */
export async function cli(root, args) {
  await installPackages(root);
  await needFfmpeg();
  await buildEngine(root);
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ["--enable-source-maps", join(root, "dist", "cli.mjs"), ...args], { stdio: "inherit" });
    for (const s of ["SIGINT", "SIGTERM"]) process.on(s, () => child.kill(s));
    child.on("close", (code) => resolve(code ?? 1));
  });
}
