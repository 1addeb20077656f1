import { grayOf } from "../../core/motion/gray";
import { liesBetter } from "../../core/motion/lies-better";
import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";
import { reach, type Stillness } from "../../core/survey/stillness";
import { MediaError } from "../media/media-error";
import { step, type Watch } from "../watch";
import { offered } from "./build";
import { type Lying, lying } from "./lying";

/** Pixels by which a corner of the picture may be off for the camera to count as standing: the ground's own spread holds as much. */
const TREMBLES = 0.5;
/** Frames that are asked whether they do. */
const ASKED = 7;

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
 * frames alone; where those that were found do not lie better there, it stands: what passes was taken for it.
 * @throws MediaError where it moves, and frames are not found even there
 */
export async function cameraOf(
  scene: Stretch,
  [first, last]: readonly [number, number],
  at: number,
  load: (n: number) => Promise<Frame>,
  watch: Watch,
): Promise<Camera> {
  const list = offered(scene.in, scene.out);
  const some = await lying(list, at, load, () => step(watch, 0, 1));
  const perFrame: Stillness["perFrame"] = [];
  const keep = ({ aligned }: Lying, frames: readonly number[]) => {
    perFrame[at] = [0, 0, 0, 1];
    aligned?.forEach(({ dx, dy, angle, scale }, k) => (perFrame[frames[k]] = [dx, dy, angle, scale]));
  };
  const { width, height } = await load(at);
  const far = list
    .flatMap((n, k) => (some.aligned ? [{ n, a: some.aligned[k], by: reach(some.aligned[k], width, height) }] : []))
    .filter(({ by }) => by > TREMBLES);
  if (!far.length || !(await bearsOut(far, at, load))) {
    if (!far.length) keep(some, list);
    const trembles = some.aligned && !far.length;
    return { moves: false, scene, still: { verdict: trembles ? "drifts" : "locked", maxShift: 0, perFrame }, of: () => undefined };
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

/** A frame that was found to lie elsewhere, and by how much at the picture's corners. */
interface Far {
  n: number;
  a: Alignment;
  by: number;
}

/** Whether most of the frames that lie farthest do lie better where they were found than where they are. */
async function bearsOut(far: readonly Far[], at: number, load: (n: number) => Promise<Frame>): Promise<boolean> {
  const gray = ({ planes: [y], format }: Frame) => grayOf(y, format.bits);
  const home = gray(await load(at));
  const asked = far.toSorted((p, q) => q.by - p.by).filter((_, k) => k % Math.ceil(far.length / ASKED) === 0);
  let better = 0;
  for (const { n, a } of asked) if (liesBetter(home, gray(await load(n)), a)) better++;
  return better > asked.length / 2;
}
