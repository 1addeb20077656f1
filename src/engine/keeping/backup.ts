import { createClient } from "@libsql/client";
import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { copyFile, cp, mkdir, readdir, readFile, rename, stat } from "node:fs/promises";
import { dirname, join, relative, sep } from "node:path";
import { z } from "zod";
import { writeWhole } from "../media/index-file";
import { MediaError } from "../media/media-error";
import type { DataPaths } from "../paths";
import { checkDatabase, dropDatabase, replaceDatabase } from "./copies";

/**
 * A folder with everything the application keeps: the database as it stood at one moment, footage and pictures of its own,
 * finished renders, settings. Caches are left out, since they are made again; so is footage that is used where it lies.
 */
const MANIFEST = "backup.json";
const manifestSchema = z.strictObject({
  format: z.literal("umber-moth/backup"),
  version: z.literal(1),
  /** The data folder it was made of: paths in the database count from there. */
  root: z.string(),
  files: z.array(z.strictObject({ path: z.string().regex(/^(?!.*(?:^|\/)\.\.?(?:\/|$))[^\0\\]+$/), bytes: z.number(), sha256: z.string() })),
});

async function sha256(file: string): Promise<string> {
  const sum = createHash("sha256");
  for await (const part of createReadStream(file)) sum.update(part as Buffer);
  return sum.digest("hex");
}

async function filesBelow(folder: string): Promise<string[]> {
  const all = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => []);
  return all.filter((e) => e.isFile()).map((e) => relative(folder, join(e.parentPath, e.name)).split(sep).join("/"));
}

/** Makes a backup in a new folder, also while the program runs. @returns how many files of how many bytes. @throws MediaError in one sentence */
export async function backUp(paths: DataPaths, to: string): Promise<{ files: number; bytes: number }> {
  if (!(await stat(paths.database).catch(() => null))) throw new MediaError("There is nothing to back up: the data folder holds no database yet.");
  if ((await readdir(to).catch(() => [])).length) throw new MediaError("The folder for the backup is not empty: give a new one.");
  await mkdir(to, { recursive: true });
  const database = join(to, "umber.db");
  const live = createClient({ url: `file:${paths.database}` });
  try {
    await live.execute({ sql: "VACUUM INTO ?", args: [database] });
  } finally {
    live.close();
  }
  await checkDatabase(database);
  const copy = createClient({ url: `file:${database}` });
  const own = (await copy.execute("SELECT id FROM takes WHERE own = 1")).rows.map((r) => String(r[0]));
  const renders = (await copy.execute("SELECT id FROM jobs WHERE state = 'done'")).rows.map((r) => String(r[0]));
  copy.close();
  const wanted: string[] = [];
  for (const id of own) for (const f of await filesBelow(paths.take(id))) if (/^(original|stills\/)/.test(f)) wanted.push(`takes/${id}/${f}`);
  for (const id of renders) for (const f of await filesBelow(paths.render(id))) wanted.push(`renders/${id}/${f}`);
  for (const d of ["pictures", "outside"]) for (const f of await filesBelow(join(paths.data, d))) wanted.push(`${d}/${f}`);
  if (await stat(paths.settings).catch(() => null)) wanted.push("settings.json");
  for (const f of wanted) {
    await mkdir(dirname(join(to, f)), { recursive: true });
    await copyFile(join(paths.data, f), join(to, f));
  }
  const files = [];
  for (const path of ["umber.db", ...wanted]) files.push({ path, bytes: (await stat(join(to, path))).size, sha256: await sha256(join(to, path)) });
  // last: a backup without it was cut off
  await writeWhole(join(to, MANIFEST), JSON.stringify({ format: "umber-moth/backup", version: 1, root: paths.data, files }, null, 1));
  return { files: files.length, bytes: files.reduce((n, f) => n + f.bytes, 0) };
}

/**
 * Puts a backup in place of what is in the data folder, after every file was checked; what is replaced is set aside. The folder
 * must be held by the caller's lock. @throws MediaError naming the first file that is missing or damaged
 */
export async function putBack(paths: DataPaths, from: string, now: number): Promise<{ files: number }> {
  const text = await readFile(join(from, MANIFEST), "utf8").catch(() => null);
  if (text === null) throw new MediaError(`This folder holds no whole backup (${MANIFEST} is not there): give one that ./umber backup made.`);
  let manifest: z.infer<typeof manifestSchema>;
  try {
    manifest = manifestSchema.parse(JSON.parse(text));
  } catch {
    throw new MediaError(`The backup cannot be read (${MANIFEST} is damaged or of another version): give another one.`);
  }
  for (const f of manifest.files) {
    const s = await stat(join(from, f.path)).catch(() => null);
    if (s?.size !== f.bytes || (await sha256(join(from, f.path))) !== f.sha256)
      throw new MediaError(
        `The backup is damaged: “${f.path}” ${s ? "is not as it was written" : "is missing"}. Nothing was changed; give another one.`,
      );
  }
  const aside = join(paths.aside, `before-restore-${now}`);
  for (const f of manifest.files) {
    if (f.path === "umber.db") continue;
    const target = join(paths.data, f.path);
    const there = await stat(target).catch(() => null);
    if (there && there.size === f.bytes && (await sha256(target)) === f.sha256) continue;
    if (there) {
      await mkdir(dirname(join(aside, f.path)), { recursive: true });
      await rename(target, join(aside, f.path));
    }
    await mkdir(dirname(target), { recursive: true });
    await cp(join(from, f.path), target);
  }
  const moved = `${paths.database}.restoring`;
  await copyFile(join(from, "umber.db"), moved);
  try {
    if (manifest.root !== paths.data) await rootMoved(moved, manifest.root, paths.data);
    await replaceDatabase(paths, moved, now);
  } finally {
    await dropDatabase(moved);
  }
  return { files: manifest.files.length };
}

/** Paths of files of ours, in a database that comes to lie in another data folder. */
async function rootMoved(file: string, from: string, to: string): Promise<void> {
  const db = createClient({ url: `file:${file}` });
  const json = (s: string) => JSON.stringify(`${s}${sep}`).slice(1, -1);
  try {
    await db.execute({ sql: "UPDATE takes SET path = replace(path, ?, ?) WHERE own = 1", args: [from + sep, to + sep] });
    await db.execute({ sql: "UPDATE takes SET stills = replace(stills, ?, ?) WHERE own = 1 AND stills IS NOT NULL", args: [json(from), json(to)] });
    await db.execute({ sql: "UPDATE jobs SET spec = replace(spec, ?, ?)", args: [json(from), json(to)] });
  } finally {
    db.close();
  }
}
