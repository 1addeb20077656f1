import { createStore } from "zustand/vanilla";
import { type Intruder, isPaint, isPatch, type PatchLayer, type Recipe } from "../../core/document";
import { type Draft, edit } from "../../recipe/edits";
import type { ShotDocument } from "../../wire/shot";
import type { Take } from "../../wire/take";
import { EditQueue } from "../edit/queue";
import { Painter } from "../picture/painter";
import type { View } from "../picture/protocol";
import type { BenchCore } from "./core";
import { newId, round } from "./names";
import { createPlates } from "./plates";
import { createRetouching } from "./retouching";
import { createScout } from "./scout";
import {
  type BenchState,
  type Dragging,
  firstRetouch,
  layerTitle,
  type Notices,
  paintLayer,
  retouching,
  selectedLayer,
  type Selection,
  type Stage,
  takeOf,
} from "./state";
import { createWork } from "./work";

/** How long the panels may lag behind a drag on the picture. */
const FOLLOW_MS = 120;

const clamp = (v: number, a: number, b: number) => Math.min(b, Math.max(a, v));

/** The editor of one shot: its state, and everything that can be done to it. It knows nothing of the page that shows it. */
export function createBench(doc: ShotDocument, notices: Notices) {
  const { recipe, rev, undo, redo, ...shot } = doc;
  const painter = new Painter(doc.takes, recipe, doc.id);
  const store = createStore<BenchState>(() => ({
    shot,
    recipe,
    dragged: null,
    saved: { waiting: 0, undo, redo, offline: false },
    frame: recipe.shot.in,
    playing: false,
    dropped: 0,
    stage: Object.keys(recipe.plates).length ? "Patch" : "Plate",
    plate: null,
    selection: null,
    tool: "outline",
    retouch: firstRetouch,
    paint: null,
    drawInto: "new",
    drawing: [],
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
              mine,
              theirs,
              answer: (a) => {
                set({ conflict: null });
                answer(a);
              },
            },
          }),
        ),
      problem: notices.problem,
    },
  );

  /** Puts a recipe on the screen; what it no longer has is not selected or open any more. */
  function place(r: Recipe): void {
    const s = get();
    const selection = s.selection && exists(r, s.selection) ? s.selection : null;
    const plate = s.plate && r.plates[s.plate] ? s.plate : null;
    const paint = s.paint && paintLayer(r, s.paint) ? s.paint : null;
    const frame = clamp(s.frame, r.shot.in, r.shot.out);
    set({ recipe: r, dragged: null, selection, plate, paint, frame });
    painter.recipe(r);
    refresh();
  }

  function viewOf(s: BenchState): View {
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
    if (s.peek === "patch" && layer) return { kind: "patch", layer };
    return { kind: "result", veil: s.peek || s.playing ? undefined : veil };
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

  // ---- edits -------------------------------------------------------------------------------------------

  /** Changes the recipe: shown at once, stored in the background, one entry of the history. */
  function commit(name: string, change: (d: Draft<Recipe>) => void): void {
    try {
      const next = edit(settled, change);
      if (next.patches.length === 0) return place(settled);
      settled = next.recipe;
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

  const core: BenchCore = { get, set, notices, commit, preview, refresh, goTo, takes: () => painter.useTakes(get().shot.takes) };
  const work = createWork(core);
  const scout = createScout(core, work);
  const plates = createPlates(core, work);
  const retouch = createRetouching(core, painter);

  const layerIn = (d: Draft<Recipe>, id: string) => d.intruders.flatMap((i) => i.layers).find((l) => l.id === id) as Draft<PatchLayer> | undefined;

  function changeLayer(id: string, name: string, change: (l: Draft<PatchLayer>) => void, dragging: Dragging = false): void {
    const run = (d: Draft<Recipe>) => {
      const l = layerIn(d, id);
      if (l) change(l);
    };
    if (dragging) preview(run, dragging === "picture");
    else commit(name, run);
  }

  // ---- time --------------------------------------------------------------------------------------------

  function goTo(n: number): void {
    const s = get();
    const frame = clamp(Math.round(n), s.recipe.shot.in, s.recipe.shot.out);
    if (frame === s.frame) return;
    set({ frame });
    refresh();
  }

  function play(): void {
    const s = get();
    if (s.playing) return stopPlaying();
    const { rate } = takeOf(s).info!;
    const fps = rate[0] / rate[1];
    const { in: a, out: b } = s.recipe.shot;
    const count = b - a + 1;
    const from = s.frame - a;
    const begun = performance.now();
    let last = -1;
    set({ playing: true, dropped: 0 });
    const tick = () => {
      if (!get().playing) return;
      const due = Math.floor(((performance.now() - begun) * fps) / 1000);
      // one picture is drawn while the next is composed
      if (due > last && painter.waiting < 2) {
        if (last >= 0 && due > last + 1) set({ dropped: get().dropped + due - last - 1 });
        last = due;
        const frame = a + ((from + due) % count);
        set({ frame });
        refresh();
        painter.ahead(Array.from({ length: 12 }, (_, i) => a + ((from + due + 1 + i) % count)));
      }
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  }

  function stopPlaying(): void {
    set({ playing: false });
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

  // ---- intruders and patches -----------------------------------------------------------------------------

  /** Lays a shape: a new patch with the chosen plate behind it, or a part of the selected patch's mask. */
  function layShape(shape: Draft<PatchLayer>["mask"] extends infer M ? (M extends { shapes: (infer S)[] } ? S : never) : never): void {
    const s = get();
    const selected = selectedLayer(s);
    if (s.drawInto !== "new" && selected && !("use" in selected.mask)) {
      const op = s.drawInto;
      changeLayer(selected.id, `${{ add: "Add", cut: "Cut", cross: "Cross" }[op]} a shape in ${layerTitle(s.recipe, selected.id)}`, (l) => {
        if (!("use" in l.mask)) l.mask.shapes.push({ ...shape, op });
      });
      set({ tool: "adjust" });
      return;
    }
    const id = newId("l");
    const intruder = newId("i");
    const plate = s.selection?.kind === "plate" ? s.selection.plate : lastPlateUsed(s.recipe);
    const count = s.recipe.intruders.length + 1;
    const into = s.selection?.kind === "intruder" ? s.selection.intruder : null;
    const { shot: range } = s.recipe;
    const layer: Draft<PatchLayer> = {
      id,
      kind: "patch",
      in: range.in,
      out: range.out,
      source: plate ? { plate } : { take: range.take, hold: range.in },
      mask: { shapes: [shape], feather: 12 },
    };
    commit(`Lay patch ${count}`, (d) => {
      const home = d.intruders.find((i) => i.id === into);
      if (home) home.layers.push(layer as Draft<Intruder>["layers"][number]);
      else d.intruders.push({ id: intruder, name: `Intruder ${count}`, layers: [layer as Draft<Intruder>["layers"][number]] });
    });
    set({ selection: { kind: "layer", layer: id }, tool: "adjust", stage: "Patch" });
    if (!plate)
      notices.said(`There is no plate yet, so the patch shows frame ${range.in}. Go to a clean frame and press P, then choose it as the picture.`);
  }

  function closeOutline(): void {
    const { drawing } = get();
    set({ drawing: [] });
    if (drawing.length >= 3) layShape({ kind: "path", op: "add", points: drawing.map((p) => [round(p[0]), round(p[1])]) });
    else if (drawing.length) notices.said("An outline needs at least three points.");
  }

  function removeSelected(): void {
    const s = get();
    const { selection } = s;
    if (!selection) return;
    if (selection.kind === "plate") {
      const users = s.recipe.intruders.flatMap((i) => i.layers.filter((l) => isPatch(l) && l.source.plate === selection.plate).map(() => i.name));
      const touched = Object.entries(s.recipe.plates)
        .filter(([k, p]) => k !== selection.plate && p.touches.some((t) => t.source?.plate === selection.plate))
        .map(([k, p]) => p.name ?? k)
        .concat(
          s.recipe.intruders
            .filter((i) => i.layers.some((l) => isPaint(l) && l.touches.some((t) => t.source?.plate === selection.plate)))
            .map((i) => i.name),
        );
      if (users.length + touched.length)
        return notices.problem(
          `This plate is used by ${[...users, ...touched].join(", ")}: give ${users.length + touched.length > 1 ? "them" : "it"} another picture first.`,
        );
      commit(`Delete plate ${s.recipe.plates[selection.plate].name ?? ""}`.trim(), (d) => {
        delete d.plates[selection.plate];
      });
      if (s.plate === selection.plate) openPlate(null);
    } else if (selection.kind === "intruder") {
      commit(`Delete ${s.recipe.intruders.find((i) => i.id === selection.intruder)?.name}`, (d) => {
        d.intruders = d.intruders.filter((i) => i.id !== selection.intruder);
      });
    } else {
      commit(`Delete patch of ${layerTitle(s.recipe, selection.layer)}`, (d) => {
        for (const i of d.intruders) i.layers = i.layers.filter((l) => l.id !== selection.layer);
        d.intruders = d.intruders.filter((i) => i.layers.length);
      });
    }
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
    changeLayer,
    refresh,
    goTo,
    play,
    stopPlaying,
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
    layShape,
    closeOutline,
    removeSelected,
    set(part: Partial<BenchState>): void {
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
      set({ selection });
      if (get().peek || looks) refresh();
    },
    /** How a selected plate is looked at. */
    look(compare: Partial<BenchState["compare"]>): void {
      set({ compare: { ...get().compare, ...compare } });
      refresh();
    },
    setStage(stage: Stage): void {
      const s = get();
      const leave = retouching(s) && stage !== (s.plate ? "Plate" : "Patch");
      set({ stage, drawing: [], ...(leave ? { plate: null, paint: null, retouch: { ...s.retouch, veil: null, touch: null, loop: [] } } : {}) });
      refresh();
    },
    setPeek(peek: BenchState["peek"]): void {
      if (get().peek === peek) return;
      set({ peek });
      refresh();
    },
    undo: () => queue.step("undo"),
    redo: () => queue.step("redo"),
    close(): void {
      set({ playing: false });
      painter.close();
    },
  };
}
export type Bench = ReturnType<typeof createBench>;

function exists(r: Recipe, s: NonNullable<Selection>): boolean {
  if (s.kind === "plate") return !!r.plates[s.plate];
  if (s.kind === "intruder") return r.intruders.some((i) => i.id === s.intruder);
  return r.intruders.some((i) => i.layers.some((l) => l.id === s.layer));
}

/** The plate the topmost patch uses, else the newest plate. */
function lastPlateUsed(r: Recipe): string | null {
  const used = r.intruders
    .flatMap((i) => i.layers)
    .filter(isPatch)
    .map((l) => l.source.plate)
    .filter((p) => p !== undefined);
  return used.at(-1) ?? Object.keys(r.plates).at(-1) ?? null;
}
