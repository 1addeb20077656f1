/// <reference lib="webworker" />
import { neededPictures } from "../../core/compose/compose";
import { unframed } from "../../core/compose/reframe";
import type { Recipe } from "../../core/document/recipe";
import { isEmpty, type Rect, union, wholeOf } from "../../core/pixels/frame";
import { shrinkFrame } from "../../core/pixels/shrink";
import { apply } from "../../recipe/edits";
import { Ahead } from "./ahead";
import { Frames, NotYet } from "./frames";
import { Seen } from "./glass";
import { Pace } from "./pace";
import { Plates } from "./plates";
import type { FromWorker, ToWorker } from "./protocol";
import { Retouching } from "./retouching";
import { sharing } from "./sharing";
import { Stopped, type Watch } from "./steps";
import { rgba, type Quality, type Rgba, Views } from "./views";

/** The picture worker: it holds the frames and calls the composer, so that the page never waits for pixels. */
declare const self: DedicatedWorkerGlobalScope;
const seen = new Seen();
const post = (m: FromWorker, transfer: Transferable[] = []) => {
  seen.through(m);
  self.postMessage(m, transfer);
};

let frames: Frames;
let plates: Plates;
let views: Views;
let recipe: Recipe | null = null;
/** The recipe without the drag in progress. */
let settled: Recipe | null = null;
let newest = 0;
type Show = Extract<ToWorker, { type: "show" }>;
/** Pictures to be made: while playing each in its turn, at rest only the newest. */
let wanted: Show[] = [];
let working = false;
/** Where the newest recipe can differ from what is on the screen; null for anywhere. */
let stale: Rect | null = null;
let retouching: Retouching;
/** Whether the person wants the long work in hand left off. */
let stop = false;
let told = false;
const infoOf = (take: string) => frames.take(take).info!;
const NOTHING: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
const both = (a: Rect | null, b: Rect | null) => a && b && union(a, b);

/** Fetches what the frames before and after need, so that a step to either is exact at once; the one in the direction of the last step is made ready. */
async function beside(r: Recipe, w: Show, current: () => boolean): Promise<void> {
  const n = w.frame;
  const step = n < lastFrame ? -1 : 1;
  lastFrame = n;
  const all = [n + step, n - step].map(async (f) => {
    if (f < r.shot.in || f > r.shot.out) return;
    const refs = neededPictures(r, f).filter((ref) => "take" in ref);
    await Promise.all([{ take: r.shot.take, frame: f }, ...refs].map((ref) => frames.loadExact(ref.take, ref.frame)));
  });
  await all[0];
  const next = { ...w, frame: n + step };
  if (!current() || next.frame < r.shot.in || next.frame > r.shot.out || ahead.has(r, next.frame) || !views.atHand(r, next.frame, w.view)) return;
  const { frame, colour } = await views.composed(r, next.frame, "exact");
  if (!current()) return;
  ahead.begin(r, next.frame, frame, colour);
  await ahead.goOn(current);
}
let lastFrame = 0;
const ahead = new Ahead();

/** Tells how far work is that takes a while; it is left off when it is stopped, or when nobody waits for it any more. */
function watch(wanted: () => boolean): Watch {
  return {
    progress(share) {
      told = true;
      post({ type: "working", share });
    },
    stopped: () => stop || !wanted(),
  };
}
function workEnded(e?: unknown): boolean {
  if (told) post({ type: "working", share: 1 });
  told = false;
  const byHand = stop;
  stop = false;
  if (!(e instanceof Stopped)) return false;
  if (byHand) post({ type: "stopped" });
  return true;
}

/** Serves the newest wish; older ones are forgotten. */
async function serve(): Promise<void> {
  if (working) return;
  working = true;
  while (wanted.length && recipe) {
    const w = wanted.shift()!;
    const r = w.view.kind === "result" && w.view.framed ? recipe : unframed(recipe);
    const current = () => w.seq === newest;
    const part = stale;
    stale = NOTHING;
    const send = async (quality: Quality) => {
      const ready = quality === "exact" && w.view.kind === "result" && !w.view.original ? ahead.take(r, w.frame) : null;
      const p: Rgba =
        ready ??
        (await views.picture(
          r,
          w,
          quality,
          watch(() => current() || w.moving),
        ));
      if (current() || w.moving)
        post({ type: "picture", seq: w.seq, frame: w.frame, view: w.view, quality: quality === "exact" ? "exact" : "quick", ...p }, [
          p.data,
          ...(p.original ? [p.original] : []),
        ]);
      stale = quality === "exact" && current() ? NOTHING : null;
    };
    try {
      if (part && views.atHand(r, w.frame, w.view)) {
        // the rest of the picture is on the screen; shown also when newer wishes wait, so that a drag is followed
        const told = w.view.kind === "result" ? w.view.match : undefined;
        const { data, figures } = isEmpty(part) ? { data: new ArrayBuffer(0) } : await views.part(r, w.frame, part, watch(current), told);
        post({ type: "part", seq: w.seq, rect: part, data, figures }, [data]);
        continue;
      }
      if (w.moving) {
        const quality = await movingQuality(r, w);
        const began = performance.now();
        await send(quality);
        pace.took(quality, performance.now() - began);
        continue;
      }
      // a plate that is on the screen stays there while a touch more is worked out, so that painting can go on
      const known = w.view.kind === "plate" && plates.knows(w.view.plate);
      if (!known && !views.atHand(r, w.frame, w.view)) await send("quick").catch(() => undefined); // not made yet: the exact frame comes anyway
      if (current()) await send("exact");
      workEnded();
      if (w.view.kind === "result" && current()) void beside(r, w, current).catch(() => undefined);
    } catch (e) {
      stale = null;
      if (workEnded(e)) continue;
      // the status line says how far the take is read
      if (!(e instanceof NotYet)) post({ type: "problem", message: e instanceof Error ? e.message : String(e), seq: w.seq });
    }
  }
  working = false;
}

