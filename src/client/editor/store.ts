import { createStore } from "zustand/vanilla";
import { intersect, isEmpty } from "../../core/pixels/frame";
import { maskBounds } from "../../core/shape/mask";
import { isPaint, type Recipe } from "../../core/document";
import { type Draft, edit } from "../../recipe/edits";
import type { ShotDocument } from "../../wire/shot";
import type { Take } from "../../wire/take";
import { EditQueue } from "../edit/queue";
import { Painter } from "../picture/painter";
import type { View } from "../picture/protocol";
import type { EditorCore } from "./core";
import { createKeys } from "./keys";
import { preferences } from "../preferences";
import { counted, countingOf } from "./counting";
import { createMasks } from "./masks";
import { createPatches } from "./patches";
import { createPlay } from "./play";
import { createPlacing } from "./placing";
import { createPlates } from "./plates";
import { createRetouching } from "./retouching";
import { createScout } from "./scout";
import { NOTHING_PICKED } from "./shapes";
import { type EditorState, firstRetouch, type Notices, paintLayer, type Retouch, retouching, type Selection, type Stage, takeOf } from "./state";
import { keepWhere, keptWhere } from "./where";
import { createWork } from "./work";

/** How long the panels may lag behind a drag on the picture. */
const FOLLOW_MS = 120;

const clamp = (v: number, a: number, b: number) => Math.min(b, Math.max(a, v));

