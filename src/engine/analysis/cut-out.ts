import { Colours } from "../../core/cutout/colours";
import type { Point } from "../../core/document/geometry";
import type { BuiltFrom } from "../../core/document/plate";
import { boundsOf, type Cut } from "../../core/cutout/cut";
import { Cutter } from "../../core/cutout/cutter";
import { Shutter } from "../../core/cutout/drawn-out";
import { edgeAlpha } from "../../core/cutout/edge";
import { Ground } from "../../core/cutout/ground";
import { learnPassing } from "../../core/cutout/passing";
import type { Frame, Rect } from "../../core/pixels/frame";
import { gridOf } from "../../core/plate/regions";
import type { FrameStore } from "../media/frame-store";
import { sceneOf, type TakeIndex } from "../media/index-file";
import { BLOCK } from "../../wire/layout";
import { step, type Watch } from "../watch";
import { buildPlate } from "./build";

/** Frames by which it is known how the take differs from its plate where nothing stands, and what passes in it. */
const SAMPLES = 16;
/** How often a plate is built anew because the thing rests somewhere. */
const ROUNDS = 3;

export interface CutOutAsk {
  /** The frame on which the thing is outlined, and the outline in take pixels. */
  at: number;
  outline: readonly (readonly number[])[];
  /** First and last frame in which it is looked for. */
  from: number;
  to: number;
  /** Whether it is a shadow, or else a thing. */
  shadow?: boolean;
  /** In place of the outline: where it is on that frame, 1 at every pixel of it. */
  known?: Uint8Array;
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
 * outlined, from frame to frame. Where it rests so long that it is the ground for most of the time, the plate is built without that.
 * @returns the frames on which it is seen, in their order
 * @throws MediaError where no plate can be built
 */
export async function cutOut(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  { at, outline, from, to, shadow = false, known: form }: CutOutAsk,
  watch: Watch,
): Promise<FrameMatte[]> {
  const scene = sceneOf(index, at, at);
  const load = (f: number) => store.frame(id, index, f);
  const count = Math.min(SAMPLES, scene.out - scene.in + 1);
  const sampled = Array.from({ length: count }, (_, k) => scene.in + Math.round((k * (scene.out - scene.in)) / Math.max(1, count - 1)));
  const samples = await Promise.all(sampled.map(load));
  const [first, last] = [Math.max(from, scene.in), Math.min(to, scene.out)];
  const full = index.info.colour.range === "full";
  const rests = form ? null : restsAt(samples, sampled, at, await load(at), outline);
  const keepOut: KeepOut[] = rests ? [{ outline: [...outline] as Point[], frames: rests }] : [];
  for (let round = 0; ; round++) {
    const { frame: plate } = await buildPlate(store, id, index, { in: scene.in, out: scene.out, at, keepOut }, null, null, { signal: watch.signal });
    const ground = new Ground(plate, full, samples);
    const others = new Colours();
    for (const f of samples) learnPassing(others, ground, f);
    const found: FrameMatte[] = [];
    const shutter = new Shutter();
    const known = keepOut.length;
    let done = 0;
    const keep = (f: number, cut: Cut, pace: readonly [number, number]) => {
      // the shadow of what moves has a soft rim of its own
      const part = seenPart({ f, rect: cut.rect, alpha: edgeAlpha(cut, shadow ? undefined : pace, shutter) });
      if (part) found.push(part);
    };
    const begun = new Cutter(ground, form ?? outline, others, shadow);
    step(watch, ++done, last - first + 1);
    const outlined = begun.next(await load(at));
    let pace: readonly [number, number] | null = null;
    for (const way of [1, -1]) {
      const cutter = begun.fork();
      for (let f = at + way; f >= first && f <= last; f += way) {
        step(watch, ++done, last - first + 1);
        const next = f + way * BLOCK;
        if (next >= first && next <= last) store.expect(id, index, next);
        const cut = cutter.next(await load(f));
        if (cutter.rests && round < ROUNDS) {
          // it stays there for so long that the plate took it for the ground: it is built anew without that place
          keepOut.push({ outline: cutter.rests, frames: way > 0 ? [f, scene.out] : [scene.in, f] });
          break;
        }
        // how fast it was on the outlined frame, the next one tells
        pace ??= cutter.pace;
        keep(f, cut, cutter.pace);
      }
    }
    if (at >= first && at <= last) keep(at, outlined, pace ?? [0, 0]);
    if (keepOut.length > known) continue;
    found.sort((a, b) => a.f - b.f);
    return found;
  }
}

type KeepOut = NonNullable<BuiltFrom["keepOut"]>[number];

/** Codes of luma by which means may differ for the same to be seen, and the share of an outline within which it may be otherwise. */
const SAME = 8;
const OTHERWISE = 0.15;
/** Side of the squares whose means are compared, pixels. */
const SQUARE = 4;

/**
 * The frames about the outlined one on which the same is seen within the outline, where that is so on its neighbours among some: the thing
 * rests there, and must not be taken for the ground. Null where it moves, or rests in all of them, so that nothing is known of the ground.
 */
function restsAt(
  samples: readonly Frame[],
  sampled: readonly number[],
  at: number,
  frame: Frame,
  outline: readonly (readonly number[])[],
): [number, number] | null {
  const { data, width, height } = gridOf(outline, Math.ceil(frame.width / SQUARE), Math.ceil(frame.height / SQUARE), SQUARE);
  const unit = 2 ** (frame.format.bits - 8) * SQUARE * SQUARE;
  const sum = ({ planes: [y] }: Frame, cx: number, cy: number) => {
    let s = 0;
    for (let j = 0; j < SQUARE; j++)
      for (let i = 0; i < SQUARE; i++) s += y.data[Math.min(y.height - 1, cy * SQUARE + j) * y.width + Math.min(y.width - 1, cx * SQUARE + i)];
    return s / unit;
  };
  const same = samples.map((other) => {
    let [n, unlike] = [0, 0];
    for (let y = 0, k = 0; y < height; y++)
      for (let x = 0; x < width; x++, k++) {
        if (!data[k]) continue;
        n++;
        if (Math.abs(sum(frame, x, y) - sum(other, x, y)) > SAME) unlike++;
      }
    return n > 0 && unlike <= OTHERWISE * n;
  });
  const after = sampled.findIndex((f) => f >= at);
  let [a, b] = [after < 0 ? sampled.length : after, after < 0 ? sampled.length : after];
  while (a > 0 && same[a - 1]) a--;
  while (b < sampled.length && same[b]) b++;
  if (b - a < 2 || b - a === sampled.length) return null;
  return [a > 0 ? sampled[a - 1] + 1 : sampled[0], b < sampled.length ? sampled[b] - 1 : sampled[sampled.length - 1]];
}
