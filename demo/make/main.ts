/**
 * `npm run demo:make [-- [--rough] NAME …]`: makes the takes of the demo production and their ground truth again, all or the named
 * ones; with `--rough`, their rough forms, into `demo/rough`. Raw renders are kept in `demo/raw`, so that a stopped run goes on
 * where it was.
 */
import { makeHall } from "./hall";
import { makeHull } from "./hull";
import { makeLantern } from "./lantern";
import { makeLetter } from "./letter";
import { makeOffice } from "./office";
import { makeQuay } from "./quay";
import { makeRough } from "./rough";

const MAKERS = { hall: makeHall, quay: makeQuay, letter: makeLetter, office: makeOffice, lantern: makeLantern, hull: makeHull };
const here = (p: string) => new URL(p, import.meta.url).pathname;
const names = process.argv.slice(2).filter((a) => a !== "--rough");
const rough = process.argv.includes("--rough");
const unknown = names.filter((n) => !(n in MAKERS));
if (unknown.length) {
  console.error(`There is no take “${unknown[0]}”; the takes are ${Object.keys(MAKERS).join(", ")}.`);
  process.exit(2);
}
for (const [i, [name, make]] of Object.entries(MAKERS).entries()) {
  if (names.length && !names.includes(name)) continue;
  if (rough) await makeRough(here(`../takes/${name}.mp4`), here(`../rough/${name}.mp4`), 100 + i);
  else await make({ raw: here(`../raw/${name}`), takes: here("../takes"), truth: here("../truth"), report: (l) => console.log(l) });
}
