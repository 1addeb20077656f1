import { readFile } from "node:fs/promises";
import { z } from "zod";
import { preferencesSchema } from "../wire/preferences";
import { writeWhole } from "./media/index-file";

const settingsSchema = z.object({ cache: z.number().optional(), preferences: preferencesSchema.optional().catch(undefined) });
export type Settings = z.infer<typeof settingsSchema>;

/** What the user set and the environment does not. A damaged file counts as none. */
export async function readSettings(path: string): Promise<Settings> {
  try {
    return settingsSchema.parse(JSON.parse(await readFile(path, "utf8")));
  } catch {
    return {};
  }
}

export const writeSettings = (path: string, s: Settings) => writeWhole(path, JSON.stringify(s, null, 2));
