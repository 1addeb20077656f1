import { createClient } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { mkdir } from "node:fs/promises";
import { join } from "node:path";
import * as schema from "./schema";

export type Db = LibSQLDatabase<typeof schema>;

/** Opens the database for writing; only the engine does. WAL, and every commit is on disk before it is answered. */
export async function openDatabase(folder: string, migrations: string): Promise<Db> {
  await mkdir(folder, { recursive: true });
  const client = createClient({ url: `file:${join(folder, "umber.db")}` });
  await client.execute("PRAGMA journal_mode = WAL");
  await client.execute("PRAGMA synchronous = FULL");
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: migrations });
  return db;
}
