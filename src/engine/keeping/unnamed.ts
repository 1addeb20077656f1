import { readdir, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { asc, gt, sql } from "drizzle-orm";
import type { Recipe } from "../../core/document/recipe";
import type { Unnamed as Answer } from "../../wire/keeping";
import type { Db } from "../db/open";
import { blobs, jobs, measured, revisions, shots } from "../db/schema";
import type { DataPaths } from "../paths";

const DAY = 86_400_000;
/** What nothing names goes by itself after so long, in ms: somebody may have put a patch away and want it back next week. */
const WAITS = 30 * DAY;
/** What has only just come in may be about to be named, in ms. */
const FRESH = 3_600_000;
/** Rows that are looked through at once. */
const ROWS = 500;
/** Hashes as they stand in what is stored. */
const HASH = /[0-9a-f]{64}/g;

interface Lying {
  path: string;
  bytes: number;
  /** When it came, or was used last, in ms since 1970. */
  at: number;
}

/** Finds and clears what nothing names any more, in no recipe, no history and no render: pictures, built plates, lists of points, what was measured. */
export class Unnamed {
  private turn: Promise<unknown> = Promise.resolve();

  /**
   * @param recipes of all shots as they stand, those that can be read
   * @param plateNames the folders of a recipe's built plates
   * @param preferred what somebody keeps beside all recipes, as text
   */
  constructor(
    private readonly db: Db,
    private readonly paths: DataPaths,
    private readonly recipes: () => Promise<Recipe[]>,
    private readonly plateNames: (r: Recipe) => Promise<string[]>,
    private readonly preferred: () => string,
  ) {}

  /** Settles when nothing is being cleared: what is to be named now is looked for after that. */
  async calm(): Promise<void> {
    await this.turn;
  }

  /** How much there is. */
  async look(): Promise<Answer> {
    const files = await this.files(Date.now() - FRESH);
    return { count: files.length, bytes: files.reduce((n, f) => n + f.bytes, 0) };
  }

  /** Clears what nobody has used for a month; `now`: all of it. */
  async clear(now = false): Promise<void> {
    const work = async () => {
      for (const f of await this.files(Date.now() - (now ? FRESH : WAITS))) await rm(f.path, { recursive: true, force: true });
    };
    const mine = this.turn.then(work, work);
    this.turn = mine.catch(() => undefined);
    return mine;
  }

  /** Clears rows of the database that nothing names. Nothing may be stored meanwhile. */
  async clearRows(): Promise<void> {
    const named = await this.named();
    for (const [table, key] of [
      [blobs, blobs.hash],
      [measured, measured.hash],
    ] as const) {
      const all = await this.db.select({ hash: key }).from(table);
      const gone = all.map((r) => r.hash).filter((h) => !named.has(h));
      for (let i = 0; i < gone.length; i += ROWS) await this.db.delete(table).where(sql`${key} in ${gone.slice(i, i + ROWS)}`);
    }
  }

  /** What nothing names and was not used since `before` (ms since 1970). */
  private async files(before: number): Promise<Lying[]> {
    const named = await this.named();
    const plates = new Set((await Promise.all((await this.recipes()).map((r) => this.plateNames(r).catch(() => [])))).flat());
    const pictures = (await lying(this.paths.pictures)).filter(([name]) => !named.has(name.slice(0, 64)));
    const built = (await lying(this.paths.built)).filter(([name]) => !plates.has(name));
    return [...pictures, ...built].map(([, l]) => l).filter((l) => l.at < before);
  }

  /** Every hash that stands anywhere in what is stored. */
  private async named(): Promise<Set<string>> {
    const found = new Set<string>();
    const look = (text: string | null) => {
      for (const m of text?.matchAll(HASH) ?? []) found.add(m[0]);
    };
    look(this.preferred());
    for (const s of await this.db.select({ recipe: shots.recipe }).from(shots)) look(s.recipe);
    for (const j of await this.db.select({ spec: jobs.spec }).from(jobs)) look(j.spec);
    for (let after = 0; ;) {
      const rows = await this.db
        .select({ id: sql<number>`rowid`, patches: revisions.patches, inverse: revisions.inverse, snapshot: revisions.snapshot })
        .from(revisions)
        .where(gt(sql`rowid`, after))
        .orderBy(asc(sql`rowid`))
        .limit(ROWS);
      for (const r of rows) [r.patches, r.inverse, r.snapshot].forEach(look);
      if (rows.length < ROWS) return found;
      after = rows.at(-1)!.id;
    }
  }
}

/** Files and folders in a folder, with what they take. */
async function lying(folder: string): Promise<[string, Lying][]> {
  const out: [string, Lying][] = [];
  for (const e of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
    const path = join(folder, e.name);
    const files = e.isDirectory() ? (await readdir(path).catch(() => [])).map((f) => join(path, f)) : [path];
    const stats = (await Promise.all(files.map((f) => stat(f).catch(() => null)))).filter((s) => s !== null);
    out.push([e.name, { path, bytes: stats.reduce((n, s) => n + s.size, 0), at: Math.max(0, ...stats.map((s) => Math.max(s.mtimeMs, s.atimeMs))) }]);
  }
  return out;
}
