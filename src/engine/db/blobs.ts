import { createHash } from "node:crypto";
import { inArray } from "drizzle-orm";
import type { Db } from "./open";
import { blobs } from "./schema";

/** Lists of points longer than this, as JSON, are kept by their hash beside the document. */
const LONG = 4096;
const KEY = "$blob";

const isPointList = (v: unknown): v is number[][] => Array.isArray(v) && v.length > 100 && Array.isArray(v[0]) && typeof v[0][0] === "number";

/** Replaces long point lists by their hashes; `found` collects what has to be stored. */
export function withoutBlobs(value: unknown, found: Map<string, string>): unknown {
  if (isPointList(value)) {
    const data = JSON.stringify(value);
    if (data.length > LONG) {
      const hash = createHash("sha256").update(data).digest("hex");
      found.set(hash, data);
      return { [KEY]: hash };
    }
    return value;
  }
  if (Array.isArray(value)) return value.map((v) => withoutBlobs(v, found));
  if (typeof value === "object" && value !== null) return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, withoutBlobs(v, found)]));
  return value;
}

/** Reads JSON whose long lists lie in the blob table. */
export async function parseWithBlobs(db: Db, json: string): Promise<unknown> {
  const hashes = [...new Set([...json.matchAll(/"\$blob":"([0-9a-f]{64})"/g)].map((m) => m[1]))];
  const rows = hashes.length ? await db.select().from(blobs).where(inArray(blobs.hash, hashes)) : [];
  const data = new Map(rows.map((r) => [r.hash, r.data]));
  return JSON.parse(json, (_, v: unknown) => {
    if (typeof v !== "object" || v === null || !(KEY in v)) return v;
    const d = data.get((v as Record<string, string>)[KEY]);
    if (d === undefined) throw new Error("A stroke's points are missing from the database.");
    return JSON.parse(d) as unknown;
  });
}
