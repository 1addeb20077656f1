/**
 * `npm run demo:make [-- NAME …]`: makes the takes of the demo production and their ground truth again, all or the named ones.
 * Raw renders are kept in `demo/raw`, so that a stopped run goes on where it was.
 */
import { makeHall } from "./hall";
import { makeHull } from "./hull";
import { makeLantern } from "./lantern";
import { makeLetter } from "./letter";
import { makeOffice } from "./office";
import { makeQuay } from "./quay";

const MAKERS = { hall: makeHall, quay: makeQuay, letter: makeLetter, lantern: makeLantern, office: makeOffice, hull: makeHull };
const here = (p: string) => new URL(p, import.meta.url).pathname;
const named = process.argv.slice(2);
const unknown = named.filter((n) => !(n in MAKERS));
if (unknown.length) {
  console.error(`There is no take “${unknown[0]}”; the takes are ${Object.keys(MAKERS).join(", ")}.`);
  process.exit(2);
}
for (const [name, make] of Object.entries(MAKERS))
  if (!named.length || named.includes(name))
    await make({ raw: here(`../raw/${name}`), takes: here("../takes"), truth: here("../truth"), report: (l) => console.log(l) });
