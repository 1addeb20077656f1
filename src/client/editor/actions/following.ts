import type { Point } from "../../../core/document/geometry";
import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { Track } from "../../../core/document/track";
import type { Place } from "../../../core/follow/homography";
import { pathOf, type TrackPath } from "../../../core/follow/track-path";
import { asDraft, type Draft } from "../../../recipe/edits";
import { carriesFrom, layerTitle, layersOf, patchById } from "../../../recipe/query";
import { followRegion } from "../../api";
import { loadTrack } from "../../picture/measured";
import type { Painter } from "../../picture/painter";
import { keyframesOf } from "../keyframes";
import { newId } from "../names";
import type { EditorState } from "../state/editor";
import type { FollowState, Way } from "../state/follow";
import { selectedLayer } from "../state/select";
import { sidesOf } from "../tools/ring-box";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import type { createTasks } from "./tasks";

/** The track a patch follows, of its mask before that of its picture. */
export const trackOf = (l: PatchLayer | null): string | null => l?.tied?.mask ?? l?.tied?.to ?? null;

/** Where a track's region is, once what was measured of it is there. */
export function trackPathIn({ recipe, tracks }: { recipe: Recipe } & Pick<FollowState, "tracks">, id: string | null): TrackPath | null {
  const track = id === null ? undefined : recipe.tracks?.[id];
  const data = track && tracks.get(track.data);
  return data ? pathOf(track, data) : null;
}

