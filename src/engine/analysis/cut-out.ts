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
import { gridOf, grown } from "../../core/plate/regions";
import type { FrameStore } from "../media/frame-store";
import { sceneOf, type TakeIndex } from "../media/index-file";
import { BLOCK } from "../../wire/layout";
import { step, type Watch } from "../watch";
import { buildPlate } from "./build";
import { cameraOf } from "./camera-of";
import { restsAt } from "./rests-at";

/** Frames by which it is known how the take differs from its plate where nothing stands, and what passes in it. */
const SAMPLES = 16;
/** How often a plate is built anew because the thing rests somewhere. */
const ROUNDS = 3;
/** Pixels round what is there on all frames within which the ground is not known: so many at least, and so much of its size. */
const ROOM = { least: 12, share: 0.25 };

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
 * The matte of an outlined thing through a take: what differs from a plate built of its scene and looks like what was outlined, from frame
 * to frame. A camera that moves is followed, and the plate seen as each frame has it. Where the thing rests so long that it is the ground
 * for most of the time, the plate is built without that; where it is there on all frames, it is told by its colours and those around it.
 * @returns the frames on which it is seen, in their order
 * @throws MediaError where the camera moves farther than can be followed
 */
export async function cutOut(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  { at, outline, from, to, shadow = false, known }: CutOutAsk,
  watch: Watch,
): Promise<FrameMatte[]> {
  const { width, height, colour } = index.info;
  const load = (f: number) => store.frame(id, index, f);
  const whole = sceneOf(index, at, at);
  const [first, last] = [Math.max(from, whole.in), Math.min(to, whole.out)];
  const camera = await cameraOf(whole, [first, last], at, load, watch);
  const { scene } = camera;
  const count = Math.min(SAMPLES, scene.out - scene.in + 1);
  const sampled = Array.from({ length: count }, (_, k) => scene.in + Math.round((k * (scene.out - scene.in)) / Math.max(1, count - 1)));
  const samples = await Promise.all(sampled.map(load));
  const aligned = camera.moves ? sampled.map((f) => camera.of(f)!) : undefined;
  const form = known ?? gridOf(outline, width, height, 1).data;
  const outlined = await load(at);
  const rests = restsAt({ frames: samples, numbers: sampled, aligned }, at, outlined, form);
  // nobody has corrected it yet: its rest is known from what was outlined
  const keepOut: KeepOut[] = Array.isArray(rests) && !known ? [{ outline: [...outline] as Point[], frames: rests }] : [];
  let unknown: Uint8Array | null = null;
  let plate: Frame | null = null;
  for (let round = 0; ; round++) {
    plate ??=
      scene.in === scene.out
        ? outlined
        : (await buildPlate(store, id, index, { in: scene.in, out: scene.out, at, keepOut }, camera.still, null, { signal: watch.signal })).frame;
    const ground = new Ground(plate, colour.range === "full", samples, aligned, unknown);
    const others = new Colours();
    samples.forEach((f, k) => learnPassing(others, ground, f, aligned?.[k]));
    const found: FrameMatte[] = [];
    const shutter = new Shutter();
    const kept = keepOut.length;
    let done = 0;
    const keep = (f: number, cut: Cut, pace: readonly [number, number]) => {
      // the shadow of what moves has a soft rim of its own
      const part = seenPart({ f, rect: cut.rect, alpha: edgeAlpha(cut, shadow ? undefined : pace, shutter) });
      if (part) found.push(part);
    };
    const begun = new Cutter(ground, known ?? outline, others, shadow);
    step(watch, ++done, last - first + 1);
    const there = begun.next(outlined);
    const stays = rests === "always" || (rests === "mostly" && begun.isHidden);
    if (stays && !shadow && !unknown && !begun.isWire) {
      unknown = around(form, width, height);
      continue;
    }
    let pace: readonly [number, number] | null = null;
    for (const way of [1, -1]) {
      const cutter = begun.fork();
      for (let f = at + way; f >= first && f <= last; f += way) {
        step(watch, ++done, last - first + 1);
        const next = f + way * BLOCK;
        if (next >= first && next <= last) store.expect(id, index, next);
        const cut = cutter.next(await load(f), camera.of(f));
        if (cutter.rests && !camera.moves && round < ROUNDS) {
          // it stays there for so long that the plate took it for the ground: it is built anew without that place
          keepOut.push({ outline: cutter.rests, frames: way > 0 ? [f, scene.out] : [scene.in, f] });
          break;
        }
        // how fast it was on the outlined frame, the next one tells
        pace ??= cutter.pace;
        keep(f, cut, cutter.pace);
      }
    }
    if (at >= first && at <= last) keep(at, there, pace ?? [0, 0]);
    if (keepOut.length > kept) {
      plate = null;
      continue;
    }
    found.sort((a, b) => a.f - b.f);
    return found;
  }
}

type KeepOut = NonNullable<BuiltFrom["keepOut"]>[number];

/** A form with so much room that what is no part of it is seen too. */
function around(form: Uint8Array, width: number, height: number): Uint8Array {
  const area = form.reduce((n, v) => n + v, 0);
  return grown({ width, height, data: form }, Math.max(ROOM.least, Math.round(ROOM.share * Math.sqrt(area)))).data;
}
