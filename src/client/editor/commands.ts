import { heldCodes, shownKeys } from "../input/keys";
import type { Command } from "./commands/command";
import { PICTURE } from "./commands/picture";
import { TIME } from "./commands/time";
import { TOOLS } from "./commands/tools";
import { WORK } from "./commands/work";

/** Every command of the editor, in one place: what it does, in what words it is shown, which key it has unless somebody has chosen another. */
export const COMMANDS = { ...TIME, ...PICTURE, ...WORK, ...TOOLS };
export type CommandId = keyof typeof COMMANDS;
export const COMMAND_IDS = Object.keys(COMMANDS) as CommandId[];
export const commandOf = (id: CommandId): Command => COMMANDS[id];

/** Keys that are others than the usual ones, by commands. */
export type OwnKeys = Readonly<Record<string, string>>;

/** The keys of a command. */
export const keysOf = (id: CommandId, own: OwnKeys): string => own[id] ?? COMMANDS[id].keys;

/** The command that has a single key, if any but `id` has it. */
const taker = (keys: string, own: OwnKeys, id: CommandId) => COMMAND_IDS.find((k) => k !== id && keysOf(k, own).split(",").includes(keys));

/** What the browser keeps for itself, or moves about the page with. */
const BROWSER = /^(mod\+(shift\+)?[wtnqrlpdfhjou]|mod\+\d|mod\+tab|alt\+(left|right|home|f4)|f\d+|(shift\+)?tab|mod\+(equal|minus|0))$/;

/** Why a key cannot be given to a command, as a sentence; null where it can. */
export function whyNot(id: CommandId, keys: string, own: OwnKeys): string | null {
  if (BROWSER.test(keys)) return `${shownKeys(keys)} belongs to the browser: choose another key.`;
  if ("held" in COMMANDS[id] && keys.includes("+"))
    return `This works while a key is held, so it needs a single key: ${shownKeys(keys)} is more than one.`;
  const other = taker(keys, own, id);
  return other ? `${shownKeys(keys)} is taken by “${COMMANDS[other].says}”: give that another key first.` : null;
}

/** The keys that are left when one is set; setting the usual one forgets the choice. */
export function withOwnKey(own: OwnKeys, id: CommandId, keys: string | null): Record<string, string> {
  const { [id]: _, ...rest } = own;
  return keys === null || keys === COMMANDS[id].keys ? rest : { ...rest, [id]: keys };
}

/** Whether an event tells of a key that a command is held by. */
export const holds = (id: CommandId, own: OwnKeys, e: { code: string }): boolean => heldCodes(keysOf(id, own)).includes(e.code);
