/**
 * `npm run bench [-- NAME …]`: the rows of the quality table that exist so far, each beside its outside judge in the same run,
 * as a table and in bench/last.json.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { root, type Row } from "./measure";
import { distance, maskEdit } from "./rows/masks";
import { memory, render } from "./rows/render";
import { fill, seam, touches } from "./rows/retouch";
import { find, plate, stillness } from "./rows/scout";
import { bigTake, maskOnScreen, playing } from "./rows/screen";
import { exactFrame, reading } from "./rows/takes";
import { makeTake } from "./take";
import { truth } from "./truth/main";

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
  plate,
  find,
  touches,
  seam,
  fill,
  truth,
};

const wanted = process.argv.slice(2);
const unknown = wanted.find((n) => !(n in parts));
if (unknown) {
  console.error(`There is no row “${unknown}” to measure; there are ${Object.keys(parts).join(", ")}.`);
  process.exit(2);
}
const { buildEngine } = (await import(join(root, "scripts/launch/steps.mjs"))) as { buildEngine: (r: string) => Promise<void> };
await buildEngine(root);
makeTake();
const rows: Row[] = [];
for (const [name, measure] of Object.entries(parts)) if (!wanted.length || wanted.includes(name)) rows.push(...(await measure()));
console.table(rows);
if (!wanted.length) writeFileSync(join(root, "bench", "last.json"), JSON.stringify(rows, null, 2) + "\n");
