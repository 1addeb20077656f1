import type { Place } from "../document/layer";
import type { TrackModel } from "../document/track";
import { type Homography, IDENTITY, inverse, times } from "../follow/homography";
import type { TrackData } from "../follow/track-data";
import { keptPoints } from "../shape/simplify";
import type { Keyed } from "../time/keyed";

/** How far a keyed value may lie beside the measured one, pixels (degrees and scale where they move a corner as far). */
const OFF = 0.02;

/**
 * The place that lets a picture held at frame `from` follow the camera over frames `a` … `b`, keyed where a straight line
 * between two keys would be off by more than 0.02 px.
 * @param perFrame shift, turn and scale of each frame against one reference
 */
export function cameraPlace(perFrame: readonly (readonly number[])[], from: number, a: number, b: number): Place {
  const at = (n: number) => perFrame[Math.min(perFrame.length - 1, Math.max(0, n))];
  const zero = at(from);
  const values = (f: (v: readonly number[]) => number) => Array.from({ length: b - a + 1 }, (_, i) => f(at(a + i)));
  return {
    x: keysOf(
      values((v) => v[0] - zero[0]),
      a,
      OFF,
    ),
    y: keysOf(
      values((v) => v[1] - zero[1]),
      a,
      OFF,
    ),
    ...(perFrame.some((v) => v[2] !== 0)
      ? {
          angle: keysOf(
            values((v) => v[2] - zero[2]),
            a,
            OFF / 12,
          ),
        }
      : {}),
    ...(perFrame.some((v) => v[3] !== 1)
      ? {
          scale: keysOf(
            values((v) => v[3] / zero[3]),
            a,
            OFF / 700,
          ),
        }
      : {}),
  };
}

/**
 * What the camera does as a track of the whole picture: a plane map from frame `at` to each frame of its scene.
 * @param perFrame shift, turn and scale of each frame against the first of its scene, about the picture's middle
 * @param cuts first frames of new scenes
 */
export function cameraTrack(
  perFrame: readonly (readonly number[])[],
  at: number,
  { width, height }: { width: number; height: number },
  cuts: readonly number[],
): { frames: TrackData; model: TrackModel } {
  const from = cuts.findLast((c) => c <= at) ?? 0;
  const to = (cuts.find((c) => c > at) ?? perFrame.length) - 1;
  const map = ([dx, dy, angle, scale]: readonly number[]): Homography => {
    const [cos, sin] = [scale * Math.cos((angle * Math.PI) / 180), scale * Math.sin((angle * Math.PI) / 180)];
    const [cx, cy] = [width / 2, height / 2];
    return [cos, -sin, cx + dx - cos * cx + sin * cy, sin, cos, cy + dy - sin * cx - cos * cy, 0, 0, 1];
  };
  const back = inverse(map(perFrame[at]))!;
  const scene = perFrame.slice(from, to + 1);
  const frames = scene.map((v, i) => ({ f: from + i, matrix: from + i === at ? IDENTITY : times(map(v), back), quality: 1 }));
  return { frames, model: scene.every((v) => v[2] === 0 && v[3] === 1) ? "shift" : "similarity" };
}

function keysOf(values: number[], first: number, off: number): Keyed<number> {
  const beside = (a: number, b: number, i: number) => Math.abs(values[i] - (values[a] + ((values[b] - values[a]) * (i - a)) / (b - a)));
  const keys = keptPoints(values.length, off, beside).map((i) => ({ f: first + i, v: Number(values[i].toFixed(5)) }));
  return keys.every((k) => k.v === keys[0].v) ? keys[0].v : { keys };
}
