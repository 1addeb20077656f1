import { readFile } from "node:fs/promises";
import { z } from "zod";
import { preferencesSchema } from "../wire/preferences";
import { writeWhole } from "./media/index-file";

const settingsSchema = z.object({ cache: z.number().optional(), preferences: preferencesSchema.optional().catch(undefined) });
export type Settings = z.infer<typeof settingsSchema>;

/** What the user set and the environment does not, kept as a file. */
export class SettingsFile {
  private constructor(
    private readonly path: string,
    private settings: Settings,
  ) {}

  /** A damaged file counts as none. */
  static async read(path: string): Promise<SettingsFile> {
    try {
      return new SettingsFile(path, settingsSchema.parse(JSON.parse(await readFile(path, "utf8"))));
    } catch {
      return new SettingsFile(path, {});
    }
  }

  get now(): Readonly<Settings> {
    return this.settings;
  }

  async set(part: Settings): Promise<void> {
    this.settings = { ...this.settings, ...part };
    await writeWhole(this.path, JSON.stringify(this.settings, null, 2));
  }
}
