import { seenFrames } from "../../../core/document/recipe";
import { cameraPlace } from "../../../core/plate/follow";
import { heldFrame } from "../../../core/retouch/plate";
import type { PatchLayer } from "../../../core/document/layer";
import { asDraft, type Draft } from "../../../recipe/edits";
import { carriesFrom, intruderById, layerTitle, patchById } from "../../../recipe/query";
import { newId } from "../names";
import { heldOver } from "../seen";
import { atStage } from "../state/mode";
import type { ByItself } from "./by-itself";
import { type createCameraTrack, keepTrack } from "./camera-track";
import type { EditorCore } from "./core";

/** Laying a patch over an outlined thing, and letting it follow the camera. */
export function createCovering(core: EditorCore, itself: Pick<ByItself, "match">, track: ReturnType<typeof createCameraTrack>) {
  const { get, set, commit, notices } = core;

  /** Lays a patch over an outlined thing, for the frames in which it is seen: with the chosen plate, else the newest, else the cleanest frame held. */
  async function cover(id: string): Promise<void> {
    const s = get();
    const i = intruderById(s.recipe, id);
    if (!i?.seen) return;
    const band = seenFrames(i) ?? s.recipe.shot;
    const plate = s.selection?.kind === "plate" ? s.selection.plate : Object.keys(s.recipe.plates).at(-1);
    const clean = s.found[id]?.clean[0]?.frame;
    const leaves = !(i.seen.measured?.never && i.seen.in === undefined && i.seen.out === undefined);
    // a held frame that shows the same thing would cover it with itself
    if (!plate && (!leaves || clean === undefined))
      return notices.said(
        `${i.name} ${leaves ? "is not clean in any frame" : "never leaves"}: no frame of this shot shows what is behind it. Take the clean picture from another take (Plate), fill or graft it on a plate, or take the same frame beside it (Patch, Beside).`,
      );
    const shows = plate && heldOver(s.recipe.plates[plate], s.recipe.shot.take, i);
    if (shows)
      return notices.said(
        `The plate “${s.recipe.plates[plate].name ?? plate}” is a frame in which ${i.name} is seen: retouch it first, or make a plate of a frame in which it is gone.`,
      );
    const source = plate ? { plate } : { take: s.recipe.shot.take, hold: clean ?? s.recipe.shot.in };
    const layer = newId("l");
    const { in: a, out: b } = s.recipe.shot;
    const [first, last] = [Math.max(a, band.in - 1), Math.min(b, band.out + 1)];
    const still = s.survey?.survey?.stillness;
    const moves = still && still.verdict !== "locked";
    const mask: PatchLayer["mask"] = { shapes: [{ kind: "path", op: "add", points: i.seen.outline }], feather: 12, grow: 6 };
    const lying = { in: first, out: last, mask };
    // a picture of another take is not on the track of this one
    const camera = moves && carriesFrom(s.recipe, { source }) ? await track.round(lying, i.name, stillFrom(source)) : null;
    const place = moves && !camera ? cameraPlace(still.perFrame, stillFrom(source), first, last) : null;
    commit(`Cover ${i.name}`, (d) => {
      if (camera) keepTrack(d, camera);
      const patch: Draft<PatchLayer> = {
        id: layer,
        kind: "patch",
        in: first,
        out: last,
        source,
        ...(place ? { place: asDraft(place) } : {}),
        ...(camera ? { tied: { to: camera.id, from: camera.id } } : {}),
        mask: asDraft(mask),
      };
      itself.match(d, patch, null);
      intruderById(d, id)?.layers.push(patch);
    });
    set({ selection: { kind: "layer", layer }, tool: "adjust", mode: atStage("Patch") });
    core.refresh();
  }

  /** The frame in whose place a still source is. */
  function stillFrom(source: { plate?: string; hold?: number }): number {
    const { recipe } = get();
    const plate = source.plate !== undefined ? recipe.plates[source.plate] : null;
    const held = plate && heldFrame(plate);
    if (plate?.from.line?.at !== undefined) return plate.from.line.at;
    return held?.take === recipe.shot.take ? held.frame : (source.hold ?? recipe.shot.in);
  }

  /**
   * Lets the picture of a patch follow the camera along a track of what the survey measured; one that is of no frame of the take is keyed
   * from it.
   */
  async function followCamera(layerId: string): Promise<void> {
    const { recipe, survey } = get();
    const still = survey?.survey?.stillness;
    const layer = patchById(recipe, layerId);
    if (!still || !layer) return notices.said("The take is not measured yet: wait until its survey is there.");
    const camera = carriesFrom(recipe, layer) ? await track.round(layer, layerTitle(recipe, layerId), stillFrom(layer.source)) : null;
    const place = camera ? null : cameraPlace(still.perFrame, stillFrom(layer.source), layer.in, layer.out);
    commit("Let the patch follow the camera", (d) => {
      const l = patchById(d, layerId);
      if (!l) return;
      if (place) l.place = asDraft(place);
      if (!camera) return;
      keepTrack(d, camera);
      l.tied = { ...l.tied, to: camera.id, from: camera.id };
    });
  }

  return {
    cover,
    followCamera,
  };
}