const pace = new Pace();
/** At which size a moving picture is made: half where nobody would see the difference, or where the whole cannot keep up. */
async function movingQuality(r: Recipe, w: Show): Promise<"quick" | "small"> {
  const { width } = await frames.loadQuick(r.shot.take, w.frame);
  return pace.choose(width, w.shownWidth, infoOf(r.shot.take).rate);
}

let strokes: Promise<void> = Promise.resolve();
/** Keeps the steps of a stroke in order, also while its pictures are still being loaded. */
function inStroke(step: () => unknown): void {
  strokes = strokes
    .then(async () => void (await step()))
    .catch((e: unknown) => post({ type: "problem", message: e instanceof Error ? e.message : String(e), seq: newest }));
}

self.onmessage = ({ data: m }: MessageEvent<ToWorker>) => {
  switch (m.type) {
    case "open":
      frames = new Frames(m.takes, m.shot);
      plates = new Plates(frames);
      views = new Views(frames, plates);
      retouching = new Retouching(frames, plates, views);
      break;
    case "takes":
      frames.useTakes(m.takes);
      break;
    case "recipe":
      recipe = settled = sharing(recipe, m.recipe);
      break;
    case "edit":
      if (settled) recipe = settled = sharing(recipe, apply(settled, m.patches));
      break;
    case "drag":
      if (settled) recipe = apply(settled, m.patches);
      break;
    case "show":
      newest = m.seq;
      stale = both(stale, m.within);
      wanted = m.moving ? [...wanted.filter((w) => w.moving).slice(-1), m] : [m];
      void serve();
      break;
    case "glass":
      seen.set(m.glass);
      break;
    case "ahead":
      for (const n of m.frames) if (recipe) void frames.loadSmall(recipe.shot.take, n).catch(() => undefined);
      break;
    case "thumb": {
      if (!recipe?.plates[m.plate]) break;
      const r = recipe;
      const take = infoOf(r.shot.take);
      void plates.get(r, m.plate).then(
        (f) => {
          const small = shrinkFrame(f, m.width, Math.max(2, Math.round((m.width * f.height) / f.width)));
          const data = rgba(small, take.colour, wholeOf(small), true);
          post({ type: "thumb", id: m.id, width: small.width, height: small.height, data }, [data]);
        },
        () => undefined,
      );
      break;
    }
    case "source": {
      if (!recipe) break;
      void views.reference(recipe, m.of).then(
        (p) => post({ type: "thumb", id: m.id, ...p }, [p.data]),
        () => undefined,
      );
      break;
    }
    case "stroke":
      inStroke(() => recipe && retouching.beginStroke(recipe, m.target, m.touch));
      break;
    case "strokeOn":
      inStroke(() => {
        const live = retouching.stroke;
        if (!live || !recipe) return;
        const rect = live.add(m.points);
        if (rect.x1 <= rect.x0) return;
        const data = rgba(live.work, retouching.colour(recipe), rect, true);
        post({ type: "part", rect, data }, [data]);
      });
      break;
    case "strokeEnd":
      inStroke(() => {
        retouching.endStroke();
        retouching.endTry();
      });
      break;
    case "try":
      inStroke(async () => {
        try {
          if (!recipe) return;
          const { rect, frame } = await retouching.try(recipe, m.target, m.touch);
          const data = rgba(frame, retouching.colour(recipe), rect, true);
          post({ type: "part", rect, data }, [data]);
        } finally {
          post({ type: "tried" });
        }
      });
      break;
    case "tries":
      inStroke(async () => {
        for (const [i, seed] of m.seeds.entries()) {
          if (!recipe) return;
          try {
            const p = await retouching.fillTry(recipe, m.target, m.touch, seed, m.width, {
              progress: (share) => ((told = true), post({ type: "working", share: (i + share) / m.seeds.length })),
              stopped: () => stop,
            });
            post({ type: "thumb", id: m.ids[i], ...p }, [p.data]);
          } catch (e) {
            if (!(e instanceof Stopped)) throw e;
            stop = false;
            break;
          }
        }
        workEnded();
      });
      break;
    case "stop":
      stop = told;
      break;
  }
};
