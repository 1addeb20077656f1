import { Averager, bring, type Brought, laidTogether } from "../../core/plate/build";
import { alignedCells, type Cells, cellsFrom, cellSize, gridSize, inLightOf } from "../../core/plate/cells";
import { type Choice, chooseFrames } from "../../core/plate/choose";
import { type Grid, gridOf, grown, pieces } from "../../core/plate/regions";
import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";
import type { Stillness } from "../../core/survey/stillness";
import type { BuiltFrom } from "../../core/document/plate";
import { cellPlanes } from "../media/cells";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { MediaError } from "../media/media-error";
import { between } from "./cells";
import { lying } from "./lying";
import { step, type Watch } from "../watch";

/** Frames that are looked at at most: more cost time and hardly find anything new. */
const MOST = 48;

export type Area = [x: number, y: number, width: number, height: number];

/** What a built plate was made of. */
export interface BuiltInfo {
  /** The frame in whose place and light it is. */
  at: number;
  /** Frames that were looked at. */
  frames: number[];
  /** Frames that give a part of the picture, with their share of it, largest first. */
  used: [number, number][];
  grid: { width: number; height: number; cell: number };
  /** For each cell, row by row, an index into `frames`, as runs: [index, count]. */
  labels: [number, number][];
  /** Cells that were never clean, as runs: [0 or 1, count]. */
  never: [number, number][];
  /** Cells in which two things are seen for a while each, so that either may be the background. */
  doubt: [number, number][];
  /** Bounds of the areas of either kind, pixels: x, y, width, height. */
  neverAreas: Area[];
  doubtAreas: Area[];
  averaged: boolean;
}

const IDENTITY: Alignment = { dx: 0, dy: 0, angle: 0, scale: 1, agree: 1 };

/** Frames of a stretch that may be used: those kept out are left out, and of many an even choice is taken. */
export function offered(from: number, to: number, skip: readonly (readonly [number, number])[] = []): number[] {
  const all: number[] = [];
  for (let n = from; n <= to; n++) if (!skip.some(([a, b]) => n >= a && n <= b)) all.push(n);
  if (all.length <= MOST) return all;
  return Array.from({ length: MOST }, (_, i) => all[Math.round((i * (all.length - 1)) / (MOST - 1))]);
}

/** Builds a plate from many frames of a take. @throws MediaError when there is nothing to choose from */
export async function buildPlate(
  store: FrameStore,
  takeId: string,
  t: TakeIndex,
  b: BuiltFrom,
  still: Stillness | null,
  folder: string | null,
  watch: Watch = {},
): Promise<{ frame: Frame; info: BuiltInfo }> {
  const { width, height, colour, format, frames: total } = t.info;
  if (b.out >= total) throw new RangeError(`The stretch ends at frame ${b.out}, and the take has frames 0 to ${total - 1}.`);
  const list = offered(b.in, b.out, b.skip);
  const at = b.at ?? b.in;
  if (list.length < 2) throw new MediaError("A plate from many frames needs at least two: choose a longer stretch, or leave fewer frames out.");
  const steps = 3 * list.length;
  const load = (n: number) => store.frame(takeId, t, n);
  const full = colour.range === "full" || format.model !== "yuv";

  const aligned = await alignments(list, at, still, load, (done) => step(watch, done, steps));
  const cells: Cells[] = [];
  const size = gridSize(width, height);
  const small = (planes: Uint16Array) => cellsFrom(planes, size.width, size.height, cellSize(width));
  let reference: Cells | null = null;
  for await (const planes of cellPlanes(t, at, at, folder)) reference = small(planes);
  let n = b.in;
  for await (const planes of cellPlanes(t, b.in, list[list.length - 1], folder)) {
    const k = list.indexOf(n++);
    if (k < 0) continue;
    cells.push(inLightOf(alignedCells(small(planes), aligned[k]), reference!, full));
    step(watch, list.length + cells.length, steps);
  }
  const choice = chooseFrames({ frames: cells, keepOut: keptOut(b, list, aligned, size, cellSize(width)) });

  const used = tally(choice, list);
  const brought = new Map<number, Brought>();
  const bringOne = async (k: number): Promise<Brought> => bring(await load(list[k]), aligned[k], cells[k].light, colour.siting, full);
  const like = await load(at);
  let done = 0;
  for (const k of new Set(choice.label)) {
    brought.set(k, await bringOne(k));
    step(watch, 2 * list.length + done++, steps);
  }
  let frame = laidTogether(choice, like, (k) => brought.get(k)!);
  brought.clear();
  if (b.average) {
    const sum = new Averager(choice, like);
    for (let k = 0; k < list.length; k++) {
      sum.add(k, await bringOne(k));
      step(watch, 2 * list.length + k, steps);
    }
    frame = sum.result(frame);
  }
  const areas = (data: Uint8Array) => areasOf({ width: choice.width, height: choice.height, data }, choice.cell);
  return {
    frame,
    info: {
      at,
      frames: list,
      used,
      grid: { width: choice.width, height: choice.height, cell: choice.cell },
      labels: runs(choice.label),
      never: runs(choice.never),
      doubt: runs(choice.doubt),
      neverAreas: areas(choice.never),
      doubtAreas: areas(choice.doubt),
      averaged: b.average === true,
    },
  };
}

