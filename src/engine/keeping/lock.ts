import { type Client, createClient, type Transaction } from "@libsql/client";
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { writeWhole } from "../media/index-file";
import { InUse } from "./start-failure";

/** Where the holder says at which address it answers. */
const RUNNING = "running.json";

/** Held for as long as the process lives: the system gives it free the moment the process ends, however it ends. */
const held: { client: Client; transaction: Transaction }[] = [];

/**
 * Takes the data folder for this process. @throws InUse naming where the other program answers
 * A lock of SQLite's on a file of its own, which two starts in the same moment cannot both have.
 */
export async function takeFolder(folder: string, address: string): Promise<() => void> {
  const client = createClient({ url: `file:${join(folder, "lock.db")}` });
  let transaction: Transaction;
  try {
    transaction = await client.transaction("write");
  } catch (e) {
    client.close();
    if (!/SQLITE_BUSY/.test(`${(e as { code?: string }).code} ${String(e)}`)) throw e;
    const at = await whereRunning(folder);
    throw new InUse(
      `This data folder is in use by Umber Moth${at ? `, which answers at ${at}` : ""}: go there, end it first, or set UMBER_DATA to another folder.`,
    );
  }
  const mine = { client, transaction };
  held.push(mine);
  await writeWhole(join(folder, RUNNING), JSON.stringify({ address, pid: process.pid }));
  return () => {
    held.splice(held.indexOf(mine), 1);
    transaction.close();
    client.close();
  };
}

async function whereRunning(folder: string): Promise<string | null> {
  try {
    const { address } = JSON.parse(await readFile(join(folder, RUNNING), "utf8")) as { address?: unknown };
    return typeof address === "string" && address ? address : null;
  } catch {
    return null;
  }
}
