import { createHash } from "node:crypto";
import { inArray } from "drizzle-orm";
import type { Db } from "./open";
import { blobs } from "./schema";

/** Lists of points longer than this, as JSON, are kept by their hash beside the document. */
const LONG = 1024;
/** Hashes asked for at once: SQLite takes some thousand values in a statement. */
const AT_ONCE = 500;
const KEY = "$blob";

const isPointList = (v: unknown): v is number[][] => Array.isArray(v) && v.length > 50 && Array.isArray(v[0]) && typeof v[0][0] === "number";

/** What is known of lists and objects that cannot change any more: how they are written without their long lists. */
export type Slimmed = WeakMap<object, unknown>;

/**
 * Replaces long point lists by their hashes; `found` collects what has to be stored.
 * @param known what was stored so before is not written again; what is new is put into it, and counts once it is stored
 */
export function withoutBlobs(value: unknown, found: Map<string, string>, known?: Slimmed): unknown {
  if (typeof value !== "object" || value === null) return value;
  if (!known || !Object.isFrozen(value) || (Array.isArray(value) && typeof value[0] === "number")) return slim(value, found, known);
  const kept = known.get(value) ?? slim(value, found, known);
  known.set(value, kept);
  return kept;
}

function slim(value: object, found: Map<string, string>, known?: Slimmed): unknown {
  if (isPointList(value)) {
    const data = JSON.stringify(value);
    if (data.length > LONG) {
      const hash = createHash("sha256").update(data).digest("hex");
      found.set(hash, data);
      return { [KEY]: hash };
    }
    return value;
  }
  if (Array.isArray(value)) return typeof value[0] === "number" ? value : value.map((v) => withoutBlobs(v, found, known));
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, withoutBlobs(v, found, known)]));
}

/** Reads JSON whose long lists lie in the blob table. */
export async function parseWithBlobs(db: Db, json: string): Promise<unknown> {
  const hashes = [...new Set([...json.matchAll(/"\$blob":"([0-9a-f]{64})"/g)].map((m) => m[1]))];
  const data = new Map<string, string>();
  for (let i = 0; i < hashes.length; i += AT_ONCE)
    for (const r of await db
      .select()
      .from(blobs)
      .where(inArray(blobs.hash, hashes.slice(i, i + AT_ONCE))))
      data.set(r.hash, r.data);
  return JSON.parse(json, (_, v: unknown) => {
    if (typeof v !== "object" || v === null || !(KEY in v)) return v;
    const d = data.get((v as Record<string, string>)[KEY]);
    if (d === undefined) throw new Error("A stroke's points are missing from the database.");
    return JSON.parse(d) as unknown;
  });
}