/** The editor of one shot: its state, and everything that can be done to it. It knows nothing of the page that shows it. */
export function createEditor(doc: ShotDocument, notices: Notices) {
  const { recipe, rev, undo, redo, ...shot } = doc;
  const painter = new Painter(doc.takes, recipe, doc.id);
  const store = createStore<EditorState>(() => ({
    shot,
    recipe,
    dragged: null,
    saved: { waiting: 0, undo, redo, offline: false },
    frame: recipe.shot.in,
    playing: false,
    dropped: 0,
    speed: 1,
    loop: true,
    marked: null,
    span: null,
    keysPicked: [],
    curve: null,
    looks: { against: "off", wipe: 0.5, across: false, gain: 8 },
    alone: false,
    stage: Object.keys(recipe.plates).length ? "Patch" : "Plate",
    plate: null,
    selection: null,
    tool: "outline",
    retouch: firstRetouch,
    paint: null,
    drawInto: "new",
    drawing: [],
    picked: NOTHING_PICKED,
    holds: "here",
    ghosts: true,
    maskBrush: { size: 60, hardness: 0.5, opacity: 1, erase: false, frames: "all" },
    ring: [],
    survey: null,
    found: {},
    builds: {},
    work: null,
    compare: { how: "frame", share: 0.5 },
    handles: true,
    peek: null,
    zoom: { scale: null, x: 0, y: 0 },
    shown: null,
    conflict: null,
    dialog: null,
  }));
  const { getState: get, setState: set } = store;
  set(keptWhere(get(), (x) => exists(recipe, x)));
  // moving through the frames of a shot says so many times a second
  let keeping: ReturnType<typeof setTimeout> | null = null;
  const forgetting = store.subscribe(() => {
    keeping ??= setTimeout(() => {
      keeping = null;
      keepWhere(get());
    }, 500);
  });
  /** The recipe without the drag in progress. */
  let settled: Recipe = recipe;

  const queue = new EditQueue(
    shot.id,
    rev,
    recipe,
    { undo, redo },
    {
      replaced(r) {
        settled = r;
        place(r);
      },
      state: (saved) => set({ saved }),
      conflict: (mine, theirs) =>
        new Promise((answer) =>
          set({
            conflict: {
              mine: counted(mine, core.show),
              theirs: counted(theirs, core.show),
              answer: (a) => {
                set({ conflict: null });
                answer(a);
              },
            },
          }),
        ),
      problem: (message) => notices.problem(counted(message, core.show)),
    },
  );

  /** Puts a recipe on the screen; what it no longer has is not selected or open any more. */
  function place(r: Recipe): void {
    const s = get();
    const selection = s.selection && exists(r, s.selection) ? s.selection : null;
    const plate = s.plate && r.plates[s.plate] ? s.plate : null;
    const paint = s.paint && paintLayer(r, s.paint) ? s.paint : null;
    const frame = clamp(s.frame, r.shot.in, r.shot.out);
    const picked = selection === s.selection ? s.picked : NOTHING_PICKED;
    const within = (v: { in: number; out: number }) => v.in >= r.shot.in && v.out <= r.shot.out;
    const trimmed = r.shot.in !== s.recipe.shot.in || r.shot.out !== s.recipe.shot.out;
    const layers = new Set(r.intruders.flatMap((i) => i.layers.map((l) => l.id)));
    set({ recipe: r, dragged: null, selection, plate, paint, frame, picked, keysPicked: s.keysPicked.filter((k) => layers.has(k.layer)) });
    if (trimmed) set({ span: null, ...(s.marked && !within(s.marked) ? { marked: null } : {}) });
    painter.recipe(r);
    refresh();
  }

  function viewOf(s: EditorState): View {
    const layer = s.selection?.kind === "layer" ? s.selection.layer : null;
    const looked = s.stage === "Plate" && !s.plate && s.selection?.kind === "plate" ? s.selection.plate : null;
    // the key for the original swaps a plate with the frame it is looked at over
    if (s.peek === "original") return s.plate ? { kind: "plate", plate: s.plate } : { kind: "original" };
    if (looked) {
      const { how, share } = s.compare;
      if (how === "over" || how === "difference") return { kind: "compare", plate: looked, how, share };
      const made = s.builds[looked];
      if (how === "origin" && made) return { kind: "origin", plate: looked, grid: made.grid, labels: made.labels, never: made.never };
      if (how === "plate" || how === "origin" || s.peek === "patch") return { kind: "plate", plate: looked };
    }
    const veil = retouch.veilOf(s);
    if (s.plate) return { kind: "plate", plate: s.plate, veil };
    if (s.peek === "matte") return { kind: "matte", layer: null };
    if (s.peek === "hole") return { kind: "hole", layer };
    if (s.peek === "patch" && layer) return { kind: "patch", layer };
    const { against, gain } = s.looks;
    if (against === "difference" && !s.peek) return { kind: "changed", gain };
    const original = against === "wipe" || against === "beside" ? true : undefined;
    return { kind: "result", veil: s.peek || s.playing ? undefined : veil, original };
  }

  function refresh(): void {
    const s = get();
    painter.show(s.frame, viewOf(s), s.playing);
  }

  let warm = false;
  painter.onPicture = (p) => {
    set({ shown: p });
    if (warm || p.quality !== "exact") return;
    // the first exact picture is there: make ready what will be played
    warm = true;
    const { in: a, out: b } = get().recipe.shot;
    painter.ahead(Array.from({ length: Math.min(120, b - a + 1) }, (_, i) => a + ((p.frame - a + i) % (b - a + 1))));
  };
  /** Draws a part of the picture that is shown anew; the page gives it. */
  let drawPart: (x: number, y: number, part: ImageData) => void = () => undefined;
  painter.onPart = (rect, part) => {
    const { shown } = get();
    const w = rect.x1 - rect.x0;
    if (!shown || w <= 0 || rect.y1 <= rect.y0) return;
    // kept beside the canvas too: the pointer reads from it, and a picture that is not drawn yet will have the part in it
    for (let y = rect.y0; y < rect.y1; y++)
      shown.pixels.set(part.subarray(4 * (y - rect.y0) * w, 4 * (y - rect.y0 + 1) * w), 4 * (y * shown.width + rect.x0));
    drawPart(rect.x0, rect.y0, new ImageData(part, w));
  };
  painter.onProblem = notices.problem;
  painter.onWorking = (share) => work.own(share < 1 ? { name: "Filling", share } : null, painter.stop.bind(painter));
  painter.onStopped = () => {
    notices.said("Stopped; the last change was taken back.");
    void queue.step("undo");
  };

  // ---- undo --------------------------------------------------------------------------------------------

  /** What is being drawn or dragged on the picture, and how it is broken off. */
  let underway: (() => void) | null = null;
  /** Fences and guide lines drawn since the last edit, which are no edits: what takes each back. */
  let aids: (() => void)[] = [];

  /** Breaks off what is being drawn or dragged, so that nothing comes of it; whether there was anything. */
  function breakOff(): boolean {
    const cancel = underway;
    underway = null;
    cancel?.();
    return cancel !== null;
  }

  /** One step of the history; where that changed something, it is gone to and named. */
  async function step(which: "undo" | "redo"): Promise<void> {
    // what is under way is the newest thing: it goes, and nothing that was stored before it
    if (breakOff()) return;
    if (which === "undo" && aids.length) return aids.pop()!();
    notices.ended?.();
    const name = queue.steps[which];
    const before = get().recipe;
    await queue.step(which);
    const { recipe } = get();
    if (!name || recipe === before) return;
    const at = changedPlace(before, recipe);
    if (at) {
      if (at.layer) set({ selection: { kind: "layer", layer: at.layer } });
      if (at.in !== undefined && at.out !== undefined) goTo(clamp(get().frame, at.in, at.out));
    }
    notices.said(`${which === "undo" ? "Taken back" : "Done again"} at frame ${core.show(get().frame)}: ${counted(name, core.show)}`);
  }

  // ---- edits -------------------------------------------------------------------------------------------

  /** Changes the recipe: shown at once, stored in the background, one entry of the history. */
  function commit(name: string, change: (d: Draft<Recipe>) => void): void {
    try {
      const next = edit(settled, change);
      if (next.patches.length === 0) return place(settled);
      settled = next.recipe;
      aids = [];
      notices.ended?.();
      queue.add(name, next.patches, next.inverse);
      place(settled);
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** Shows a change while it is dragged, without storing it; on the picture the panels lag behind. */
  function preview(change: (d: Draft<Recipe>) => void, onPicture = false): void {
    const next = edit(settled, change).recipe;
    if (!onPicture) set({ recipe: next, dragged: null });
    else {
      set({ dragged: next });
      following ??= setTimeout(() => {
        following = null;
        const { dragged } = get();
        if (dragged) set({ recipe: dragged });
      }, FOLLOW_MS);
    }
    painter.recipe(next);
    refresh();
  }
  let following: ReturnType<typeof setTimeout> | null = null;

  const cancelPreview = () => place(settled);

  const core: EditorCore = {
    get,
    settled: () => settled,
    set,
    notices,
    commit,
    preview,
    takeBack: (then) => void queue.step("undo").then(then),
    refresh,
    goTo,
    show: (n) => countingOf(preferences.getState(), takeOf(get()).info!).show(n),
    takes: () => painter.useTakes(get().shot.takes),
    maskBox(mask, n) {
      const { width, height } = takeOf(get()).info!;
      const box = intersect({ x0: 0, y0: 0, x1: width, y1: height }, maskBounds({ ...mask, invert: false }, n, width, height));
      return isEmpty(box) ? null : box;
    },
  };
  const work = createWork(core);
  const scout = createScout(core, work);
  const plates = createPlates(core, work);
  const retouch = createRetouching(core, painter);
  const patches = createPatches(core, plates.keyOfTake);
  const placing = createPlacing(core, patches);
  const keys = createKeys(core, patches);
  const masks = createMasks(core, patches);
  const play = createPlay(core, painter);

  // ---- time --------------------------------------------------------------------------------------------

  function goTo(n: number): void {
    const s = get();
    const frame = clamp(Math.round(n), s.recipe.shot.in, s.recipe.shot.out);
    if (frame === s.frame) return;
    set({ frame });
    refresh();
  }

  // ---- plates ------------------------------------------------------------------------------------------

  function openPlate(id: string | null): void {
    set({
      plate: id,
      paint: null,
      stage: id ? "Plate" : "Patch",
      retouch: { ...get().retouch, point: null, touch: null, loop: [], aid: null, veil: null },
      drawing: [],
      peek: null,
      selection: id ? { kind: "plate", plate: id } : get().selection,
    });
    if (id) retouch.fenceBars();
    refresh();
  }

  return {
    store,
    painter,
    queue,
    onPart(draw: typeof drawPart): void {
      drawPart = draw;
    },
    commit,
    preview,
    cancelPreview,
    refresh,
    goTo,
    ...play,
    ...patches,
    ...placing,
    ...keys,
    ...masks,
    ...scout,
    ...plates,
    ...retouch,
    async loadSurvey(): Promise<void> {
      await scout.loadSurvey();
      // bars that were found only now
      if (retouching(get())) retouch.fenceBars();
    },
    progress: work.progress,
    stopWork: work.stopWork,
    openPlate,
    set(part: Partial<EditorState>): void {
      set(part);
    },
    /** More of a take is read, or something about its original has changed. */
    takeChanged(take: Take): void {
      const { shot } = get();
      const key = Object.keys(shot.takes).find((k) => shot.takes[k].id === take.id);
      if (!key) return;
      const before = shot.takes[key];
      set({ shot: { ...shot, takes: { ...shot.takes, [key]: take } } });
      // a picture that was not there yet may be now
      if (before.state === "reading" && get().shown?.quality !== "exact") refresh();
    },
    select(selection: Selection): void {
      const plates = (x: Selection) => x?.kind === "plate";
      const looks = get().stage === "Plate" && (plates(get().selection) || plates(selection));
      const other = JSON.stringify(selection) !== JSON.stringify(get().selection);
      set(other ? { selection, picked: NOTHING_PICKED } : { selection });
      // its card is shown in the stage it belongs to
      if (get().stage === "Plate" && !get().plate && selection && selection.kind !== "plate")
        set({ stage: selection.kind === "layer" ? "Patch" : "Scout" });
      if (get().peek || looks) refresh();
    },
    /** How a selected plate is looked at. */
    look(compare: Partial<EditorState["compare"]>): void {
      set({ compare: { ...get().compare, ...compare } });
      refresh();
    },
    setStage(stage: Stage): void {
      const s = get();
      const leave = retouching(s) && stage !== (s.plate ? "Plate" : "Patch");
      // an outline that is being drawn waits for its stage
      set({ stage, ...(leave ? { plate: null, paint: null, retouch: { ...s.retouch, veil: null, touch: null, loop: [] } } : {}) });
      refresh();
    },
    setPeek(peek: EditorState["peek"]): void {
      if (get().peek === peek) return;
      set({ peek });
      refresh();
    },
    /** How the result is looked at against the original. */
    lookAgainst(looks: Partial<EditorState["looks"]>): void {
      set({ looks: { ...get().looks, ...looks } });
      refresh();
    },
    say: (words: string) => notices.said(words),
    /** Goes back or on in the history by so many steps. */
    leap: (step: "undo" | "redo", times: number) => queue.step(step, times),
    undo: () => step("undo"),
    redo: () => step("redo"),
    /** Something is being drawn or dragged: undo breaks it off. */
    gestureBegins(cancel: () => void): void {
      underway = cancel;
    },
    gestureEnds(): void {
      underway = null;
    },
    breakOff,
    /** A fence or a guide line more; undo takes it away as long as no edit has come after it. */
    addAid<K extends "fence" | "guides">(kind: K, aid: Retouch[K][number]): void {
      retouch.retouch({ [kind]: [...get().retouch[kind], aid] });
      aids.push(() => retouch.retouch({ [kind]: get().retouch[kind].filter((x) => x !== aid) }));
    },
    close(): void {
      forgetting();
      if (keeping) clearTimeout(keeping);
      keepWhere(get());
      play.closePlay();
      painter.close();
    },
  };
}
export type Editor = ReturnType<typeof createEditor>;

/** Where two recipes first differ in a layer, or in what is painted on frames, and the frames that concerns. */
function changedPlace(a: Recipe, b: Recipe): { layer?: string; in?: number; out?: number } | null {
  const layers = (r: Recipe) => new Map(r.intruders.flatMap((i) => i.layers).map((l) => [l.id, l]));
  const [was, is] = [layers(a), layers(b)];
  for (const [id, now] of is) {
    const then = was.get(id);
    if (then === now || (then && JSON.stringify(then) === JSON.stringify(now))) continue;
    if (!isPaint(now)) return { layer: id, in: now.in, out: now.out };
    const known = new Set(then && isPaint(then) ? then.touches.map((t) => t.id) : []);
    const frames = now.touches.find((t) => !known.has(t.id))?.frames;
    return { layer: id, in: frames?.[0] ?? now.in, out: frames?.[1] ?? now.out };
  }
  for (const [id, then] of was) if (!is.has(id)) return { in: then.in, out: then.out };
  return null;
}

function exists(r: Recipe, s: NonNullable<Selection>): boolean {
  if (s.kind === "plate") return !!r.plates[s.plate];
  if (s.kind === "intruder") return r.intruders.some((i) => i.id === s.intruder);
  return r.intruders.some((i) => i.layers.some((l) => l.id === s.layer));
}
