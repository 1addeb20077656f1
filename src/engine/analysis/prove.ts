import { activeLayers, assertRuns, layerPictures, litPictures, sourcePicture } from "../../core/compose/compose";
import { frameLight, relit } from "../../core/compose/evenlight";
import { unframed } from "../../core/compose/reframe";
import { layerOpacity, maskAlphas, type MatteCache, preparePatch } from "../../core/compose/patch";
import { maskAt } from "../../core/compose/tie";
import { isPaint, isPatch, type PatchLayer } from "../../core/document/layer";
import { outputOf, type Recipe } from "../../core/document/recipe";
import { grayOf } from "../../core/motion/gray";
import { referenceOf, register } from "../../core/motion/register";
import { colourPlanes, type Frame, isEmpty, type Rect, union } from "../../core/pixels/frame";
import { type Doubt, type Proof, severity, verdictOf } from "../../core/proof/finding";
import { barRects } from "../../core/proof/bars";
import { alphaCells, cellCount } from "../../core/proof/grid";
import { judged, sharpness } from "../../core/proof/judge";
import { PatchRecord } from "../../core/proof/patch-record";
import { pivotOf } from "../../core/match/light";
import { BarMeter } from "../../core/survey/bars";
import type { PictureRef } from "../../core/retouch/plate";
import { maskBounds } from "../../core/shape/mask";
import type { FrameStore } from "../media/frame-store";
import { sceneOf } from "../media/index-file";
import { checkFrames, composer } from "../render/composer";
import type { Pictures } from "../render/pictures";
import type { TakeFile } from "../render/spec";
import { step, type Watch } from "../watch";

/** Frames by which the scene is known: without the patch, and with it, where it moves. */
const SAMPLES = { bare: 24, laid: 10 };
/** Frames before and after a patch in which what it hides may still be seen. */
const BESIDE = 96;
/** Frames in a row in which nothing of it is seen, after which it counts as gone. */
const QUIET = 3;
/** Pixels by which a corner may move before a camera does not count as locked off. */
const LOCKED = 0.6;

/** What is proven: a recipe, its takes and its pictures. */
export interface ProofSpec {
  recipe: Recipe;
  takes: Record<string, TakeFile>;
  pictures: Pictures;
}

/** Measures what is still wrong in the frames that a recipe writes, patch by patch, on exact pictures. */
export async function prove({ recipe: whole, takes, pictures }: ProofSpec, store: FrameStore, watch: Watch): Promise<Proof> {
  assertRuns(whole);
  const recipe = unframed(whole);
  checkFrames(recipe, takes);
  const shot = takes[recipe.shot.take];
  const { info } = shot.index;
  const range = outputOf(recipe);
  const work = composer(recipe, takes, store, pictures);
  const mattes: MatteCache = new WeakMap();
  // what is laid under the patches is the footage in the light that layers give it
  const lightAt = (n: number) => frameLight(recipe, n, pictures.gains);
  const load = async (n: number) => {
    const frame = await store.frame(shot.id, shot.index, n);
    const light = lightAt(n);
    return light ? relit(frame, light.footage, work.canvas) : frame;
  };
  const layers = recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers.filter((l) => l.on !== false).map((layer) => ({ intruder: i.id, layer })));
  const doubts: Doubt[] = layers
    .filter(({ layer }) => isPaint(layer))
    .map(({ intruder, layer }) => ({ intruder, layer: layer.id, says: "What is painted on single frames is not measured: look at it yourself." }));
  const records: PatchRecord[] = [];
  for (const { intruder, layer } of layers) {
    if (!isPatch(layer)) continue;
    const rect = reachOf(recipe, layer, range, info, work.canvas.tracks);
    if (!isEmpty(rect)) records.push(new PatchRecord(intruder, layer, info, rect));
  }
  const scene = sceneOf(shot.index, range.in, range.out);
  const together = (r: PatchRecord, n: number): Float32Array | null => {
    const active = activeLayers(recipe, n).filter((l): l is PatchLayer => !isPaint(l));
    if (!active.length) return null;
    const out = new Float32Array(cellCount(r.grid)).fill(1);
    for (const l of active) {
      const opacity = layerOpacity(l, n);
      const a = alphaCells(
        maskAlphas(maskAt(recipe, l, n, work.canvas.tracks), n, work.canvas, info.format, colourPlanes(info.format), mattes)[0],
        r.grid,
      );
      for (let i = 0; i < out.length; i++) out[i] *= 1 - a[i] * opacity;
    }
    return out.map((v) => 1 - v);
  };
  const plan = records.map((r) => ({ r, samples: samplesFor(r.layer, scene) }));
  const sampled = [...new Set(plan.flatMap((p) => p.samples))].sort((a, b) => a - b);
  const frames = Array.from({ length: range.out - range.in + 1 }, (_, k) => range.in + k).filter((n) =>
    records.some(({ layer: l }) => n >= l.in && n <= l.out),
  );
  let done = 0;
  const still = new Stillness();
  const meter = new BarMeter();
  for (const n of sampled) {
    step(watch, ++done, sampled.length + frames.length);
    const frame = await load(n);
    still.add(frame);
    meter.add(frame.planes[0], info.format.bits);
    for (const { r, samples } of plan) {
      if (!samples.includes(n)) continue;
      const covered = together(r, n);
      const paired = !covered && n < scene.out && !together(r, n + 1);
      r.addSample(n, frame, covered, paired ? await load(n + 1) : undefined);
    }
  }
  const full = info.colour.range === "full" || info.format.model !== "yuv";
  const bars = barRects(meter.result(pivotOf(false, full)), info.width, info.height);
  for (const r of records) {
    r.bars = bars;
    r.settle();
  }
  const look = async (r: PatchRecord, n: number, live: Frame, mended: Frame) => {
    const { layer, at } = asIfLaid(recipe, r.layer, n, takes);
    await work.fetch(layerPictures(recipe, layer, at));
    const light = lightAt(n);
    const lit = light ? litPictures(recipe, work.pictures, work.canvas, light) : work.pictures;
    const patch = preparePatch(recipe, layer, at, sourcePicture(recipe, layer, at, lit), info.format, work.canvas, mattes);
    r.look({ n, live, mended, patch, laid: layerOpacity(r.layer, n), together: together(r, n) ?? new Float32Array(cellCount(r.grid)) });
  };
  for (const n of frames) {
    step(watch, ++done, sampled.length + frames.length);
    const laid = records.filter(({ layer: l }) => n >= l.in && n <= l.out);
    if (!laid.length) continue;
    const live = await load(n);
    const mended = await work.frame(n);
    for (const r of laid) await look(r, n, live, mended);
  }
  // beside a patch, as long as what it hides may be seen there
  for (const r of records)
    for (const way of [-1, 1] as const) {
      const from = way < 0 ? Math.min(range.out + 1, r.layer.in) : Math.max(range.in - 1, r.layer.out);
      for (let k = 1, quiet = 0; k <= BESIDE && quiet < QUIET; k++) {
        const n = from + way * k;
        if (n < range.in || n > range.out) break;
        await look(r, n, await load(n), await work.frame(n));
        quiet = r.isSeenAt(n) ? 0 : quiet + 1;
      }
    }
  const moved = still.moved();
  for (const r of records) r.cameraMoves = moved;
  const told = records.map((r) => judged(r));
  const findings = told.flatMap((t) => t.findings).sort((a, b) => severity(b) - severity(a));
  doubts.push(...told.flatMap((t) => t.doubts));
  if (moved > LOCKED)
    for (const r of records)
      if (!r.layer.tied)
        doubts.push({
          intruder: r.intruder,
          layer: r.layer.id,
          says: `The camera moves by ${moved.toFixed(1)} px and the patch follows no track: what a clean frame shows cannot be laid over the others.`,
        });
  return {
    verdict: verdictOf(findings, doubts),
    findings,
    doubts,
    looked: lookedAt(frames.length, records.length, sharpness(records)),
  };
}

