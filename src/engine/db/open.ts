import { createClient, type Client } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { readFileSync } from "node:fs";
import { mkdir, open, readdir, stat } from "node:fs/promises";
import { basename, join } from "node:path";
import { dailyIsDue, makeCopy } from "../keeping/copies";
import { startFailure, StartFailure } from "../keeping/start-failure";
import { type DataPaths, dataPaths } from "../paths";
import * as schema from "./schema";

export type Db = LibSQLDatabase<typeof schema>;

export interface OpenDatabase {
  db: Db;
  /** Makes the day's copy, where it is still to be made. */
  daily: (now: number) => Promise<void>;
  /** Everything goes into the one file, which is closed: copied alone, it is whole. */
  close: () => Promise<void>;
}

/**
 * Opens the database for writing; only the engine does. WAL, and every commit is on disk before it is answered. It is checked
 * first, and copied before it is migrated and once a day.
 * @throws StartFailure in one sentence; the file is then as it was
 */
export async function openChecked(paths: DataPaths, migrations: string, now: number, { check = true } = {}): Promise<OpenDatabase> {
  const folder = basename(paths.data);
  let client: Client | undefined;
  try {
    await mkdir(paths.data, { recursive: true });
    const before = await stat(paths.database).catch(() => null);
    await assertHeader(paths);
    client = createClient({ url: `file:${paths.database}` });
    const own = client;
    const one = async (sql: string) => (await own.execute(sql)).rows[0]?.[0];
    if (before && check) {
      const said = await one("PRAGMA quick_check");
      if (said !== "ok") throw new Error(`SQLITE_CORRUPT: ${String(said)}`);
    }
    const tables = (await own.execute("SELECT name FROM sqlite_master WHERE type = 'table'")).rows.map((r) => String(r[0]));
    await assertNotEmpty(paths, tables, one);
    const applied = tables.includes("__drizzle_migrations") ? Number((await one("SELECT max(created_at) FROM __drizzle_migrations")) ?? 0) : 0;
    const newest = newestMigration(migrations);
    if (applied > newest)
      throw new StartFailure(
        `The database in “${folder}” was written by a newer Umber Moth and is left alone: start that one, or set UMBER_DATA to another folder.`,
      );
    await own.execute("PRAGMA journal_mode = WAL");
    await own.execute("PRAGMA synchronous = FULL");
    const vacuumInto = (file: string) => own.execute({ sql: "VACUUM INTO ?", args: [file] });
    const filled = tables.includes("takes");
    if (filled && applied < newest) await makeCopy(paths, "before-migration", now, vacuumInto);
    const db = drizzle(own, { schema });
    await migrate(db, { migrationsFolder: migrations });
    const daily = async (at: number) => {
      if (Number(await one("SELECT count(*) FROM takes")) > 0 && (await dailyIsDue(paths, at))) await makeCopy(paths, "daily", at, vacuumInto);
    };
    await daily(now);
    return {
      db,
      daily,
      async close() {
        await own.execute("PRAGMA wal_checkpoint(TRUNCATE)").catch(() => undefined);
        own.close();
      },
    };
  } catch (e) {
    client?.close();
    if (!(e instanceof StartFailure)) console.error(e instanceof Error ? e.stack : e);
    throw startFailure(e, folder);
  }
}

/** For tests of what lies on the database: opened at a folder, without anything around it. */
export const openDatabase = async (folder: string, migrations: string): Promise<Db> =>
  (await openChecked(dataPaths(folder), migrations, Date.now())).db;

/** SQLite makes a new database of a file that is too short to be one. */
async function assertHeader(paths: DataPaths): Promise<void> {
  const fh = await open(paths.database, "r+").catch((e: NodeJS.ErrnoException) => {
    if (e.code === "ENOENT") return null;
    throw e;
  });
  if (!fh) return;
  try {
    const { buffer, bytesRead } = await fh.read(Buffer.alloc(16), 0, 16, 0);
    if (bytesRead > 0 && buffer.toString("latin1", 0, 15) !== "SQLite format 3") throw new Error("SQLITE_NOTADB");
  } finally {
    await fh.close();
  }
}

/** An empty database beside takes is no fresh start: its file was lost, or copied without its log. */
async function assertNotEmpty(paths: DataPaths, tables: string[], one: (sql: string) => Promise<unknown>): Promise<void> {
  const beside = await readdir(paths.takes).catch(() => []);
  if (!beside.length) return;
  if (tables.includes("takes") && (Number(await one("SELECT count(*) FROM takes")) > 0 || Number(await one("SELECT count(*) FROM productions")) > 0))
    return;
  throw new StartFailure(
    `The database in “${basename(paths.data)}” is empty, and ${beside.length} ${beside.length === 1 ? "take lies" : "takes lie"} beside it: go back to a kept copy on the first page or with ./umber restore, or move the folder “takes” away to begin anew.`,
  );
}

function newestMigration(folder: string): number {
  const { entries } = JSON.parse(readFileSync(join(folder, "meta", "_journal.json"), "utf8")) as { entries: { when: number }[] };
  return Math.max(...entries.map((e) => e.when));
}
