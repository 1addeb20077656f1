import { Colours } from "../../core/cutout/colours";
import { boundsOf } from "../../core/cutout/cut";
import { Cutter } from "../../core/cutout/cutter";
import { edgeAlpha } from "../../core/cutout/edge";
import { Ground } from "../../core/cutout/ground";
import { learnPassing } from "../../core/cutout/passing";
import type { Rect } from "../../core/pixels/frame";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";
import { buildPlate } from "./build";

/** Frames by which it is known how the take differs from its plate where nothing stands, and what passes in it. */
const SAMPLES = 16;

export interface CutOutAsk {
  /** The frame on which the thing is outlined, and the outline in take pixels. */
  at: number;
  outline: readonly (readonly number[])[];
  /** First and last frame in which it is looked for. */
  from: number;
  to: number;
}

/** The matte of one frame: 8-bit α, row by row over a rectangle of the take; nothing beyond it. */
export interface FrameMatte {
  f: number;
  rect: Rect;
  alpha: Uint8Array;
}

/** The part of a matte in which anything is; null where nothing is. */
export function seenPart({ f, rect, alpha }: FrameMatte): FrameMatte | null {
  const b = boundsOf({ rect, inside: alpha });
  if (!b) return null;
  const [w, wide] = [rect.x1 - rect.x0, b.x1 - b.x0];
  const out = new Uint8Array(wide * (b.y1 - b.y0));
  for (let y = b.y0; y < b.y1; y++) {
    const from = (y - rect.y0) * w + b.x0 - rect.x0;
    out.set(alpha.subarray(from, from + wide), (y - b.y0) * wide);
  }
  return { f, rect: b, alpha: out };
}

/** A frame's matte over the whole take. */
export function overTake({ rect, alpha }: FrameMatte, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const w = rect.x1 - rect.x0;
  for (let y = rect.y0; y < rect.y1; y++) out.set(alpha.subarray((y - rect.y0) * w, (y - rect.y0 + 1) * w), y * width + rect.x0);
  return out;
}

/**
 * The matte of an outlined thing through a take that stands still: what differs from a plate built of its scene and looks like what was
 * outlined, from frame to frame. @param each takes the matte of a frame; frames come onward first, then back
 * @throws MediaError where no plate can be built
 */
export async function cutOut(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  { at, outline, from, to }: CutOutAsk,
  each: (m: FrameMatte) => Promise<void>,
  watch: Watch,
): Promise<void> {
  const scene = sceneOf(index, at);
  const { frame: plate } = await buildPlate(store, id, index, { in: scene.in, out: scene.out, at }, null, null, { signal: watch.signal });
  const load = (f: number) => store.frame(id, index, f);
  const count = Math.min(SAMPLES, scene.out - scene.in + 1);
  const samples = await Promise.all(
    Array.from({ length: count }, (_, k) => load(scene.in + Math.round((k * (scene.out - scene.in)) / Math.max(1, count - 1)))),
  );
  const ground = new Ground(plate, index.info.colour.range === "full", samples);
  const others = new Colours();
  for (const f of samples) learnPassing(others, ground, f);
  const [first, last] = [Math.max(from, scene.in), Math.min(to, scene.out)];
  let done = 0;
  for (const way of [1, -1]) {
    const cutter = new Cutter(ground, outline, others);
    for (let f = at; f >= first && f <= last; f += way) {
      step(watch, ++done, last - first + 2);
      const cut = cutter.next(await load(f));
      if (way > 0 || f !== at) await each({ f, rect: cut.rect, alpha: edgeAlpha(cut) });
    }
  }
}

/** The frames of the scene that a frame is part of: from cut to cut. */
function sceneOf({ cuts, info }: TakeIndex, at: number): { in: number; out: number } {
  return { in: cuts.findLast((c) => c <= at) ?? 0, out: (cuts.find((c) => c > at) ?? info.frames) - 1 };
}
