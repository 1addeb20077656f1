import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { frames } from "../../demo/make/decode";
import { type Judge, JUDGES } from "../../demo/make/judges/list";
import { type Made, makeJudge, SIZE, stayOf } from "../../demo/make/judges/make";
import type { Point } from "../../src/core/document/geometry";
import type { Rect } from "../../src/core/pixels/frame";
import { convexHull } from "../../src/core/shape/hull";
import { file } from "../measure";
import { matched } from "./matched";
import { covers, type Known, pictures } from "./truth";

/** How far beyond what is seen of it an outline is drawn, in pixels, and how softly it ends. */
const ROOM = 5;
const FEATHER = 4;
/** Frames on either side for which the patch is laid beyond those in which the intruder was seen. */
const SPARE = 2;

class JudgeTruth implements Known {
  readonly film: string;
  readonly width = SIZE.width;
  readonly height = SIZE.height;
  readonly frames = SIZE.frames;
  readonly worst: number[] = [];
  readonly known: Rect = { x0: 0, y0: 0, x1: SIZE.width, y1: SIZE.height };
  constructor(private readonly made: Made) {
    this.film = made.film;
  }
  clean(list: number[], box: Rect) {
    return pictures(this.made.clean, this.width, this.height, list, box);
  }
  mattes(list: number[], box: Rect) {
    return covers([this.made.matte], this, list, box);
  }
}

/** Every judge with its truth and the recipe that mends it, made when they are asked for. */
export async function* judged(names = JUDGES.map((j) => j.name)): AsyncGenerator<{ name: string; known: Known; recipe: string }> {
  const folder = file("judges");
  mkdirSync(folder, { recursive: true });
  for (const j of JUDGES.filter((x) => names.includes(x.name))) {
    const made = await makeJudge(j, folder);
    const recipe = join(folder, `${j.name}.json`);
    writeFileSync(recipe, JSON.stringify(await matched(simpleRecipe(j, made), folder), null, 1));
    yield { name: j.name, known: new JudgeTruth(made), recipe };
  }
}

/** One patch from the last frame before the intruder comes, under an outline around all that is ever seen of it. */
function simpleRecipe(j: Judge, made: Made) {
  const stay = stayOf(j);
  const list = Array.from({ length: stay.out - stay.in + 1 }, (_, i) => stay.in + i);
  const points: Point[] = [];
  for (const m of frames(made.matte, list, "gray", SIZE.width * SIZE.height))
    for (let i = 0; i < m.length; i++) if (m[i] > 6) points.push([(i % SIZE.width) + 0.5, Math.floor(i / SIZE.width) + 0.5]);
  return {
    format: "umber-moth/recipe",
    version: 1,
    name: j.name,
    takes: { a: { path: made.film } },
    shot: { take: "a", in: 0, out: SIZE.frames - 1 },
    plates: {},
    intruders: [
      {
        id: "i",
        name: j.intruder,
        layers: [
          {
            id: "p",
            kind: "patch",
            in: stay.in - SPARE,
            out: stay.out + SPARE,
            source: { take: "a", hold: stay.in - 2 * SPARE },
            mask: { shapes: [{ kind: "path", op: "add", points: convexHull(points) }], grow: ROOM, feather: FEATHER },
          },
        ],
      },
    ],
  };
}
