import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";
import { reach, type Stillness } from "../../core/survey/stillness";
import { MediaError } from "../media/media-error";
import { step, type Watch } from "../watch";
import { offered } from "./build";
import { type Lying, lying } from "./lying";

/** Pixels by which a corner of the picture may be off for the camera to count as standing: the ground's own spread holds as much. */
const TREMBLES = 0.5;

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
 * frames alone; where frames are not found and none that is found says that it moves, it stands: what passes may hide the rest.
 * @throws MediaError where it moves, and frames are not found even there
 */
export async function cameraOf(
  scene: Stretch,
  [first, last]: readonly [number, number],
  at: number,
  load: (n: number) => Promise<Frame>,
  watch: Watch,
): Promise<Camera> {
  const { width, height } = await load(at);
  const far = ({ aligned }: Lying) => aligned?.some((a) => reach(a, width, height) > TREMBLES) ?? false;
  const list = offered(scene.in, scene.out);
  const some = await lying(list, at, load, () => step(watch, 0, 1));
  const perFrame: Stillness["perFrame"] = [];
  const keep = ({ aligned }: Lying, frames: readonly number[]) => {
    perFrame[at] = [0, 0, 0, 1];
    aligned?.forEach(({ dx, dy, angle, scale }, k) => (perFrame[frames[k]] = [dx, dy, angle, scale]));
  };
  if (!far(some)) {
    keep(some, list);
    return { moves: false, scene, still: { verdict: some.aligned ? "drifts" : "locked", maxShift: 0, perFrame }, of: () => undefined };
  }
  for (const s of [scene, { in: first, out: last }]) {
    const all = Array.from({ length: s.out - s.in + 1 }, (_, k) => s.in + k);
    const lies = await lying(all, at, load, (n) => step(watch, n, all.length));
    if (lies.lost) continue;
    keep(lies, all);
    return { moves: true, scene: s, still: { verdict: "drifts", maxShift: 0, perFrame }, of: (f) => lies.aligned?.[f - s.in] };
  }
  throw new MediaError(
    `The camera moves farther from frame ${at} than can be followed, so there is no clean picture to tell things from: ask for fewer frames about it.`,
  );
}
