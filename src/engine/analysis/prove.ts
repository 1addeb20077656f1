import { activeLayers, assertRuns, layerPictures, litPictures, sourcePicture } from "../../core/compose/compose";
import { frameLight, relit } from "../../core/compose/evenlight";
import { unframed } from "../../core/compose/reframe";
import { layerOpacity, maskAlphas, type MatteCache, preparePatch } from "../../core/compose/patch";
import { maskAt } from "../../core/compose/tie";
import { isPaint, isPatch, type PatchLayer } from "../../core/document/layer";
import { outputOf, type Recipe } from "../../core/document/recipe";
import { median } from "../../core/motion/gray";
import { colourPlanes, type Frame, isEmpty } from "../../core/pixels/frame";
import { type Doubt, type PatchVerdict, type Proof, severity, verdictOf } from "../../core/proof/finding";
import { barRects } from "../../core/proof/bars";
import { alphaCells, cellCount } from "../../core/proof/grid";
import { judged } from "../../core/proof/judge";
import { PatchRecord } from "../../core/proof/patch-record";
import { pivotOf } from "../../core/match/light";
import { BarMeter } from "../../core/survey/bars";
import type { FrameStore } from "../media/frame-store";
import { sceneOf } from "../media/index-file";
import { checkFrames, composer } from "../render/composer";
import type { Pictures } from "../render/pictures";
import { BLOCK } from "../../wire/layout";
import type { TakeFile } from "../render/spec";
import { step, type Watch } from "../watch";
import { asIfLaid } from "./proof/as-laid";
import { type Laid, reaching, reachOf, verdictKey } from "./proof/reach";
import { samplesFor, sceneSamples } from "./proof/samples";
import { Stillness } from "./proof/stillness";

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

/** What is known of patches already, by the hash of all it comes from. */
export type KnownVerdicts = Readonly<Record<string, PatchVerdict>>;

/** Measures what is still wrong in the frames that a recipe writes, patch by patch, on exact pictures. */
export const prove = async (spec: ProofSpec, store: FrameStore, watch: Watch): Promise<Proof> => (await provePatches(spec, store, watch)).proof;

/**
 * The same, where some of it is known: a patch is measured anew only where something was changed that reaches it.
 * @returns beside the proof the verdicts it is made of, by the hashes of all that they come from
 */
export async function provePatches(
  { recipe: whole, takes, pictures }: ProofSpec,
  store: FrameStore,
  watch: Watch,
  known: KnownVerdicts = {},
): Promise<{ proof: Proof; verdicts: Record<string, PatchVerdict> }> {
  assertRuns(whole);
  const recipe = unframed(whole);
  checkFrames(recipe, takes);
  const { info } = takes[recipe.shot.take].index;
  const range = outputOf(recipe);
  const { canvas } = composer(recipe, takes, store, pictures);
  const layers = recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers.filter((l) => l.on !== false).map((layer) => ({ intruder: i.id, layer })));
  const all = layers.flatMap(({ intruder, layer }): Laid[] => {
    if (!isPatch(layer)) return [];
    const rect = reachOf(recipe, layer, range, info, canvas.tracks);
    return isEmpty(rect) ? [] : [{ intruder, layer, rect }];
  });
  const ids = Object.fromEntries(Object.entries(takes).map(([k, t]) => [k, t.id]));
  const asked = all.map((laid) => {
    const record = new PatchRecord(laid.intruder, laid.layer, info, laid.rect);
    return { laid, record, key: verdictKey(recipe, laid, record.pixels, all, ids) };
  });
  const fresh = asked.filter((a) => !known[a.key]);
  const measured = await measure({ recipe, takes, pictures }, store, watch, all, fresh.map((a) => a.record)); // prettier-ignore
  const verdicts = Object.fromEntries(asked.map((a) => [a.key, known[a.key] ?? measured.get(a.record)!]));
  const told = asked.map((a) => verdicts[a.key]);
  const findings = told.flatMap((t) => t.findings).sort((a, b) => severity(b) - severity(a));
  const painted: Doubt[] = layers
    .filter(({ layer }) => isPaint(layer))
    .map(({ intruder, layer }) => ({ intruder, layer: layer.id, says: "What is painted on single frames is not measured: look at it yourself." }));
  const doubts = [...painted, ...told.flatMap((t) => t.doubts)];
  const frames = framesOf(range).filter((n) => all.some(({ layer }) => isLaidAt(layer, n))).length;
  const proof = {
    verdict: verdictOf(findings, doubts),
    findings,
    doubts,
    figures: Object.fromEntries(asked.map((a) => [a.laid.layer.id, verdicts[a.key].figures])),
    looked: lookedAt(
      frames,
      all.length,
      told.flatMap((t) => t.sharp ?? []),
    ),
  };
  return { proof, verdicts };
}

const framesOf = (r: { in: number; out: number }) => Array.from({ length: r.out - r.in + 1 }, (_, k) => r.in + k);
const isLaidAt = (l: PatchLayer, n: number) => n >= l.in && n <= l.out;

/** Measures some patches among all that are laid. */
async function measure(
  { recipe, takes, pictures }: ProofSpec,
  store: FrameStore,
  watch: Watch,
  all: readonly Laid[],
  records: readonly PatchRecord[],
): Promise<Map<PatchRecord, PatchVerdict>> {
  if (!records.length) return new Map();
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
  return new Map(records.map((r) => [r, judged(r)]));
}

/** What was looked at, and how sharply, in words. @param sharp codes from which on something is seen, by patch */
function lookedAt(frames: number, patches: number, sharp: readonly number[]): string {
  const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;
  const what = `${count(frames, "frame", "frames")} of ${count(patches, "patch", "patches")}`;
  return sharp.length ? `${what}; what differs by ${median([...sharp]).toFixed(1)} codes over some 12 pixels would have been seen` : what;
}
