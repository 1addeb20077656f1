import { access } from "node:fs/promises";
import { join } from "node:path";
import type { Library } from "../db/library";
import type { Takes } from "../jobs/takes";

export const DEMO_NAME = "The Last Boat to Vell";
const TAKES = [{ file: "hall.mp4", name: "Ticket hall.mp4" }];

/** Fills the database with the demo production, used in place; what is there already stays as it is. */
export async function seedDemo(library: Library, takes: Takes, root: string): Promise<void> {
  const all = await library.productions();
  const demo = all.find((p) => p.name === DEMO_NAME);
  const id = demo?.id ?? (await library.addProduction(DEMO_NAME));
  for (const t of TAKES) {
    const path = join(root, "demo", "takes", t.file);
    await access(path).catch(() => {
      throw new Error(`The demo take “${t.file}” is missing: get a whole copy of the program, or make it again with npm run demo:make.`);
    });
    if (!demo?.takes.some((x) => x.name === t.name)) await takes.add(id, t.name, path, true);
  }
}