/**
 * A patch in a frame in which it is not laid: as if it went on until there, or where its picture has no such frame, as it is in the nearest
 * one in which it is laid.
 */
function asIfLaid(recipe: Recipe, l: PatchLayer, n: number, takes: Record<string, TakeFile>): { layer: PatchLayer; at: number } {
  const at = Math.min(l.out, Math.max(l.in, n));
  if (at === n) return { layer: l, at };
  const on = { ...l, in: Math.min(l.in, n), out: Math.max(l.out, n), fadeIn: 0, fadeOut: 0 };
  const there = (r: PictureRef) => "plate" in r || (r.frame >= 0 && r.frame < takes[r.take].index.info.frames);
  return l.source.repeat === undefined && layerPictures(recipe, on, n).every(there) ? { layer: on, at: n } : { layer: l, at };
}

/** What was looked at, and how sharply, in words. */
function lookedAt(frames: number, patches: number, sharp: number | null): string {
  const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;
  const what = `${count(frames, "frame", "frames")} of ${count(patches, "patch", "patches")}`;
  return sharp === null ? what : `${what}; what differs by ${sharp.toFixed(1)} codes over some 12 pixels would have been seen`;
}

/** All that a patch's mask reaches in the frames that are written. */
function reachOf(
  recipe: Recipe,
  l: PatchLayer,
  range: { in: number; out: number },
  { width, height }: { width: number; height: number },
  tracks: Parameters<typeof maskAt>[3],
): Rect {
  let all: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
  for (let n = Math.max(l.in, range.in); n <= Math.min(l.out, range.out); n++)
    all = union(all, maskBounds(maskAt(recipe, l, n, tracks), n, width, height));
  return all;
}

/** Frames that show what a patch hides as it is without: as many as there are before and after it, spread, and some in which it is laid. */
function samplesFor(l: PatchLayer, scene: { in: number; out: number }): number[] {
  const [bare, laid]: number[][] = [[], []];
  for (let n = scene.in; n <= scene.out; n++) (n < l.in || n > l.out ? bare : laid).push(n);
  const some = (list: number[], most: number) => {
    const count = Math.min(most, list.length);
    return Array.from({ length: count }, (_, k) => list[Math.floor(((k + 0.5) * list.length) / count)]);
  };
  const known = some(bare, SAMPLES.bare);
  // a patch that is laid in all frames is known by those alone
  return [...known, ...some(laid, SAMPLES.laid + (SAMPLES.bare - known.length))].sort((a, b) => a - b);
}

/** Whether the camera stands still, by some frames. */
class Stillness {
  private first: ReturnType<typeof referenceOf> | null = null;
  private corner = 0;
  private readonly shifts: number[] = [];
  private count = 0;

  add(frame: Frame): void {
    const gray = grayOf(frame.planes[0], frame.format.bits);
    this.corner = Math.hypot(gray.width, gray.height) / 2;
    if (!this.first) this.first = referenceOf(gray);
    else if (this.count++ % 6 === 0) {
      const a = register(this.first, gray);
      if (a) this.shifts.push(Math.hypot(a.dx, a.dy) + this.corner * Math.hypot((a.angle * Math.PI) / 180, a.scale - 1));
    }
  }

  /** How far a corner moves, pixels: in the frame in the middle of those that were asked. */
  moved(): number {
    return this.shifts.length ? this.shifts.sort((a, b) => a - b)[this.shifts.length >> 1] : 0;
  }
}
