import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";
import type { Stillness } from "../../core/survey/stillness";
import { MediaError } from "../media/media-error";
import { step, type Watch } from "../watch";
import { offered } from "./build";
import { lying } from "./lying";

interface Stretch {
  in: number;
  out: number;
}

/** How a take's camera lies against where it was on one frame. */
export interface Camera {
  moves: boolean;
  /** The frames that were found; those a plate can be built of. */
  scene: Stretch;
  /** For a plate of the scene. */
  still: Stillness;
  /** How a frame of the scene lies against that one; undefined where the camera stands still. */
  of: (f: number) => Alignment | undefined;
}

/**
 * How the frames of a scene lie against one of them. Where the camera goes too far for that in the whole scene, it is asked on the wanted
 * frames alone.
 * @throws MediaError where they are not found even there
 */
export async function cameraOf(
  scene: Stretch,
  [first, last]: readonly [number, number],
  at: number,
  load: (n: number) => Promise<Frame>,
  watch: Watch,
): Promise<Camera> {
  const some = await lying(offered(scene.in, scene.out), at, load, () => step(watch, 0, 1));
  if (!some.aligned) return { moves: false, scene, still: { verdict: "locked", maxShift: 0, perFrame: [] }, of: () => undefined };
  for (const s of [scene, { in: first, out: last }]) {
    const list = Array.from({ length: s.out - s.in + 1 }, (_, k) => s.in + k);
    const { aligned, lost } = await lying(list, at, load, (n) => step(watch, n, list.length));
    if (lost) continue;
    const of = (f: number) => aligned?.[f - s.in];
    const perFrame: Stillness["perFrame"] = [];
    perFrame[at] = [0, 0, 0, 1];
    aligned?.forEach(({ dx, dy, angle, scale }, k) => (perFrame[s.in + k] = [dx, dy, angle, scale]));
    return { moves: !!aligned, scene: s, still: { verdict: aligned ? "drifts" : "locked", maxShift: 0, perFrame }, of };
  }
  throw new MediaError(
    `The camera moves farther from frame ${at} than can be followed, so there is no clean picture to tell things from: ask for fewer frames about it.`,
  );
}
