import { createClient } from "@libsql/client";
import { copyFile, mkdir, open, readdir, readFile, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { movedIfThere, writeWhole } from "../media/index-file";
import type { DataPaths } from "../paths";
import { StartFailure } from "./start-failure";

/** Kept copies of the database, and going back to one. */
export interface Copy {
  name: string;
  /** When it was made, in milliseconds. */
  at: number;
  kind: "daily" | "before-migration";
  bytes: number;
}

/** Generations kept of each kind. */
const KEPT = 3;
/** Endings of the files that may lie beside an open database. */
const BESIDE = ["-wal", "-shm"];
const NAME = /^umber-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)-(daily|before-migration)\.db$/;
const stamp = (at: number) => new Date(at).toISOString().slice(0, 19).replaceAll(":", "-");

/** The copies there are, newest first. */
export async function copies(paths: DataPaths): Promise<Copy[]> {
  const found: Copy[] = [];
  for (const name of await readdir(paths.copies).catch(() => [])) {
    const m = NAME.exec(name);
    const s = m && (await stat(join(paths.copies, name)).catch(() => null));
    if (m && s) found.push({ name, at: Date.parse(`${m[1]}T${m[2]}:${m[3]}:${m[4]}Z`), kind: m[5] as Copy["kind"], bytes: s.size });
  }
  return found.sort((a, b) => b.at - a.at);
}

/** Opens a database and checks that it is sound and one of ours. @throws StartFailure when it is not */
export async function checkDatabase(file: string): Promise<void> {
  const client = createClient({ url: `file:${file}` });
  try {
    const said = (await client.execute("PRAGMA quick_check")).rows[0]?.[0];
    if (said !== "ok") throw new Error(String(said));
    for (const table of ["shots", "revisions"]) await client.execute(`SELECT count(*) FROM ${table}`);
  } catch {
    throw new StartFailure("This copy of the database is damaged: choose another one.");
  } finally {
    client.close();
  }
}

/** Removes a database file that only served on the way, with what lies beside it. */
export async function dropDatabase(file: string): Promise<void> {
  for (const end of ["", ...BESIDE]) await rm(file + end, { force: true });
}

/** Makes a copy of the open database as it stands, checks it, and drops the oldest of its kind. */
export async function makeCopy(paths: DataPaths, kind: Copy["kind"], now: number, vacuumInto: (file: string) => Promise<unknown>): Promise<void> {
  await mkdir(paths.copies, { recursive: true });
  const part = join(paths.copies, `.part-${process.pid}.db`);
  try {
    await rm(part, { force: true });
    await vacuumInto(part);
    await checkDatabase(part);
    await synced(part);
    await rename(part, join(paths.copies, `umber-${stamp(now)}-${kind}.db`));
  } finally {
    await dropDatabase(part);
  }
  const old = (await copies(paths)).filter((c) => c.kind === kind).slice(KEPT);
  for (const c of old) await rm(join(paths.copies, c.name), { force: true });
}

/** The file of a kept copy. @throws StartFailure when it is not there */
async function copyNamed(paths: DataPaths, name: string): Promise<string> {
  if (!(await copies(paths)).some((c) => c.name === name)) throw new StartFailure("There is no such copy (any more): choose another one.");
  return join(paths.copies, name);
}

/** Whether the day's copy is still to be made. */
export async function dailyIsDue(paths: DataPaths, now: number): Promise<boolean> {
  const newest = (await copies(paths)).find((c) => c.kind === "daily");
  return !newest || stamp(newest.at).slice(0, 10) !== stamp(now).slice(0, 10);
}

/**
 * Puts a copy in the database's place; what was there is set aside and kept. Nothing may have the database open.
 * @throws StartFailure when the copy is not there or damaged
 */
export async function goBackTo(paths: DataPaths, name: string, now: number): Promise<void> {
  await replaceDatabase(paths, await copyNamed(paths, name), now);
}

/** Notes that the program is to go back to a copy at its next start, before anything is opened. @throws StartFailure when the copy is not there or damaged */
export async function askToGoBack(paths: DataPaths, name: string): Promise<void> {
  await checkDatabase(await copyNamed(paths, name));
  await writeWhole(paths.goBack, JSON.stringify({ name }));
}

/** Goes back where that was asked for. */
export async function goBackIfAsked(paths: DataPaths, now: number): Promise<void> {
  const text = await readFile(paths.goBack, "utf8").catch(() => null);
  if (text === null) return;
  await rm(paths.goBack, { force: true });
  await goBackTo(paths, (JSON.parse(text) as { name: string }).name, now);
}

/** Puts the file of a database in ours' place, checked before. */
export async function replaceDatabase(paths: DataPaths, file: string, now: number): Promise<void> {
  const part = `${paths.database}.${process.pid}.part`;
  await copyFile(file, part);
  try {
    await checkDatabase(part);
    for (const end of BESIDE) await rm(part + end, { force: true });
    await synced(part);
    const aside = join(paths.aside, `database-${stamp(now)}`);
    await mkdir(aside, { recursive: true });
    for (const end of [...BESIDE, ""]) await movedIfThere(paths.database + end, join(aside, `umber.db${end}`));
    await rename(part, paths.database);
  } finally {
    await dropDatabase(part);
  }
}

async function synced(file: string): Promise<void> {
  const fh = await open(file, "r+");
  await fh.sync().finally(() => fh.close());
}
