import { readFile, rm } from "node:fs/promises";
import type { DataPaths } from "../paths";

/** What a job has put among what is coming in, taken from there: read, and gone. */
export async function taken(paths: DataPaths, name: string): Promise<Buffer> {
  const file = paths.arriving(name);
  const bytes = await readFile(file);
  await rm(file, { force: true });
  return bytes;
}
