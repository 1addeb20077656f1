/**
 * `npm run bench [-- NAME … [--judges]]`: the rows of the quality table that exist so far, each beside its outside judge in the same run,
 * as a table and in benchmarks/last.json.
 */
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { machineNow } from "./machine";
import { figureOf, root, type Row } from "./measure";
import { proof } from "./proof/main";
import { boxes } from "./rows/boxes";
import { camera } from "./rows/camera";
import { cutout } from "./rows/cutout";
import { history } from "./rows/history";
import { distance, maskEdit } from "./rows/masks";
import { memory, render } from "./rows/render";
import { fill, seam, touches } from "./rows/retouch";
import { follow } from "./rows/follow";
import { find, plate, stillness, survey } from "./rows/scout";
import { bigTake, maskOnScreen, playing } from "./rows/screen";
import { exactFrame, reading } from "./rows/takes";
import { makeTake } from "./take";
import { judges, truth } from "./truth/main";

const parts: Record<string, () => Promise<Row[]>> = {
  distance,
  maskEdit,
  exactFrame,
  reading,
  playing,
  maskOnScreen,
  bigTake,
  memory,
  render,
  stillness,
  survey,
  plate,
  find,
  follow,
  boxes,
  camera,
  cutout,
  touches,
  seam,
  fill,
  history,
  proof,
  truth,
};

// takes that take no part in tuning are looked at on their own, when they are asked for
if (process.argv.includes("--judges")) parts.truth = judges;
const wanted = process.argv.slice(2).filter((a) => a !== "--judges");
const unknown = wanted.find((n) => !(n in parts));
if (unknown) {
  console.error(`There is no row “${unknown}” to measure; there are ${Object.keys(parts).join(", ")}.`);
  process.exit(2);
}
const { buildEngine } = (await import(join(root, "scripts/launch/steps.mjs"))) as { buildEngine: (r: string) => Promise<void> };
await buildEngine(root);
makeTake();
const rows: Row[] = [];
for (const [name, measure] of Object.entries(parts)) {
  if (wanted.length && !wanted.includes(name)) continue;
  const before = await machineNow();
  for (const r of await measure()) rows.push({ ...r, machine: [before, r.machine].filter(Boolean).join(", ") });
}

// beside each row the best so far on this machine, and what fell by more than 5 %
const BEST = join(root, "benchmarks", "best.json");
const best = existsSync(BEST) ? (JSON.parse(readFileSync(BEST, "utf8")) as Record<string, string>) : {};
const fell: string[] = [];
for (const r of rows) {
  const [now, then] = [figureOf(r.ours, r.reach), figureOf(best[r.what] ?? "", r.reach)];
  if (now && then && (now.less ? now.value > 1.05 * then.value : now.value < then.value / 1.05))
    fell.push(`${r.what}: ${r.ours}, once ${best[r.what]}`);
  if (now && (!then || (now.less ? now.value < then.value : now.value > then.value))) best[r.what] = r.ours;
}
writeFileSync(BEST, JSON.stringify(best, null, 2) + "\n");
console.table(rows.map((r) => ({ ...r, best: best[r.what] ?? "–", ok: r.reach === "–" ? "–" : r.ok ? "yes" : "NO" })));
for (const r of rows.filter((x) => !x.ok)) console.log(`not reached: ${r.what}: ${r.ours} (${r.reach})`);
for (const f of fell) console.log(`fell: ${f}`);
if (!wanted.length) writeFileSync(join(root, "benchmarks", "last.json"), JSON.stringify(rows, null, 2) + "\n");
