import { type Recipe, seenFrames } from "../../../core/document/recipe";
import type { PatchLayer } from "../../../core/document/layer";
import type { Layer } from "../../../core/document/layer";
import type { Shape } from "../../../core/document/mask";
import { isKeyed, withKey, withoutKey } from "../../../core/time/keyed";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById, intruderOf, layerById, layerTitle, patchById, thingsOf } from "../../../recipe/query";
import type { Take } from "../../../wire/take";
import { atFrame } from "../counting";
import { newId } from "../names";
import { lastPlateUsed } from "../source-kind";
import type { Dragging } from "../state/document";
import { atStage } from "../state/mode";
import { selectedLayer } from "../state/select";
import type { ByItself } from "./by-itself";
import type { EditorCore } from "./core";
import { createLayers } from "./layers";
import { createClipboard } from "./clipboard";
import { createPatchSource } from "./patch-source";
import type { createCameraTrack } from "./camera-track";
import { createCovering } from "./covering";

type Change = (l: Draft<PatchLayer>, all: Draft<Recipe>) => void;

/** Everything that is done to intruders and to their layers as a whole. */
export function createPatches(
  core: EditorCore,
  keyOfTake: (take: Take) => string,
  itself: Pick<ByItself, "match">,
  camera: ReturnType<typeof createCameraTrack>,
) {
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
      if (l && !l.locked) change(l, d);
    };
    if (dragging) preview(run, dragging === "picture");
    else commit(name, run);
  }

  /** A new patch of one shape, with the chosen plate behind it, in the intruder that is selected or a new one. */
  function layPatch(shape: Draft<Shape>): void {
    const s = get();
    const id = newId("l");
    const plate = s.selection?.kind === "plate" ? s.selection.plate : lastPlateUsed(s.recipe);
    const count = thingsOf(s.recipe).length + 1;
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
      itself.match(d, layer, null);
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
    ...createLayers(core, isLocked),
    ...createClipboard(core, isLocked),
    ...createPatchSource(core, keyOfTake, changeLayer, itself),
    ...createCovering(core, itself, camera),
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
    extend,
  };
}
