import { access, mkdir, readdir, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import type { Library } from "../library/library";
import type { Takes } from "../library/takes";
import { ff, numbered } from "../media/arguments";
import { input, run } from "../media/ffmpeg";

export const DEMO_NAME = "The Last Boat to Vell";

interface DemoTake {
  file: string;
  name: string;
  /** What must go, or what it is for. */
  note: string;
  /** Kept as a film, and delivered as numbered stills at this rate. */
  stills?: { rate: [number, number]; count: number };
}
const TAKES: DemoTake[] = [
  { file: "hall.mp4", name: "Ticket hall.mp4", note: "The boom, and its shadow on the wall" },
  { file: "quay.mp4", name: "Quay.mp4", note: "Both fork-lift trucks" },
  { file: "letter.mp4", name: "Letter ####.png", note: "Wire, putty and their shadow", stills: { rate: [12, 1], count: 60 } },
  { file: "office.mp4", name: "Ticket office.mp4", note: "The stepladder, and its mirror image in the hatch" },
  { file: "office-b.mp4", name: "Ticket office, second take.mp4", note: "Nothing: a source without the ladder" },
  { file: "lantern.mp4", name: "Lantern.mp4", note: "The strip of marker tape" },
  { file: "hull.mp4", name: "Hull.mp4", note: "The chalk mark" },
];

/**
 * Fills the database with the demo production, used in place; what is there already stays as it is.
 * `which` is "1" for all of it, or names of takes with commas between them.
 */
export async function seedDemo(library: Library, takes: Takes, root: string, unpacked: string, which: string): Promise<void> {
  const named = which === "1" ? null : which.split(",");
  const all = await library.productions();
  const demo = all.find((p) => p.name === DEMO_NAME);
  const id = demo?.id ?? (await library.addProduction(DEMO_NAME));
  for (const t of TAKES) {
    if (named && !named.includes(t.file.replace(/\.\w+$/, ""))) continue;
    const path = join(root, "demo", "takes", t.file);
    await access(path).catch(() => {
      throw new Error(`The demo take “${t.file}” is missing: get a whole copy of the program, or make it again with npm run demo:make.`);
    });
    if (demo?.takes.some((x) => x.name === t.name)) continue;
    if (t.stills) {
      const paths = await unpack(path, join(unpacked, t.file.replace(/\.\w+$/, "")), t.stills.count);
      await takes.addStills(id, t.name, { paths }, t.stills.rate, t.note);
    } else await takes.add(id, t.name, path, true, t.note);
  }
}

/** The frames of a film as numbered stills, once; a run that was cut short is made again. */
async function unpack(film: string, folder: string, count: number): Promise<string[]> {
  const list = async () => (await readdir(folder).catch(() => [])).filter((f) => f.endsWith(".png")).sort();
  if ((await list()).length !== count) {
    const part = `${folder}.part`;
    await rm(part, { recursive: true, force: true });
    await rm(folder, { recursive: true, force: true });
    await mkdir(part, { recursive: true });
    await run("ffmpeg", ff`-v error -nostdin -y ${input(film)} -fps_mode passthrough -pix_fmt rgb24 -start_number 1 ${numbered(part, 4, ".png")}`);
    const made = (await readdir(part)).sort();
    for (const [i, f] of made.entries()) await rename(join(part, f), join(part, `letter-${String(i + 1).padStart(4, "0")}.png`));
    await rename(part, folder);
  }
  return (await list()).map((f) => join(folder, f));
}