/** How each frame lies against frame `at`: by the survey, or measured now; none where the camera stands still. */
async function alignments(
  list: number[],
  at: number,
  still: Stillness | null,
  load: (n: number) => Promise<Frame>,
  did: (n: number) => void,
): Promise<Alignment[]> {
  if (still) return list.map((n) => (still.verdict === "locked" ? IDENTITY : between(still, at, n)));
  return (await lying(list, at, load, did)).aligned ?? list.map(() => IDENTITY);
}

/** Areas that the user keeps out, a frame each, with a cell of room. */
function keptOut(b: BuiltFrom, list: number[], aligned: Alignment[], size: { width: number; height: number }, cell: number): (Grid | null)[] {
  return list.map((n, k) => {
    const mine = (b.keepOut ?? []).filter((o) => !o.frames || (n >= o.frames[0] && n <= o.frames[1]));
    if (!mine.length) return null;
    const data = new Uint8Array(size.width * size.height);
    const { dx, dy } = aligned[k];
    for (const o of mine) {
      // outlines lie on the frame as it is seen; cells lie where the reference has them
      const g = grown(
        gridOf(
          o.outline.map(([x, y]) => [x - dx, y - dy]),
          size.width,
          size.height,
          cell,
        ),
        1,
      );
      for (let i = 0; i < data.length; i++) data[i] |= g.data[i];
    }
    return { ...size, data };
  });
}

function tally(c: Choice, list: number[]): [number, number][] {
  const counts = new Map<number, number>();
  for (const l of c.label) counts.set(l, (counts.get(l) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([l, n]): [number, number] => [list[l], n / c.label.length]);
}

function runs(v: ArrayLike<number>): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i < v.length; i++) {
    const last = out.at(-1);
    if (last && last[0] === v[i]) last[1]++;
    else out.push([v[i], 1]);
  }
  return out;
}

/** Bounds of the pieces that are more than a speck, largest first. */
function areasOf(g: Grid, cell: number): Area[] {
  return pieces(g)
    .filter((p) => p.length > 5)
    .sort((a, b) => b.length - a.length)
    .map((p) => {
      const xs = p.map((i) => i % g.width);
      const ys = p.map((i) => Math.floor(i / g.width));
      const [x, y] = [Math.min(...xs), Math.min(...ys)];
      return [x * cell, y * cell, (Math.max(...xs) + 1 - x) * cell, (Math.max(...ys) + 1 - y) * cell];
    });
}
