import { activeLayers, layerPictures, litPictures, sourcePicture } from "../../../core/compose/compose";
import { frameLight, relit } from "../../../core/compose/evenlight";
import { layerOpacity, maskAlphas, preparePatch } from "../../../core/compose/patch";
import { maskAt } from "../../../core/compose/tie";
import { isPaint, type PatchLayer } from "../../../core/document/layer";
import { outputOf, type Recipe } from "../../../core/document/recipe";
import { pivotOf } from "../../../core/match/light";
import { colourPlanes, type Frame } from "../../../core/pixels/frame";
import { barRects } from "../../../core/proof/bars";
import type { PatchVerdict } from "../../../core/proof/finding";
import { alphaCells, cellCount } from "../../../core/proof/grid";
import { judged } from "../../../core/proof/judge";
import { PatchRecord } from "../../../core/proof/patch-record";
import { BarMeter } from "../../../core/survey/bars";
import { BLOCK } from "../../../wire/layout";
import type { FrameStore } from "../../media/frame-store";
import { sceneOf } from "../../media/index-file";
import { composer } from "../../render/composer";
import type { Pictures } from "../../render/pictures";
import type { TakeFile } from "../../render/spec";
import { step, type Watch } from "../../watch";
import { asIfLaid } from "./as-laid";
import { type Laid, reaching } from "./reach";
import { samplesFor, sceneSamples } from "./samples";
import { Stillness } from "./stillness";

/** Frames before and after a patch in which what it hides may still be seen. */
const BESIDE = 96;
/** Frames in a row in which nothing of it is seen, after which it counts as gone. */
const QUIET = 3;

/** What is proven: a recipe, its takes and its pictures. */
export interface ProofSpec {
  recipe: Recipe;
  takes: Record<string, TakeFile>;
  pictures: Pictures;
}

/** The same with all patches that are laid. */
export interface Measured extends ProofSpec {
  all: readonly Laid[];
}

/** Where exact frames come from. */
export type Frames = Pick<FrameStore, "frame" | "expect">;

export const framesOf = (r: { in: number; out: number }) => Array.from({ length: r.out - r.in + 1 }, (_, k) => r.in + k);
export const isLaidAt = (l: PatchLayer, n: number) => n >= l.in && n <= l.out;

/**
 * Measures some patches among all that are laid.
 * @param which of `all` by their places there
 */
export async function measure(
  { recipe, takes, pictures, all }: Measured,
  which: readonly number[],
  store: Frames,
  watch: Watch,
): Promise<Map<number, PatchVerdict>> {
  const shot = takes[recipe.shot.take];
  const { info } = shot.index;
  const records = which.map((i) => new PatchRecord(all[i].intruder, all[i].layer, info, all[i].rect));
  const range = outputOf(recipe);
  const work = composer(recipe, takes, store, pictures);
  const { mattes } = work;
  // what is laid under the patches is the footage in the light that layers give it
  const lightAt = (n: number) => frameLight(recipe, n, pictures.gains);
  const load = async (n: number) => {
    const frame = await store.frame(shot.id, shot.index, n);
    const light = lightAt(n);
    return light ? relit(frame, light.footage, work.canvas) : frame;
  };
  const scene = sceneOf(shot.index, range.in, range.out);
  const plan = records.map((r) => ({ r, samples: samplesFor(r.layer, scene), beside: new Set(reaching(r.pixels, all).map((l) => l.layer.id)) }));
  /** α at a record's cells of all patches that reach there; null where none is laid. */
  const together = ({ r, beside }: (typeof plan)[number], n: number): Float32Array | null => {
    const active = activeLayers(recipe, n).filter((l): l is PatchLayer => !isPaint(l) && beside.has(l.id));
    if (!active.length) return null;
    const out = new Float32Array(cellCount(r.grid)).fill(1);
    for (const l of active) {
      const opacity = layerOpacity(l, n);
      const [luma] = maskAlphas(maskAt(recipe, l, n, work.canvas.tracks), n, work.canvas, info.format, colourPlanes(info.format), mattes);
      const a = alphaCells(luma, r.grid);
      for (let i = 0; i < out.length; i++) out[i] *= 1 - a[i] * opacity;
    }
    return out.map((v) => 1 - v);
  };
  const whole = sceneSamples(scene);
  const sampled = [...new Set([...whole, ...plan.flatMap((p) => p.samples)])].sort((a, b) => a - b);
  const frames = framesOf(range).filter((n) => records.some((r) => isLaidAt(r.layer, n)));
  let done = 0;
  const still = new Stillness();
  const meter = new BarMeter();
  for (const n of sampled) {
    step(watch, ++done, sampled.length + frames.length);
    if (n + BLOCK <= scene.out) store.expect(shot.id, shot.index, n + BLOCK);
    const frame = await load(n);
    if (whole.includes(n)) {
      still.add(frame);
      meter.add(frame.planes[0], info.format.bits);
    }
    for (const p of plan) {
      if (!p.samples.includes(n)) continue;
      const covered = together(p, n);
      const paired = !covered && n < scene.out && !together(p, n + 1);
      p.r.addSample(n, frame, covered, paired ? await load(n + 1) : undefined);
    }
  }
  const full = info.colour.range === "full" || info.format.model !== "yuv";
  const bars = barRects(meter.result(pivotOf(false, full)), info.width, info.height);
  const moved = still.moved();
  for (const r of records) {
    r.bars = bars;
    r.cameraMoves = moved;
    r.settle();
  }
  const look = async (p: (typeof plan)[number], n: number, live: Frame, mended: Frame) => {
    const { layer, at } = asIfLaid(recipe, p.r.layer, n, takes);
    await work.fetch(layerPictures(recipe, layer, at));
    const light = lightAt(n);
    const lit = light ? litPictures(recipe, work.pictures, work.canvas, light) : work.pictures;
    const patch = preparePatch(recipe, layer, at, sourcePicture(recipe, layer, at, lit), info.format, work.canvas, mattes);
    const alphas = together(p, n) ?? new Float32Array(cellCount(p.r.grid));
    p.r.look({ n, live, mended, patch, laid: layerOpacity(p.r.layer, n), together: alphas });
  };
  for (const n of frames) {
    step(watch, ++done, sampled.length + frames.length);
    if (n + BLOCK <= range.out) store.expect(shot.id, shot.index, n + BLOCK);
    const live = await load(n);
    const mended = await work.frame(n);
    for (const p of plan) if (isLaidAt(p.r.layer, n)) await look(p, n, live, mended);
  }
  // beside a patch, as long as what it hides may be seen there
  for (const p of plan)
    for (const way of [-1, 1] as const) {
      const { r } = p;
      const from = way < 0 ? Math.min(range.out + 1, r.layer.in) : Math.max(range.in - 1, r.layer.out);
      for (let k = 1, quiet = 0; k <= BESIDE && quiet < QUIET; k++) {
        const n = from + way * k;
        if (n < range.in || n > range.out) break;
        await look(p, n, await load(n), await work.frame(n));
        quiet = r.isSeenAt(n) ? 0 : quiet + 1;
      }
    }
  return new Map(records.map((r, k) => [which[k], judged(r)]));
}
