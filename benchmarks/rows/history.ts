import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { eq, sql } from "drizzle-orm";
import { Documents } from "../../src/engine/db/documents";
import { openDatabase } from "../../src/engine/db/open";
import { revisions, shots } from "../../src/engine/db/schema";
import { Library } from "../../src/engine/library/library";
import { edit } from "../../src/recipe/edits";
import type { TakeInfo } from "../../src/wire/take";
import { p95, type Row, seconds } from "../measure";

const REVISIONS = 40_000;
const STROKES = 1000;
const POINTS = 200;

const brush = { size: 40, hardness: 0.5, opacity: 1, flow: 1, spacing: 0.1 };
const stroke = (k: number) => ({
  id: `s${k}`,
  kind: "clone" as const,
  brush,
  offset: [30, 0] as [number, number],
  path: Array.from({ length: POINTS }, (_, i) => [k + i * 0.75, 300 + Math.sin(k + i / 9) * 40] as [number, number]),
});

/** Edits of a shot that somebody has worked on for weeks, in the engine alone, until each is on disk. */
export async function history(): Promise<Row[]> {
  const db = await openDatabase(mkdtempSync(join(tmpdir(), "umber-bench-")), "drizzle");
  const library = new Library(db);
  const take = await library.addTake(await library.addProduction("The Last Boat to Vell"), "hall.mp4", "/nowhere/hall.mp4", true);
  const shot = await library.addShot(take.id, "hall", { frames: 96 } as TakeInfo);
  const docs = new Documents(db);
  const change = async (docs: Documents, id: string, f: Parameters<typeof edit>[1]) => {
    const { rev, recipe } = await docs.read(shot);
    const { patches, inverse } = edit(recipe, f);
    return { rev, go: () => docs.edit(shot, { editId: id, base: rev, name: "Clone stroke", patches, inverse }) };
  };
  await (
    await change(docs, "first", (d) => {
      d.plates.p = { from: { take: "a", frame: 3 }, touches: Array.from({ length: STROKES }, (_, k) => stroke(k)) };
    })
  ).go();
  // a history as long as weeks make it: renamed again and again
  const line = (rev: number) => ({
    shotId: shot,
    rev,
    editId: `line-${rev}`,
    name: "Name it",
    kind: "edit" as const,
    of: null,
    patches: JSON.stringify([{ op: "replace", path: ["name"], value: `hall ${rev}` }]),
    inverse: JSON.stringify([{ op: "replace", path: ["name"], value: `hall ${rev - 1}` }]),
    snapshot: null,
    createdAt: rev,
  });
  for (let rev = 2; rev <= REVISIONS; rev += 500) {
    const rows = Array.from({ length: Math.min(500, REVISIONS - rev + 1) }, (_, i) => line(rev + i));
    await db.insert(revisions).values(rows);
  }
  const [row] = await db.select().from(shots).where(eq(shots.id, shot));
  const [{ snapshot }] = await db.select({ snapshot: revisions.snapshot }).from(revisions).where(eq(revisions.rev, 1)).limit(1);
  await db
    .update(shots)
    .set({ rev: REVISIONS, recipe: snapshot ?? row.recipe, recipeRev: REVISIONS })
    .where(eq(shots.id, shot));
  const again = new Documents(db);
  const opening = await seconds(() => again.read(shot));
  const took: number[] = [];
  for (let i = 0; i < 200; i++) {
    const e = await change(again, `new-${i}`, (d) => void d.plates.p.touches.push(stroke(STROKES + i)));
    took.push((await seconds(e.go)) * 1000);
  }
  const back: number[] = [];
  for (let i = 0; i < 50; i++) {
    const { rev } = await again.read(shot);
    back.push((await seconds(() => again.steps(shot, { editId: `back-${i}`, base: rev, step: "undo", times: 1 }))) * 1000);
  }
  const bare: number[] = [];
  await db.run(sql`create table bare (k integer primary key, v text)`);
  for (let i = 0; i < 200; i++) bare.push((await seconds(() => db.run(sql`insert into bare (v) values (${JSON.stringify(stroke(i))})`))) * 1000);
  const judge = `p95 ${p95(bare).toFixed(1)} ms: the stroke alone put into SQLite`;
  const rowOf = (what: string, v: number[]): Row => ({ what, ours: `${p95(v).toFixed(1)} ms p95`, reach: "< 10 ms", judge, ok: p95(v) < 10 });
  return [
    rowOf(`a stroke laid after ${REVISIONS} revisions, ${STROKES} strokes of ${POINTS} points`, took),
    rowOf("a step back in the same shot", back),
    { what: "the same shot opened", ours: `${opening.toFixed(2)} s`, reach: "–", judge: "–", ok: true },
  ];
}
