/// <reference lib="webworker" />
import { activePatches, composeFrame, neededPictures, patchPictures, type Pictures, sourcePicture } from "../../core/compose/compose";
import { type Canvas, type MatteCache } from "../../core/compose/patch";
import { copyRows } from "../../core/compose/window";
import { patchAlone, togetherMatte } from "../../core/compose/views";
import { isPatch, type Recipe, type Touch } from "../../core/document";
import type { Colour } from "../../core/pixels/colour";
import { copyFrame, type Frame, isEmpty, type Rect, sameFormat, union } from "../../core/pixels/frame";
import { quickColour, toQuick } from "../../core/pixels/quick";
import { shrinkFrame } from "../../core/pixels/shrink";
import { toRgba8 } from "../../core/pixels/toRgb";
import { heldFrame, type PictureRef, touchSourceRef } from "../../core/retouch/plate";
import { Frames, NotYet } from "./frames";
import { Plates } from "./plates";
import type { FromWorker, ToWorker, View } from "./protocol";
import { LiveStroke } from "./stroke";

/** The picture worker: it holds the frames and calls the composer, so that the page never waits for pixels. */
const scope = self as unknown as DedicatedWorkerGlobalScope;
const post = (m: FromWorker, transfer: Transferable[] = []) => scope.postMessage(m, transfer);

let frames: Frames;
let plates: Plates;
let recipe: Recipe | null = null;
let newest = 0;
type Show = Extract<ToWorker, { type: "show" }>;
/** Pictures to be made: while playing each in its turn, at rest only the newest. */
let wanted: Show[] = [];
let working = false;
/** Where the newest recipe can differ from what is on the screen; null for anywhere. */
let stale: Rect | null = null;
let live: LiveStroke | null = null;
let liveColour: Colour;
/** Where rectangles of a frame are composed. */
let scratch: Frame | null = null;
const exactMattes: MatteCache = new WeakMap();
const quickMattes: MatteCache = new WeakMap();
const quickPlates = new WeakMap<Frame, Frame>();

const shotTake = () => recipe!.shot.take;
const infoOf = (take: string) => frames.take(take).info!;

function canvas(frame: Frame): Canvas {
  const info = infoOf(shotTake());
  return { width: frame.width, height: frame.height, scale: frame.width / info.width, siting: info.colour.siting };
}

function rgba(frame: Frame, colour: Colour, rect: Rect, fine: boolean): ArrayBuffer {
  const out = new Uint8ClampedArray((rect.x1 - rect.x0) * (rect.y1 - rect.y0) * 4);
  toRgba8(frame, colour, rect, out, fine ? "linear" : "nearest");
  return out.buffer;
}
const whole = (f: Frame): Rect => ({ x0: 0, y0: 0, x1: f.width, y1: f.height });
const NOTHING: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
/** A rectangle with the rows whose chroma its conversion reads. */
const reachOfChroma = (r: Rect, f: Frame): Rect => ({ ...r, y0: Math.max(0, r.y0 - 4), y1: Math.min(f.height, r.y1 + 4) });
const both = (a: Rect | null, b: Rect | null) => a && b && union(a, b);

