import { type Intruder, type Recipe, seenFrames } from "../../../core/document/recipe";
import { isPaint, isPatch, type PatchLayer, type Source } from "../../../core/document/layer";
import type { Layer } from "../../../core/document/layer";
import type { Mask, Shape } from "../../../core/document/mask";
import type { Plate, PlateFrom } from "../../../core/document/plate";
import { isKeyed, withKey, withoutKey } from "../../../core/time/keyed";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById, intruderOf, layerById, layerTitle, paintById, patchById } from "../../../recipe/query";
import { maskOf } from "../../../core/document/recipe";
import type { Take } from "../../../wire/take";
import { atFrame } from "../counting";
import { type CopiedKeys, copyKeys, pasteKeys } from "../keyframes";
import { newId } from "../names";
import { NOTHING_PICKED } from "../shapes";
import { lastPlateUsed, type SourceKind } from "../source-kind";
import type { Dragging } from "../state/document";
import type { EditorState } from "../state/editor";
import { atStage } from "../state/mode";
import { selectedLayer, takeOf } from "../state/select";
import type { EditorCore } from "./core";

type Change = (l: Draft<PatchLayer>) => void;

/** What goes over the clipboard: layers with what they use, or keyframes. */
export type Copied =
  | {
      format: "umber-moth/layers";
      intruder: string;
      layers: Layer[];
      masks: Record<string, Mask>;
      plates: Record<string, Plate>;
      /** The takes they read, by their keys there. */
      takes: Record<string, string>;
      shotTake: string;
    }
  | { format: "umber-moth/keyframes"; keys: CopiedKeys };

/** The intruder that is selected, itself or by one of its layers. */
function selectedIntruder({ selection: x, recipe }: EditorState): Intruder | null {
  if (x?.kind === "intruder") return intruderById(recipe, x.intruder);
  return x?.kind === "layer" ? intruderOf(recipe, x.layer) : null;
}

