import type { Layer } from "../../../core/document/layer";
import type { Mask } from "../../../core/document/mask";
import type { PlateFrom } from "../../../core/document/plate";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById } from "../../../recipe/query";
import { atFrame } from "../counting";
import { pasteKeys } from "../keyframes";
import { newId } from "../names";
import { NOTHING_PICKED } from "../shapes";
import { selectedLayer, takeOf } from "../state/select";
import type { EditorCore } from "./core";
import type { Copied } from "./copied";
import { selectedIntruder } from "./copied";

/** Putting in what was copied. */
export function createPasting(core: EditorCore, isLocked: (l: { id: string; locked?: boolean }) => boolean) {
  const { get, set, commit, notices } = core;

  /** Puts copied keyframes at the frame shown, or copied layers into the intruder that is selected, else as a new one. */
  function paste(c: Copied): void {
    const s = get();
    if (c.format === "umber-moth/keyframes") {
      const l = selectedLayer(s);
      if (!l) return notices.said("Select the patch that is to take the keyframes, then paste.");
      if (isLocked(l)) return;
      let took = 0;
      commit(`Paste keyframes at frame ${atFrame(s.frame)}`, (d) => void (took = pasteKeys(d, l.id, c.keys, s.frame)));
      if (took < c.keys.length)
        notices.said(
          `${c.keys.length - took} of ${c.keys.length} values could not take their keyframes: this patch has no such value, or an outline of other points.`,
        );
      return;
    }
    const foreign = Object.entries(c.takes).filter(([, id]) => !Object.values(s.shot.takes).some((t) => t.id === id));
    const own = c.takes[c.shotTake] === s.shot.takes[s.recipe.shot.take].id || !c.takes[c.shotTake];
    const keyed = new Map(Object.entries(c.takes).map(([key, id]) => [key, Object.keys(s.shot.takes).find((k) => s.shot.takes[k].id === id) ?? ""]));
    // what the copied shot had of its own take is taken from this shot's own
    if (!own) keyed.set(c.shotTake, s.recipe.shot.take);
    const lost = foreign.filter(([key]) => key !== c.shotTake).map(([key]) => key);
    /** A frame of the copied shot's take, as far as this one's goes. */
    const frameFor = (n: number) => (own ? n : Math.min(n, takeOf(s).info!.frames - 1));
    const takeFor = (key: string) => keyed.get(key) || s.recipe.shot.take;
    /** What a copied plate starts from, with the takes of this shot. */
    const startFor = (from: PlateFrom): PlateFrom => {
      if (from.take === undefined) return from;
      const take = takeFor(from.take);
      if (from.built) return { ...from, take };
      return { ...from, take, frame: from.take === c.shotTake ? frameFor(from.frame) : from.frame };
    };
    const ids: string[] = [];
    const into = selectedIntruder(s);
    commit(`Paste ${c.layers.length === 1 ? "the patch" : `${c.layers.length} layers`} of ${c.intruder}`, (d) => {
      const plates = new Map<string, string>();
      for (const [id, p] of Object.entries(c.plates)) {
        const same = d.plates[id] && JSON.stringify(d.plates[id]) === JSON.stringify(p);
        const to = !d.plates[id] || same ? id : newId("p");
        plates.set(id, to);
        if (!same) d.plates[to] = asDraft({ ...structuredClone(p), from: startFor(p.from) });
      }
      // what was measured on another take holds for that take alone
      const carried = Object.entries(c.tracks ?? {}).map(([id, t]) => [id, { ...t, take: takeFor(t.take) }] as const);
      const tracks = placed(carried, d.tracks, (all) => (d.tracks = all));
      const profiles = placed(Object.entries(c.profiles ?? {}), d.profiles, (all) => (d.profiles = all));
      for (const [id, m] of Object.entries(c.masks)) if (!d.masks?.[id]) d.masks = { ...d.masks, [id]: structuredClone(m) as Draft<Mask> };
      const layers = c.layers.map((x) => {
        const l = structuredClone(x) as Draft<Layer>;
        l.id = newId("l");
        ids.push(l.id);
        l.in = Math.min(Math.max(l.in, s.recipe.shot.in), s.recipe.shot.out);
        l.out = Math.min(Math.max(l.out, l.in), s.recipe.shot.out);
        if (l.kind === "patch" && l.tied)
          for (const part of ["mask", "to", "from"] as const) if (l.tied[part]) l.tied[part] = tracks.get(l.tied[part]);
        if (l.kind === "patch" && l.grain) l.grain.profile = profiles.get(l.grain.profile) ?? l.grain.profile;
        if (l.kind === "patch" && l.source.plate) l.source.plate = plates.get(l.source.plate) ?? l.source.plate;
        if (l.kind === "patch" && l.source.hold !== undefined && l.source.take === c.shotTake) l.source.hold = frameFor(l.source.hold);
        if (l.kind === "patch" && l.source.take) l.source.take = takeFor(l.source.take);
        return l;
      });
      const home = into && intruderById(d, into.id);
      if (home) home.layers.push(...layers);
      else d.intruders.push({ id: newId("i"), name: c.intruder, layers });
    });
    set({ selection: { kind: "layer", layer: ids.at(-1)! }, picked: NOTHING_PICKED, keyframesPicked: [] });
    if (lost.length) notices.said("Another take that the patch reads is not part of this shot: its picture comes from this shot's own take now.");
  }

  return {
    paste,
  };
}

/** Puts named parts among those that are there, under other names where theirs are taken by something else; the names they have now. */
function placed<T extends object>(
  parts: (readonly [string, T])[],
  there: Draft<Record<string, T>> | undefined,
  put: (all: Draft<Record<string, T>>) => void,
) {
  const names = new Map<string, string>();
  const fresh: Record<string, T> = {};
  for (const [id, part] of parts) {
    const same = there?.[id] && JSON.stringify(there[id]) === JSON.stringify(part);
    const to = !there?.[id] || same ? id : newId("n");
    names.set(id, to);
    if (!same) fresh[to] = structuredClone(part);
  }
  if (Object.keys(fresh).length) put({ ...there, ...asDraft(fresh) } as Draft<Record<string, T>>);
  return names;
}
