import { join, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { buildEngine, installPackages, needFfmpeg } from "./steps.mjs";

/** Runs a command of the command line, in this process: a second one would only begin later. */
export async function cli(root, args) {
  await installPackages(root);
  await needFfmpeg();
  await buildEngine(root);
  process.env.UMBER_DATA = resolve(process.env.UMBER_DATA || join(root, "data"));
  const program = join(root, "dist", "cli.mjs");
  process.argv = [process.argv[0], program, ...args];
  await import(pathToFileURL(program).href);
  return process.exitCode;
}