/** Everything that is done to intruders and to their layers as a whole. */
export function createPatches(core: EditorCore, keyOfTake: (take: Take) => string) {
  const { get, set, commit, preview, notices } = core;

  const titleOf = (id: string) => layerTitle(get().recipe, id);

  /** Whether a layer is locked, which is said. */
  function isLocked(l: { id: string; locked?: boolean }): boolean {
    if (l.locked) notices.said(`${titleOf(l.id)} is locked: unlock it in the ledger first.`);
    return l.locked === true;
  }

  function changeLayer(id: string, name: string, change: Change, dragging: Dragging = false): void {
    const now = layerById(get().recipe, id);
    if (now && !dragging && isLocked(now)) return;
    const run = (d: Draft<Recipe>) => {
      const l = patchById(d, id);
      if (l && !l.locked) change(l);
    };
    if (dragging) preview(run, dragging === "picture");
    else commit(name, run);
  }

  /** A new patch of one shape, with the chosen plate behind it, in the intruder that is selected or a new one. */
  function layPatch(shape: Draft<Shape>): void {
    const s = get();
    const id = newId("l");
    const plate = s.selection?.kind === "plate" ? s.selection.plate : lastPlateUsed(s.recipe);
    const count = s.recipe.intruders.length + 1;
    const into = s.selection?.kind === "intruder" ? intruderById(s.recipe, s.selection.intruder) : null;
    const { shot: range } = s.recipe;
    const band = into && seenFrames(into);
    const layer: Draft<PatchLayer> = {
      id,
      kind: "patch",
      in: band ? Math.max(range.in, band.in - 1) : range.in,
      out: band ? Math.min(range.out, band.out + 1) : range.out,
      source: plate ? { plate } : { take: range.take, hold: range.in },
      mask: { shapes: [shape], feather: 12 },
    };
    const title = into?.name ?? `Intruder ${count}`;
    commit(`Lay a patch over ${title}`, (d) => {
      const home = into && intruderById(d, into.id);
      if (home) home.layers.push(layer);
      else d.intruders.push({ id: newId("i"), name: title, layers: [layer] });
    });
    set({ selection: { kind: "layer", layer: id }, mode: atStage("Patch") });
    if (!plate)
      notices.said(
        `There is no plate yet, so the patch shows frame ${core.show(range.in)}. Go to a clean frame and press P, then choose it as the picture.`,
      );
  }

  /** Gives a patch another kind of picture, with a first setting that is of use. */
  function setSource(l: PatchLayer, kind: SourceKind): void {
    const { recipe, frame } = get();
    const take = l.source.take ?? recipe.shot.take;
    const own = recipe.shot.take;
    const next: Record<SourceKind, () => Draft<Source>> = {
      plate: () => ({ plate: lastPlateUsed(recipe)! }),
      hold: () => ({ take, hold: Math.max(0, l.in - 1) }),
      slip: () => ({ take, slip: frame - 12 >= 0 ? -12 : 12 }),
      stretch: () => ({ take, from: recipe.shot.in, to: Math.max(recipe.shot.in, Math.min(recipe.shot.out, l.in - 1)), repeat: "loop" }),
      beside: () => ({ take: own }),
    };
    changeLayer(l.id, `Picture of ${titleOf(l.id)}: ${kind}`, (d) => {
      d.source = next[kind]();
      if (kind === "beside" && !d.place) d.place = besidePlace(l);
    });
    if (kind === "beside") set({ tool: "source" });
  }

  /** The place right beside a mask, where there is more room. */
  function besidePlace(l: PatchLayer) {
    const s = get();
    const box = core.maskBox(maskOf(s.recipe, l), s.frame);
    const { width } = takeOf(s).info!;
    if (!box) return { x: 0, y: 0 };
    const w = Math.round(1.15 * (box.x1 - box.x0)) + 8;
    const left = box.x0 > width - box.x1;
    return { x: left ? w : -w, y: 0 };
  }

  /** Takes the picture from a take of the production, with what the recipe needs to name it. */
  function setTake(l: PatchLayer, other: Take): void {
    const key = keyOfTake(other);
    const { recipe } = get();
    commit(`Picture of ${titleOf(l.id)} from ${other.name}`, (d) => {
      const mine = patchById(d, l.id);
      if (!mine || mine.locked) return;
      d.takes[key] ??= { asset: other.id };
      const { plate: _, ...rest } = mine.source;
      mine.source = { ...rest, take: key };
      // the same frame of the shot's own take is what lies beneath: of another take it is a source
      if (rest.hold === undefined && rest.slip === undefined && rest.from === undefined && key !== recipe.shot.take)
        mine.source = { take: key, slip: 0 };
    });
  }

  /** What is selected goes; what still uses it is named. */
  function removeSelected(): void {
    const s = get();
    const { selection } = s;
    if (!selection) return;
    if (selection.kind === "plate") return removePlate(selection.plate);
    if (selection.kind === "intruder") {
      const i = intruderById(s.recipe, selection.intruder);
      if (i?.layers.some((l) => l.locked)) return void isLocked(i.layers.find((l) => l.locked)!);
      return commit(`Delete ${i?.name}`, (d) => {
        d.intruders = d.intruders.filter((x) => x.id !== selection.intruder);
      });
    }
    const l = layerById(s.recipe, selection.layer);
    if (!l || isLocked(l)) return;
    const what = paintById(s.recipe, selection.layer) ? "painted frames" : "patch";
    commit(`Delete ${what} of ${titleOf(selection.layer)}`, (d) => {
      for (const i of d.intruders) i.layers = i.layers.filter((x) => x.id !== selection.layer);
      d.intruders = d.intruders.filter((i) => i.layers.length || i.seen);
    });
  }

  function removePlate(id: string): void {
    const s = get();
    const uses = (p: { source?: { plate?: string } }) => p.source?.plate === id;
    const users = [
      ...s.recipe.intruders.filter((i) => i.layers.some((l) => (isPatch(l) && uses(l)) || (isPaint(l) && l.touches.some(uses)))).map((i) => i.name),
      ...Object.entries(s.recipe.plates)
        .filter(([k, p]) => k !== id && p.touches.some(uses))
        .map(([k, p]) => p.name ?? k),
    ];
    if (users.length)
      return notices.problem(`This plate is used by ${users.join(", ")}: give ${users.length > 1 ? "them" : "it"} another picture first.`);
    commit(`Delete plate ${s.recipe.plates[id].name ?? ""}`.trim(), (d) => {
      delete d.plates[id];
    });
  }

  /** Puts an intruder at another place of the list; what stands lower is laid later. */
  function orderIntruder(id: string, to: number): void {
    const list = get().recipe.intruders;
    const from = list.findIndex((i) => i.id === id);
    if (from < 0 || to < 0 || to >= list.length || to === from) return;
    commit(`Move ${list[from].name} ${to < from ? "up" : "down"} the list`, (d) => {
      const [i] = d.intruders.splice(from, 1);
      d.intruders.splice(to, 0, i);
    });
  }
  /** Puts a layer at another place within its intruder, 0 at the bottom. */
  function orderLayer(id: string, to: number): void {
    const home = intruderOf(get().recipe, id);
    const from = home?.layers.findIndex((l) => l.id === id) ?? -1;
    if (!home || to < 0 || to >= home.layers.length || to === from) return;
    commit(`Lay the patch of ${home.name} ${to > from ? "higher" : "lower"}`, (d) => {
      const layers = intruderById(d, home.id)!.layers;
      const [l] = layers.splice(from, 1);
      layers.splice(to, 0, l);
    });
  }

  const anyLayer = (id: string, name: string, change: (l: Draft<Layer>) => void) => commit(name, (d) => void change(layerById(d, id)!));
  const setOn = (l: Layer, on: boolean) =>
    anyLayer(l.id, `Switch ${l.name || `the layer of ${titleOf(l.id)}`} ${on ? "on" : "off"}`, (d) => void (on ? delete d.on : (d.on = false)));
  const setLocked = (l: Layer, locked: boolean) =>
    anyLayer(
      l.id,
      `${locked ? "Lock" : "Unlock"} ${l.name || `the layer of ${titleOf(l.id)}`}`,
      (d) => void (locked ? (d.locked = true) : delete d.locked),
    );
  const nameLayer = (l: Layer, name: string) => anyLayer(l.id, `Name the layer ${name}`, (d) => void (name ? (d.name = name) : delete d.name));

  function duplicateLayer(id: string): void {
    const copy = newId("l");
    commit(`Duplicate the patch of ${titleOf(id)}`, (d) => {
      const home = intruderOf(d, id);
      if (!home) return;
      const at = home.layers.findIndex((l) => l.id === id);
      const { locked: _, ...l } = JSON.parse(JSON.stringify(home.layers[at])) as Draft<Layer>;
      home.layers.splice(at + 1, 0, { ...l, id: copy, name: `${l.name || home.name} copy`.slice(0, 200) } as Draft<Layer>);
    });
    set({ selection: { kind: "layer", layer: copy }, picked: NOTHING_PICKED });
  }

  /** What Ctrl C copies: picked keyframes, else the selected layer or intruder, with what they use. */
  function copied(): Copied | null {
    const s = get();
    const l = selectedLayer(s);
    if (l && s.keyframesPicked.length) {
      const frames = s.keyframesPicked.filter((k) => k.layer === l.id).map((k) => k.f);
      if (frames.length) return { format: "umber-moth/keyframes", keys: copyKeys(s.recipe, l, frames) };
    }
    const i = selectedIntruder(s);
    if (!i) return null;
    const { selection } = s;
    const layers = selection?.kind === "layer" ? i.layers.filter((x) => x.id === selection.layer) : i.layers;
    if (!layers.length) return null;
    const masks: Record<string, Mask> = {};
    const plates: Record<string, Plate> = {};
    const takes: Record<string, string> = {};
    const plate = (id?: string) => {
      if (!id || plates[id] || !s.recipe.plates[id]) return;
      plates[id] = s.recipe.plates[id];
      take(plates[id].from.take);
      plates[id].touches.forEach((t) => (plate(t.source?.plate), take(t.source?.take)));
    };
    const take = (key?: string) => {
      if (key && s.shot.takes[key]) takes[key] = s.shot.takes[key].id;
    };
    for (const x of layers) {
      if (isPaint(x)) x.touches.forEach((t) => (plate(t.source?.plate), take(t.source?.take)));
      if (!isPatch(x)) continue;
      plate(x.source.plate);
      take(x.source.take);
      if ("use" in x.mask && s.recipe.masks?.[x.mask.use]) masks[x.mask.use] = s.recipe.masks[x.mask.use];
    }
    return { format: "umber-moth/layers", intruder: i.name, layers: [...layers], masks, plates, takes, shotTake: s.recipe.shot.take };
  }

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
      for (const [id, m] of Object.entries(c.masks)) if (!d.masks?.[id]) d.masks = { ...d.masks, [id]: structuredClone(m) as Draft<Mask> };
      const layers = c.layers.map((x) => {
        const l = structuredClone(x) as Draft<Layer>;
        l.id = newId("l");
        ids.push(l.id);
        l.in = Math.min(Math.max(l.in, s.recipe.shot.in), s.recipe.shot.out);
        l.out = Math.min(Math.max(l.out, l.in), s.recipe.shot.out);
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

  /** Lets a patch reach over the whole shot, or over the frames in which its intruder is seen. */
  function extend(l: Layer, over: "shot" | "seen"): void {
    const { recipe } = get();
    const home = intruderOf(recipe, l.id)!;
    const band = over === "seen" ? seenFrames(home) : recipe.shot;
    if (!band) return notices.said(`When ${home.name} is seen is not known yet: drag round it in Scout, and it is measured.`);
    const [a, b] = [Math.max(recipe.shot.in, band.in), Math.min(recipe.shot.out, band.out)];
    changeLayer(l.id, over === "shot" ? `Extend ${home.name} over the whole shot` : `Cover ${home.name} where it is seen`, (d) => {
      d.in = a;
      d.out = b;
    });
  }

  return {
    /** The selected patch begins at the frame shown, as long as that is not after its end. */
    beginHere(): void {
      const { frame } = get();
      const l = selectedLayer(get());
      if (l && frame <= l.out) changeLayer(l.id, `Begin the patch at frame ${atFrame(frame)}`, (d) => void (d.in = frame));
    },
    /** The selected patch ends at the frame shown, as long as that is not before its beginning. */
    endHere(): void {
      const { frame } = get();
      const l = selectedLayer(get());
      if (l && frame >= l.in) changeLayer(l.id, `End the patch at frame ${atFrame(frame)}`, (d) => void (d.out = frame));
    },
    /** Sets a keyframe of the selected patch's opacity at the frame shown, or takes it out. */
    toggleOpacityKeyframe(): void {
      const { frame } = get();
      const l = selectedLayer(get());
      if (!l) return;
      const opacity = l.opacity ?? 1;
      const had = isKeyed(opacity) && opacity.keys.some((k) => k.f === frame);
      changeLayer(l.id, `${had ? "Remove" : "Set"} an opacity keyframe at frame ${atFrame(frame)}`, (d) => {
        d.opacity = asDraft(had ? withoutKey(opacity, frame) : withKey(opacity, frame));
      });
    },
    isLocked,
    changeLayer,
    layPatch,
    setSource,
    setTake,
    removeSelected,
    orderIntruder,
    orderLayer,
    setOn,
    setLocked,
    nameLayer,
    duplicateLayer,
    copied,
    paste,
    extend,
  };
}
