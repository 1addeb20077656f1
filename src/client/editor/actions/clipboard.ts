import { isPaint, isPatch } from "../../../core/document/layer";
import type { Mask } from "../../../core/document/mask";
import type { Plate } from "../../../core/document/plate";
import { copyKeys } from "../keyframes";
import { selectedLayer } from "../state/select";
import type { EditorCore } from "./core";
import type { Copied } from "./copied";
import { selectedIntruder } from "./copied";
import { createPasting } from "./pasting";
import type { Track } from "../../../core/document/track";
import type { GrainProfile } from "../../../core/document/match";

/** Copying layers with all that they use, or keyframes, and putting them in elsewhere. */
export function createClipboard(core: EditorCore, isLocked: (l: { id: string; locked?: boolean }) => boolean) {
  const { get } = core;

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
    const tracks: Record<string, Track> = {};
    const profiles: Record<string, GrainProfile> = {};
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
      for (const id of [x.tied?.mask, x.tied?.to, x.tied?.from])
        if (id && s.recipe.tracks?.[id]) {
          tracks[id] = s.recipe.tracks[id];
          take(tracks[id].take);
        }
      if (x.grain && s.recipe.profiles?.[x.grain.profile]) profiles[x.grain.profile] = s.recipe.profiles[x.grain.profile];
    }
    return {
      ...createPasting(core, isLocked),
      format: "umber-moth/layers",
      intruder: i.name,
      layers: [...layers],
      masks,
      tracks,
      profiles,
      plates,
      takes,
      shotTake: s.recipe.shot.take,
    };
  }

  return { copied, ...createPasting(core, isLocked) };
}
