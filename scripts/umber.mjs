/** What ./umber does once Node is known to be new enough. Plain JavaScript: it runs before anything is installed. */
import { readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { cli } from "./launch/cli.mjs";
import { help, isCommand, names, use } from "./launch/help.mjs";
import { serve } from "./launch/serve.mjs";
import { test } from "./launch/test.mjs";

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const [command, ...args] = process.argv.slice(2);

/** Wrong use: one line, and status 2. */
const wrong = (line) => {
  console.error(line);
  process.exit(2);
};
const asked = (list) => list.includes("--help") || list.includes("-h");

if (command === "--help" || command === "-h" || command === "help") {
  console.log(help(args[0]));
  process.exit(0);
}
if (command === "--version") {
  console.log(JSON.parse(readFileSync(join(root, "package.json"), "utf8")).version);
  process.exit(0);
}
if (!isCommand(command))
  wrong(`${command ? `“${command}” is no command` : "No command was given"}. Use: ./umber ${names.join(" | ")}, or ./umber --help.`);
// before a “--” everything with a dash is an option
if (asked(args.slice(0, args.includes("--") ? args.indexOf("--") : undefined))) {
  console.log(help(command));
  process.exit(0);
}
const alone = { demo: () => serve(root, true), start: () => serve(root, false), test: () => test(root, args[0] === "--quick") };
if (Object.hasOwn(alone, command) && args.length && !(command === "test" && args.join() === "--quick"))
  wrong(`“${args[0]}” is not known to ${command}, which takes no such thing. Use: ${use(command)}`);

try {
  process.exitCode = (await (alone[command] ?? (() => cli(root, [command, ...args])))()) ?? 0;
} catch (e) {
  console.error(e instanceof Error ? e.message : String(e));
  process.exitCode = 1;
}
