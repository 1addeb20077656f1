import { spawn } from "node:child_process";
import { join, resolve } from "node:path";
import { buildEngine, installPackages, needFfmpeg } from "./steps.mjs";

/** Runs a command of the command line, with this terminal's streams. */
export async function cli(root, args) {
  await installPackages(root);
  await needFfmpeg();
  await buildEngine(root);
  const env = { ...process.env, UMBER_DATA: resolve(process.env.UMBER_DATA || join(root, "data")) };
  return new Promise((done) => {
    const child = spawn(process.execPath, ["--enable-source-maps", join(root, "dist", "cli.mjs"), ...args], { stdio: "inherit", env });
    for (const s of ["SIGINT", "SIGTERM"]) process.on(s, () => child.kill(s));
    child.on("close", (code) => done(code ?? 1));
  });
}
