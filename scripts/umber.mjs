/** What ./umber does once Node is known to be new enough. Plain JavaScript: it runs before anything is installed. */
import { dirname } from "node:path";
import { fileURLToPath } from "node:url";
import { cli } from "./launch/cli.mjs";
import { serve } from "./launch/serve.mjs";
import { test } from "./launch/test.mjs";

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const [command, ...args] = process.argv.slice(2);

const commands = {
  demo: () => serve(root, true),
  start: () => serve(root, false),
  test: () => test(root),
  render: () => cli(root, ["render", ...args]),
  survey: () => cli(root, ["survey", ...args]),
  plate: () => cli(root, ["plate", ...args]),
};

if (!Object.hasOwn(commands, command ?? "")) {
  console.error(
    `“${command ?? ""}” is no command. Use: ./umber demo | start | test | render RECIPE.json --out FILE | survey FILE --json | plate FILE --out plate.png`,
  );
  process.exit(2);
}
try {
  process.exitCode = (await commands[command]()) ?? 0;
} catch (e) {
  console.error(e instanceof Error ? e.message : String(e));
  process.exitCode = 1;
}
