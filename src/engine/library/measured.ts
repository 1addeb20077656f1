import { createHash } from "node:crypto";
import { mkdir, stat } from "node:fs/promises";
import { dirname } from "node:path";
import { and, eq, inArray } from "drizzle-orm";
import type { MeasuredHead } from "../../core/measured";
import { NotFound } from "../db/documents";
import type { Db } from "../db/open";
import { measured } from "../db/schema";
import { canonical } from "../../core/plate/keys";
import type { TakeFile } from "../render/spec";
import { writeWhole } from "../media/index-file";
import type { DataPaths } from "../paths";

/** What names something that is made of a take and of what was asked: SHA-256, in hexadecimal. */
export const madeOf = ({ id, index }: TakeFile, ...asked: unknown[]): string =>
  createHash("sha256")
    .update(canonical([id, index.hashes[0], index.hashes.length, ...asked]))
    .digest("hex");

/** What was measured for recipes: tracks, cut-outs, gains, grain, facts of takes; kept by the hash of its content, and never changed. */
export class Measured {
  constructor(
    private readonly db: Db,
    private readonly paths: Pick<DataPaths, "measured">,
  ) {}

  /** Makes what was measured readable for jobs, which do not open the database. */
  async lay(hashes: readonly string[]): Promise<void> {
    for (const hash of hashes) {
      const file = this.paths.measured(hash);
      if (await stat(file).catch(() => null)) continue;
      await mkdir(dirname(file), { recursive: true });
      await writeWhole(file, (await this.get(hash)).data);
    }
  }

  /** Keeps something; the same content is kept once, as it was first measured. @returns the SHA-256 of its content */
  async put(head: MeasuredHead, data: Uint8Array): Promise<string> {
    const hash = createHash("sha256").update(data).digest("hex");
    await this.db
      .insert(measured)
      .values({ hash, ...head, data: Buffer.from(data), createdAt: Date.now() })
      .onConflictDoNothing();
    return hash;
  }

  /** @throws NotFound where nothing of this hash was measured */
  async get(hash: string): Promise<{ head: MeasuredHead; data: Uint8Array }> {
    const [row] = await this.db.select().from(measured).where(eq(measured.hash, hash));
    if (!row) throw new NotFound("What was measured is not there (any more): measure it again.");
    const { kind, method, of, data } = row;
    return { head: { kind, method, of }, data: new Uint8Array(data) };
  }

  /** The hash of what was measured so before; null where it was not. */
  async known({ kind, method, of }: MeasuredHead): Promise<string | null> {
    const same = and(eq(measured.kind, kind), eq(measured.method, method), eq(measured.of, of));
    const [row] = await this.db.select({ hash: measured.hash }).from(measured).where(same).limit(1);
    return row?.hash ?? null;
  }

  /** Those of some hashes of which nothing is there. */
  async missing(hashes: readonly string[]): Promise<string[]> {
    const rows = hashes.length
      ? await this.db
          .select({ hash: measured.hash })
          .from(measured)
          .where(inArray(measured.hash, [...hashes]))
      : [];
    const there = new Set(rows.map((r) => r.hash));
    return hashes.filter((h) => !there.has(h));
  }
}