/** Loads what a frame needs at one quality and returns the picture to show, or the rectangle `part` of a result, as RGBA. */
async function picture(
  r: Recipe,
  { frame: n, view, moving }: Show,
  quality: "exact" | "quick",
  part?: Rect,
): Promise<{ width: number; height: number; data: ArrayBuffer }> {
  const take = shotTake();
  const info = infoOf(take);
  const quick = quality === "quick";
  const colour = quick ? quickColour(info.format, info.colour) : info.colour;
  const load = (t: string, f: number) => (quick ? frames.loadQuick(t, f) : frames.loadExact(t, f));
  const plateOf = async (id: string): Promise<Frame> => {
    const touched = r.plates[id].touches.some((t) => t.on !== false);
    const base = heldFrame(id, r.plates[id]);
    if (!quick) return plates.get(r, id);
    if (!touched) return load(base.take, base.frame);
    const exact = await plates.get(r, id);
    const like = await load(take, n);
    const have = quickPlates.get(exact);
    if (have?.width === like.width) return have;
    const q = toQuick(exact, info.colour, like.width, like.height);
    quickPlates.set(exact, q);
    return q;
  };
  if (view.kind === "plate") {
    const f = await plateOf(view.plate);
    return { width: f.width, height: f.height, data: rgba(f, colour, whole(f), !moving) };
  }
  const below = await load(take, n);
  const size = { width: below.width, height: below.height };
  if (view.kind === "original") return { ...size, data: rgba(below, colour, whole(below), !moving) };
  const c = canvas(below);
  if (view.kind === "matte") {
    const shown = activePatches(r, n).filter((l) => view.layer === null || l.id === view.layer);
    const m = togetherMatte(r, shown, n, c);
    const out = new Uint8ClampedArray(m.length * 4);
    for (let i = 0; i < m.length; i++) {
      out[4 * i] = out[4 * i + 1] = out[4 * i + 2] = m[i] * 255;
      out[4 * i + 3] = 255;
    }
    return { ...size, data: out.buffer };
  }
  const got = new Map<string, Frame>();
  const pictures: Pictures = { take: (t, f) => got.get(`${t}/${f}`)!, plate: (id) => got.get(`p/${id}`)! };
  const fetched = async (refs: PictureRef[]) => {
    for (const ref of refs) {
      if ("plate" in ref) got.set(`p/${ref.plate}`, await plateOf(ref.plate));
      else got.set(`${ref.take}/${ref.frame}`, await load(ref.take, ref.frame));
    }
  };
  if (view.kind === "patch") {
    const l = r.intruders
      .flatMap((i) => i.layers)
      .filter(isPatch)
      .find((x) => x.id === view.layer);
    if (!l) return { ...size, data: rgba(below, colour, whole(below), !moving) };
    await fetched(patchPictures(r, l, n));
    const alone = patchAlone(r, l, n, sourcePicture(r, l, n, pictures), below.format, c, quick ? quickMattes : exactMattes);
    const data = rgba(alone.picture, colour, whole(below), !moving);
    const px = new Uint8ClampedArray(data);
    // over a plain mid grey, so that the edge can be judged
    for (let i = 0; i < alone.alpha.length; i++) for (let k = 0; k < 3; k++) px[4 * i + k] = 64 + (px[4 * i + k] - 64) * alone.alpha[i];
    return { ...size, data };
  }
  await fetched(neededPictures(r, n));
  const mattes = quick ? quickMattes : exactMattes;
  if (part) {
    // while something is dragged no whole frame is copied for every step of it
    if (scratch?.width !== below.width || scratch.height !== below.height || !sameFormat(scratch.format, below.format)) scratch = copyFrame(below);
    else copyRows(below, scratch, reachOfChroma(part, below));
    return { ...size, data: rgba(composeFrame(r, n, scratch, pictures, c, mattes, true), colour, part, true) };
  }
  const out = composeFrame(r, n, below, pictures, c, mattes);
  return { ...size, data: rgba(out, colour, whole(out), !moving) };
}

/** Whether the exact picture can be made without fetching anything. */
function exactAtHand(r: Recipe, n: number, view: View): boolean {
  if (view.kind === "plate") return plates.now(r, view.plate) !== null;
  if (!frames.exactNow(shotTake(), n)) return false;
  if (view.kind !== "result") return true;
  return neededPictures(r, n).every((ref) => ("plate" in ref ? plates.now(r, ref.plate) !== null : !!frames.exactNow(ref.take, ref.frame)));
}

/** Fetches what the frames before and after need, so that a step to either is exact at once. */
function beside(r: Recipe, n: number): void {
  for (const f of [n + 1, n - 1]) {
    if (f < r.shot.in || f > r.shot.out) continue;
    const refs = neededPictures(r, f).filter((ref) => "take" in ref);
    for (const { take, frame } of [{ take: shotTake(), frame: f }, ...refs]) void frames.loadExact(take, frame).catch(() => undefined);
  }
}