/** Regions that are followed, and patches that are tied to them. */
export function createFollowing(
  core: EditorCore,
  tasks: ReturnType<typeof createTasks>,
  patches: Pick<ReturnType<typeof createPatches>, "changeLayer" | "isLocked">,
  painter: Pick<Painter, "tracks">,
  watch: (seen: (s: EditorState) => void) => () => void,
) {
  const { get, set, commit, preview, notices } = core;
  const fetching = new Set<string>();

  /** Fetches what was measured of the recipe's tracks. */
  async function load(): Promise<void> {
    const { recipe, tracks } = get();
    const wanted = Object.values(recipe.tracks ?? {}).map((t) => t.data);
    for (const hash of wanted) {
      if (tracks.has(hash) || fetching.has(hash)) continue;
      fetching.add(hash);
      try {
        const data = await loadTrack(hash);
        const known = new Map(get().tracks).set(hash, data);
        painter.tracks = known;
        set({ tracks: known });
      } catch (e) {
        fetching.delete(hash); // asked for again when the recipe changes
        notices.problem(e instanceof Error ? e.message : String(e));
      }
    }
  }

  /** First and last frame to follow to from `at`, as is asked. */
  function stretch(layer: PatchLayer | null, at: number, way: Way): { from: number; to: number } {
    const { recipe, following } = get();
    const within = following.reach === "shot" || !layer ? recipe.shot : layer;
    const keys = following.reach === "key" && layer ? keyframesOf(recipe, layer) : [];
    const [before, after] = [keys.findLast((f) => f < at) ?? within.in, keys.find((f) => f > at) ?? within.out];
    return { from: way === "on" ? at : Math.min(at, before), to: way === "back" ? at : Math.max(at, after) };
  }

  /** Runs it, the picture going along: onward from `at`, then back; at its end it shows `at` again. */
  async function along<T>(at: number, to: number, ask: (task: string) => Promise<T>): Promise<T | null> {
    let gone = 0;
    const leave = watch(({ task }) => {
      if (!task || task.total <= 0 || task.done === gone) return;
      gone = task.done;
      core.goTo(task.done <= to - at ? at + task.done : at - (task.done - (to - at)));
    });
    try {
      return await tasks.run("Following", ask);
    } finally {
      leave();
      core.goTo(at);
    }
  }

  /** Says where it stopped. */
  function told(stops: readonly { f: number; why: string }[]): void {
    if (!stops.length) return;
    notices.said(stops.map(({ f, why }) => `Followed up to frame ${core.show(f)}: ${why}.`).join(" "));
  }

  const model = () => {
    const chosen = get().following.model;
    return chosen ? { model: chosen } : {};
  };

  /** Measures a new track of the shot's take from frame `at`; null where it was stopped, or failed. */
  async function measure(region: Place[], at: number, range: { from: number; to: number }) {
    const { shot, recipe } = get();
    const { take } = recipe.shot;
    const answer = await along(at, range.to, (task) => followRegion(shot.id, { take, at, region, ...range, ...model(), task }));
    if (!answer) return null;
    const name = `Track ${Object.keys(get().recipe.tracks ?? {}).length + 1}`;
    const track: Track = { name, take, at, region, model: answer.model, in: answer.in, out: answer.out, data: answer.data };
    return { id: newId("t"), track, stops: answer.stops };
  }

  /** Follows a new region, and ties the selected patch to it. */
  async function follow(region: Place[]): Promise<void> {
    const s = get();
    const layer = selectedLayer(s);
    if (layer && patches.isLocked(layer)) return;
    const measured = await measure(region, s.frame, stretch(layer, s.frame, s.following.way));
    if (!measured) return;
    const { id, track, stops } = measured;
    commit(layer ? `${layerTitle(get().recipe, layer.id)} follows a region` : "Follow a region", (d: Draft<Recipe>) => {
      d.tracks = { ...d.tracks, [id]: asDraft(track) };
      const l = layer && patchById(d, layer.id);
      // what it shows is carried along as well, and where it is read; a second track can take that over
      if (l) l.tied = { mask: id, to: id, ...(carriesFrom(get().recipe, layer) ? { from: id } : {}) };
    });
    told(stops);
    await load();
  }

  /** Follows the region whose corners were set. */
  function closeRegion(): void {
    const { drawing } = get();
    if (drawing.length < 3) return notices.said("A region has at least three corners: set more of them.");
    set({ drawing: [] });
    void follow(drawing.map(([x, y]): Place => [x, y]));
  }

  /** Goes on with a track from a frame on which it was put by hand, or is known. */
  async function goOn(id: string, way: Way): Promise<void> {
    const s = get();
    const track = s.recipe.tracks?.[id];
    const path = trackPathIn(s, id);
    if (!track || !path) return;
    const at = s.frame;
    const layer = selectedLayer(s);
    const region = path.corners(at);
    const range = stretch(layer, at, way);
    const on = { data: track.data, region: track.region.map(([x, y]): Place => [x, y]) };
    const answer = await along(at, range.to, (task) => followRegion(s.shot.id, { take: track.take, at, region, ...range, ...model(), on, task }));
    if (!answer) return;
    commit(`${track.name ?? id} goes on from frame ${core.show(at)}`, (d: Draft<Recipe>) => {
      const t = d.tracks?.[id];
      if (!t) return;
      Object.assign(t, { data: answer.data, in: answer.in, out: answer.out });
      // from here on it is measured from what was put by hand: no correction on top
      if (t.set) t.set = t.set.filter((x) => x.f !== at);
      if (!t.set?.length) delete t.set;
    });
    told(answer.stops);
    await load();
  }

  return {
    load,
    measure,
    told,
    follow,
    goOn,
    setFollowing: (part: Partial<FollowState["following"]>) => set({ following: { ...get().following, ...part } }),
    setBox: (ring: Point[]) => set({ ring }),
    /** A box was drawn round what is to be followed; a click sets a corner of a region of any form. @param near pixels of the take that are a click's */
    boxed(a: Point, b: Point, near: number): void {
      set({ ring: [] });
      const { drawing } = get();
      const apart = (p: Point) => Math.hypot(b[0] - p[0], b[1] - p[1]);
      if (drawing.length || apart(a) < near) {
        if (drawing.length >= 3 && apart(drawing[0]) < 3 * near) return closeRegion();
        const again = drawing.length > 0 && apart(drawing[drawing.length - 1]) < near; // the second of a double click
        return again ? undefined : set({ drawing: [...drawing, [b[0], b[1]]] });
      }
      const [x0, y0, x1, y1] = sidesOf(get(), a, b);
      if (x1 - x0 < 8 || y1 - y0 < 8)
        return notices.said("Drag a larger box, at least 8 pixels wide and high, round something that has corners or texture.");
      void follow([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]); // prettier-ignore
    },
    closeRegion,
    /** Puts a track's corners at the frame that is shown. */
    setCorners(id: string, points: readonly Place[], dragging: boolean): void {
      const { frame, recipe } = get();
      const change = (d: Draft<Recipe>) => {
        const t = d.tracks?.[id];
        if (t)
          t.set = [...(t.set ?? []).filter((x) => x.f !== frame), { f: frame, points: points.map(([x, y]) => [x, y] as [number, number]) }].sort(
            (a, b) => a.f - b.f,
          );
      };
      if (dragging) preview(change, true);
      else commit(`Put ${recipe.tracks?.[id]?.name ?? id} by hand at frame ${core.show(frame)}`, change);
    },
    /** Takes back what was put by hand at the frame that is shown. */
    unset(id: string): void {
      const { frame, recipe } = get();
      commit(`${recipe.tracks?.[id]?.name ?? id} as measured at frame ${core.show(frame)}`, (d: Draft<Recipe>) => {
        const t = d.tracks?.[id];
        if (!t?.set) return;
        t.set = t.set.filter((x) => x.f !== frame);
        if (!t.set.length) delete t.set;
      });
    },
    /** What of a patch follows which track; null: it stays. */
    tie(layer: PatchLayer, part: "mask" | "to" | "from", id: string | null): void {
      const what = { mask: "mask", to: "picture", from: "source" }[part];
      const title = layerTitle(get().recipe, layer.id);
      const name = id && (get().recipe.tracks?.[id]?.name ?? id);
      patches.changeLayer(layer.id, name ? `The ${what} of ${title} follows ${name}` : `The ${what} of ${title} follows nothing`, (d) => {
        const { [part]: _, ...rest } = d.tied ?? {};
        const tied = { ...rest, ...(id ? { [part]: id } : {}) };
        if (Object.keys(tied).length) d.tied = tied;
        else delete d.tied;
      });
    },
    rename(id: string, name: string): void {
      commit(`Call the track ${name}`, (d: Draft<Recipe>) => void (d.tracks?.[id] && (d.tracks[id].name = name)));
    },
    /** Deletes a track; what followed it stays where it was drawn. */
    remove(id: string): void {
      const { recipe } = get();
      commit(`Delete ${recipe.tracks?.[id]?.name ?? id}`, (d: Draft<Recipe>) => {
        for (const l of layersOf(d as Recipe)) {
          if (l.kind !== "patch" || !l.tied) continue;
          const tied = Object.fromEntries(Object.entries(l.tied).filter(([, t]) => t !== id));
          if (Object.keys(tied).length) l.tied = tied;
          else delete l.tied;
        }
        delete d.tracks![id];
        if (!Object.keys(d.tracks!).length) delete d.tracks;
      });
    },
  };
}
