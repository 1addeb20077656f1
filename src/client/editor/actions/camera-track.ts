import type { PatchLayer } from "../../../core/document/layer";
import { maskOf, type Recipe } from "../../../core/document/recipe";
import type { Track } from "../../../core/document/track";
import { asDraft, type Draft } from "../../../recipe/edits";
import { cameraTrackOf } from "../../api";
import { newId } from "../names";
import { takeOf } from "../state/select";
import type { EditorCore } from "./core";
import type { createTasks } from "./tasks";

/** How the track of the whole picture is called; one that was fitted round a patch names that too. */
const CAMERA = "Camera";

export interface CameraTrack {
  id: string;
  track: Track;
}

/** Puts a camera's track into a recipe that does not have it yet. */
export function keepTrack(d: Draft<Recipe>, { id, track }: CameraTrack): void {
  if (!d.tracks || !Object.hasOwn(d.tracks, id)) d.tracks = { ...d.tracks, [id]: asDraft(track) };
}

/** What the camera does, as tracks. */
export function createCameraTrack({ get, notices, show }: EditorCore, tasks: Pick<ReturnType<typeof createTasks>, "run">) {
  /** A track of the shot's take from frame `at`, as it was measured. */
  function trackOf(name: string, at: number, answer: Awaited<ReturnType<typeof cameraTrackOf>>): CameraTrack {
    const { info } = takeOf(get());
    const [w, h] = info ? [info.width, info.height] : [1, 1];
    const region: Track["region"] = [[0, 0], [w, 0], [w, h], [0, h]]; // prettier-ignore
    const { data, in: from, out: to, model } = answer;
    return { id: newId("t"), track: { name, take: get().recipe.shot.take, at, region, model, in: from, out: to, data } };
  }

  /** The track of the whole picture: that of the recipe, or a new one that is still to be put into it; null where it is not measured. */
  async function whole(at: number): Promise<CameraTrack | null> {
    const { recipe, shot } = get();
    const { take } = recipe.shot;
    const old = Object.entries(recipe.tracks ?? {}).find(([, t]) => t.name === CAMERA && t.take === take && at >= t.in && at <= t.out);
    if (old) return { id: old[0], track: old[1] };
    const answer = await cameraTrackOf(shot.id, { take, at }).catch(() => null);
    return answer && trackOf(CAMERA, at, answer);
  }

  /**
   * The track that a patch is to follow, from frame `at`: fitted to what lies round its mask where that tells, else that of the whole picture.
   * @returns null where it is not measured
   */
  async function round(layer: Pick<PatchLayer, "in" | "out" | "mask" | "tied">, title: string, at: number): Promise<CameraTrack | null> {
    // a mask that goes along with something lies where that is, which is not known here
    if (layer.tied?.mask !== undefined) return whole(at);
    const { recipe, shot } = get();
    const { take } = recipe.shot;
    const asked = { mask: maskOf(recipe, layer), from: layer.in, to: layer.out };
    const answer = await tasks.run("Following the camera", (task) => cameraTrackOf(shot.id, { take, at, round: { ...asked, task } }));
    if (!answer) return whole(at);
    if (answer.fitted === null) {
      notices.said("What lies round the patch does not tell how it moves: it follows the whole picture.");
      return whole(at);
    }
    const frames = layer.out - layer.in + 1;
    notices.said(
      `Fitted to what lies round the patch on ${Math.min(frames, answer.fitted)} of ${frames} frames, ${show(layer.in)} to ${show(layer.out)}.`,
    );
    return trackOf(`${CAMERA} at ${title}`, at, answer);
  }

  return { whole, round };
}
