/** `npm run demo:make`: makes every take of the demo production and its ground truth again. */
import { makeHall } from "./hall";

const here = (p: string) => new URL(p, import.meta.url).pathname;
await makeHall({ raw: here("../raw/hall"), takes: here("../takes"), truth: here("../truth"), report: (l) => console.log(l) });
