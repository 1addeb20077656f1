import { readFileSync } from "node:fs";

/** What each command does, for those who ask: nothing is installed, built or started for it. */
const COMMANDS = JSON.parse(readFileSync(new URL("./commands.json", import.meta.url), "utf8"));

/** The whole help, or that of one command. */
export function help(command) {
  const c = Object.hasOwn(COMMANDS, command ?? "") ? COMMANDS[command] : null;
  if (c)
    return [
      `./umber ${c.use}`,
      `  ${c.says}`,
      ...Object.entries(c.options ?? {}).map(([name, says]) => `  ${name.padEnd(20)} ${says}`),
      "  --help               this",
    ].join("\n");
  const width = Math.max(...Object.keys(COMMANDS).map((k) => k.length));
  return [
    "Umber Moth takes booms, rigs and their shadows out of locked-off shots.",
    ...Object.entries(COMMANDS).map(([k, v]) => `  ./umber ${k.padEnd(width)}  ${v.says}`),
    "  ./umber COMMAND --help    what a command takes",
    "  ./umber --version         the version",
  ].join("\n");
}

/** Whether there is such a command. */
export const isCommand = (name) => Object.hasOwn(COMMANDS, name ?? "");
/** How a command is used, in a line. */
export const use = (name) => `./umber ${COMMANDS[name].use}`;
/** All commands, in the order of the help. */
export const names = Object.keys(COMMANDS);
