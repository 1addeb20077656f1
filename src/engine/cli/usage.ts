import { parseArgs } from "node:util";

/** The command was given in a wrong way; said with how it is meant. */
export class Usage extends Error {}

/** The options that a command was given, and the rest. @throws Usage */
export function options(args: string[], names: Record<string, "string" | "boolean">) {
  try {
    const r = parseArgs({ args, allowPositionals: true, options: Object.fromEntries(Object.entries(names).map(([k, type]) => [k, { type }])) });
    return { values: r.values as Record<string, string | boolean | undefined>, rest: r.positionals };
  } catch (e) {
    throw new Usage((e as Error).message.split(".")[0]);
  }
}

/** A whole number within a range. @throws Usage */
export function whole(name: string, v: string | boolean | undefined, min: number, max: number): number {
  const n = Number(v);
  if (v === "" || !Number.isInteger(n) || n < min || n > max)
    throw new Usage(`--${name} was “${String(v)}”; a whole number from ${min} to ${max} is allowed`);
  return n;
}
