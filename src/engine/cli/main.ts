import commands from "../../../scripts/launch/commands.json";
import { userErrorOf } from "../../wire/errors";
import { Usage } from "./usage";

type Run = (args: string[]) => Promise<void>;

/** Each command in a file of its own, which is loaded once it is asked for. */
const COMMANDS: Record<string, () => Promise<Run>> = {
  render: async () => (await import("./render")).renderCommand,
  survey: async () => (await import("./survey")).surveyCommand,
  plate: async () => (await import("./plate")).plateCommand,
  track: async () => (await import("./track")).trackCommand,
  cutout: async () => (await import("./cutout")).cutoutCommand,
  prove: async () => (await import("./prove")).proveCommand,
  backup: async () => (await import("./keeping")).backupCommand,
  restore: async () => (await import("./keeping")).restoreCommand,
};

/** How a command is meant, in a line; of one that is none, how all are. */
function meant(command: string): string {
  const uses = Object.entries(commands).filter(([name]) => Object.hasOwn(COMMANDS, name));
  const one = uses.find(([name]) => name === command);
  return (one ? [one] : uses).map(([, c]) => `umber ${c.use}`).join(" | ");
}

const [command = "", ...args] = process.argv.slice(2);
try {
  if (!Object.hasOwn(COMMANDS, command)) throw new Usage(`“${command}” is no command`);
  await (
    await COMMANDS[command]()
  )(args);
} catch (e) {
  const message = e instanceof Error ? e.message : String(e);
  const wrong = e instanceof Usage;
  process.stderr.write(wrong ? `${message.replace(/\.$/, "")}. Use: ${meant(command)}\n` : `${message}\n`);
  process.exitCode = wrong || userErrorOf(e) ? 2 : 1;
}
