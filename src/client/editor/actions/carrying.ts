import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import { withRim } from "../../../core/follow/riding";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById } from "../../../recipe/query";
import { atFrame } from "../counting";
import { newId } from "../names";
import { takeOf } from "../state/select";
import type { ByItself } from "./by-itself";
import type { EditorCore } from "./core";
import type { createFollowing } from "./following";

/** Taking off what sits on something that moves. */
export function createCarrying(
  core: EditorCore,
  following: Pick<ReturnType<typeof createFollowing>, "measure" | "told" | "load">,
  itself: Pick<ByItself, "match">,
) {
  const { get, set, commit, notices } = core;

  /**
   * Lays a patch over an outlined thing that goes along with what it sits on: the frame on which it was outlined becomes a plate and is
   * opened to be retouched; mask and picture go along the track of the thing and its rim.
   */
  async function carry(id: string): Promise<void> {
    const { recipe } = get();
    const { info } = takeOf(get());
    const seen = intruderById(recipe, id)?.seen;
    if (!seen || !info) return;
    const { at, outline } = seen;
    const points = outline.map(([x, y]): [number, number] => [x, y]);
    const { in: from, out: to, take } = recipe.shot;
    const measured = await following.measure(withRim(points, info), at, { from, to });
    if (!measured) return;
    const { id: t, track, stops } = measured;
    const [plate, layer] = [newId("p"), newId("l")];
    commit(`Follow what ${intruderById(recipe, id)?.name ?? id} sits on`, (d: Draft<Recipe>) => {
      d.tracks = { ...d.tracks, [t]: asDraft(track) };
      d.plates[plate] = { name: `Frame ${core.show(at)}`, from: { take, frame: at }, touches: [] };
      const patch: Draft<PatchLayer> = {
        ...{ id: layer, kind: "patch", in: track.in, out: track.out },
        source: { plate },
        tied: { mask: t, to: t, from: t },
        mask: { shapes: [{ kind: "path", op: "add", points }], feather: 4, grow: 2 },
      };
      itself.match(d, patch, null);
      intruderById(d, id)?.layers.push(patch);
    });
    await following.load();
    set({ selection: { kind: "plate", plate }, mode: { stage: "Plate", plate } });
    core.refresh();
    notices.said(`The patch goes along. What you take off this plate now, frame ${atFrame(at)}, is gone wherever it goes.`);
    following.told(stops);
  }

  return { carry };
}