/** Serves the newest wish; older ones are forgotten. */
async function serve(): Promise<void> {
  if (working) return;
  working = true;
  while (wanted.length && recipe) {
    const w = wanted.shift()!;
    const r = recipe;
    const current = () => w.seq === newest;
    const part = stale;
    stale = NOTHING;
    const send = async (quality: "exact" | "quick") => {
      const p = await picture(r, w, quality);
      if (current() || w.moving) post({ type: "picture", seq: w.seq, frame: w.frame, view: w.view, quality, ...p }, [p.data]);
      stale = quality === "exact" && current() ? NOTHING : null;
    };
    try {
      if (part && exactAtHand(r, w.frame, w.view)) {
        // the rest of the picture is on the screen; shown also when newer wishes wait, so that a drag is followed
        const data = isEmpty(part) ? new ArrayBuffer(0) : (await picture(r, w, "exact", part)).data;
        post({ type: "part", seq: w.seq, rect: part, data }, [data]);
      } else if (w.moving) await send("quick");
      else if (exactAtHand(r, w.frame, w.view)) await send("exact");
      else {
        await send("quick").catch(() => undefined); // not made yet: the exact frame comes anyway
        if (current()) await send("exact");
      }
      if (!w.moving && w.view.kind === "result" && current()) beside(r, w.frame);
    } catch (e) {
      stale = null;
      // the status line says how far the take is read
      if (!(e instanceof NotYet)) post({ type: "problem", message: e instanceof Error ? e.message : String(e), seq: w.seq });
    }
  }
  working = false;
}

async function beginStroke(id: string, touch: Touch): Promise<void> {
  if (!recipe) return;
  const r = recipe;
  const plate = r.plates[id];
  const base = heldFrame(id, plate);
  const info = infoOf(base.take);
  const before = await plates.get(r, id);
  const original = await frames.loadExact(base.take, base.frame);
  const ref = touchSourceRef(touch, id, plate);
  const source = ref ? ("plate" in ref ? await plates.get(r, ref.plate) : await frames.loadExact(ref.take, ref.frame)) : undefined;
  liveColour = info.colour;
  live = new LiveStroke(before, touch, { original, source, siting: info.colour.siting }, info.colour.siting);
}

let strokes: Promise<void> = Promise.resolve();
/** Keeps the steps of a stroke in order, also while its pictures are still being loaded. */
function inStroke(step: () => void | Promise<void>): void {
  strokes = strokes.then(step).catch((e: unknown) => post({ type: "problem", message: e instanceof Error ? e.message : String(e), seq: newest }));
}

scope.onmessage = ({ data: m }: MessageEvent<ToWorker>) => {
  switch (m.type) {
    case "open":
      frames = new Frames(m.takes);
      plates = new Plates(frames);
      break;
    case "recipe":
      recipe = m.recipe;
      break;
    case "show":
      newest = m.seq;
      stale = both(stale, m.within);
      wanted = m.moving ? [...wanted.filter((w) => w.moving).slice(-1), m] : [m];
      void serve();
      break;
    case "ahead":
      for (const n of m.frames) if (recipe) void frames.loadQuick(shotTake(), n).catch(() => undefined);
      break;
    case "thumb": {
      if (!recipe?.plates[m.plate]) break;
      const r = recipe;
      const take = infoOf(heldFrame(m.plate, r.plates[m.plate]).take);
      void plates.get(r, m.plate).then(
        (f) => {
          const small = shrinkFrame(f, m.width, Math.max(2, Math.round((m.width * f.height) / f.width)));
          const data = rgba(small, take.colour, whole(small), true);
          post({ type: "thumb", id: m.id, width: small.width, height: small.height, data }, [data]);
        },
        () => undefined,
      );
      break;
    }
    case "stroke":
      inStroke(() => beginStroke(m.plate, m.touch));
      break;
    case "strokeOn":
      inStroke(() => {
        if (!live) return;
        const rect = live.add(m.points);
        if (rect.x1 <= rect.x0) return;
        const data = rgba(live.work, liveColour, rect, true);
        post({ type: "part", rect, data }, [data]);
      });
      break;
    case "strokeEnd":
      inStroke(() => {
        live = null;
      });
      break;
  }
};
