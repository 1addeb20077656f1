import type { StoreApi } from "zustand/vanilla";
import { intersect, isEmpty } from "../../../core/pixels/frame";
import { maskBounds } from "../../../core/shape/mask";
import type { Recipe } from "../../../core/document/recipe";
import { type Draft, edit } from "../../../recipe/edits";
import { layersOf } from "../../../recipe/query";
import type { Take } from "../../../wire/take";
import { EditQueue } from "../../edit/queue";
import type { Painter } from "../../picture/painter";
import { preferences } from "../../preferences";
import { counted, countingOf } from "../counting";
import { NOTHING_PICKED } from "../shapes";
import type { EditorState } from "../state/editor";
import { modeIn } from "../state/mode";
import { takeOf } from "../state/select";
import { exists } from "../state/selection";
import type { EditorCore, Notices } from "./core";
import { viewOf } from "./view";

/** How long the panels may lag behind a drag on the picture. */
const FOLLOW_MS = 120;

const clamp = (v: number, a: number, b: number) => Math.min(b, Math.max(a, v));

/** The recipe on the screen and its way to the store: what every other part of the editor works with. `edited` is told of every edit. */
export function createDocument(
  { getState: get, setState: set }: StoreApi<EditorState>,
  painter: Painter,
  first: { rev: number; undo: string | null; redo: string | null },
  notices: Notices,
  edited: () => void,
) {
  /** The recipe without the drag in progress. */
  let settled: Recipe = get().recipe;
  let following: ReturnType<typeof setTimeout> | null = null;
  const show = (n: number) => countingOf(preferences.getState(), takeOf(get()).info!).show(n);

  const queue = new EditQueue(get().shot.id, first.rev, settled, first, {
    replaced(r) {
      settled = r;
      painter.recipe(r);
      place(r);
    },
    state: (saved) => set({ saved }),
    conflict: (mine, theirs) =>
      new Promise((answer) =>
        set({
          conflict: {
            mine: counted(mine, show),
            theirs: counted(theirs, show),
            answer: (a) => {
              set({ conflict: null });
              answer(a);
            },
          },
        }),
      ),
    problem: (message) => notices.problem(counted(message, show)),
  });

  function place(r: Recipe): void {
    set(placed(get(), r));
    refresh();
  }

  /** Leaves off what is dragged. */
  function cancelPreview(): void {
    painter.drag(settled, []);
    place(settled);
  }

  function refresh(): void {
    const s = get();
    painter.show(s.frame, viewOf(s), s.playing);
  }

  const core: EditorCore = {
    get,
    set,
    notices,
    settled: () => settled,
    show,
    refresh,
    commit(name: string, change: (d: Draft<Recipe>) => void): void {
      try {
        const next = edit(settled, change);
        if (next.patches.length === 0) return cancelPreview();
        settled = next.recipe;
        edited();
        notices.ended?.();
        queue.add(name, next.patches, next.inverse);
        painter.edit(settled, next.patches);
        place(settled);
      } catch (e) {
        notices.problem(e instanceof Error ? e.message : String(e));
      }
    },
    preview(change: (d: Draft<Recipe>) => void, onPicture = false): void {
      const { recipe: next, patches } = edit(settled, change);
      if (!onPicture) set({ recipe: next, dragged: null });
      else {
        set({ dragged: next });
        following ??= setTimeout(() => {
          following = null;
          const { dragged } = get();
          if (dragged) set({ recipe: dragged });
        }, FOLLOW_MS);
      }
      painter.drag(next, patches);
      refresh();
    },
    takeBack: (then) => void queue.step("undo").then(then),
    goTo(n: number): void {
      const s = get();
      const frame = clamp(Math.round(n), s.recipe.shot.in, s.recipe.shot.out);
      if (frame === s.frame) return;
      set({ frame });
      refresh();
    },
    takes: () => painter.useTakes(get().shot.takes),
    maskBox(mask, n) {
      const { width, height } = takeOf(get()).info!;
      const box = intersect({ x0: 0, y0: 0, x1: width, y1: height }, maskBounds({ ...mask, invert: false }, n, width, height));
      return isEmpty(box) ? null : box;
    },
  };

  return {
    core,
    queue,
    cancelPreview,
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
  };
}

/** What changes when a recipe is put on the screen; what it no longer has is not selected or open any more. */
function placed(s: EditorState, r: Recipe): Partial<EditorState> {
  const selection = s.selection && exists(r, s.selection) ? s.selection : null;
  const picked = selection === s.selection ? s.picked : NOTHING_PICKED;
  const within = (v: { in: number; out: number }) => v.in >= r.shot.in && v.out <= r.shot.out;
  const trimmed = r.shot.in !== s.recipe.shot.in || r.shot.out !== s.recipe.shot.out;
  const layers = new Set(layersOf(r).map((l) => l.id));
  return {
    recipe: r,
    dragged: null,
    selection,
    picked,
    mode: modeIn(r, s.mode),
    frame: clamp(s.frame, r.shot.in, r.shot.out),
    keyframesPicked: s.keyframesPicked.filter((k) => layers.has(k.layer)),
    ...(trimmed ? { span: null, ...(s.marked && !within(s.marked) ? { marked: null } : {}) } : {}),
  };
}
