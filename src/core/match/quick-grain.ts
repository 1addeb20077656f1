import type { Rect } from "../pixels/frame";
import { grainOfPlane, type GrainStatistics, type PlaneGrain } from "./grain";
import { grainOver, type NoiseKey, numberOf } from "./synthesis";

/** Side of the tile quick pictures take their noise from, a power of two. */
const SIDE = 256;
/** Frames that have a say in the noise of one. */
const TAPS = 3;
/** Likeness below which noise counts as new in every frame. */
const NEW = 0.04;

const tiles = new WeakMap<PlaneGrain, { plain: Float32Array | null; soft: Float32Array | null }>();

/** A tile of noise with the covariance of some grain, made once. @param plain without it, for pictures that are averages already */
function tileOf(grain: PlaneGrain, plain: boolean): Float32Array {
  let of = tiles.get(grain);
  if (!of) tiles.set(grain, (of = { plain: null, soft: null }));
  const kind = plain ? "plain" : "soft";
  return (of[kind] ??= Float32Array.from(
    grainOver(grain, { inTime: 0 }, { seed: 0, layer: "tile", plane: 0, n: 0 }, { x0: 0, y0: 0, x1: SIDE, y1: SIDE }, plain),
  ));
}

/**
 * `grainOver` for pictures that need not be exact: one tile of noise, laid elsewhere in every frame; as strong, as soft and nearly as lasting.
 * A sample's noise hangs on its place, frame, layer and seed alone here as well.
 */
function quickGrainOver(grain: PlaneGrain, time: Pick<GrainStatistics, "inTime" | "held">, key: NoiseKey, rect: Rect, plain: boolean): Float32Array {
  const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
  const out = new Float32Array(w * h);
  const tile = tileOf(grain, plain);
  const taps = time.inTime > NEW ? TAPS : 1;
  let energy = 0;
  for (let k = 0; k < taps; k++) energy += time.inTime ** (2 * k);
  for (let k = 0; k < taps; k++) {
    const weight = time.inTime ** k / Math.sqrt(energy);
    const at = numberOf(key, key.n - k);
    const [ox, oy] = [at & (SIDE - 1), (at >>> 8) & (SIDE - 1)];
    for (let y = 0, i = 0; y < h; y++) {
      const row = ((rect.y0 + y + oy) & (SIDE - 1)) * SIDE;
      for (let x = 0, c = rect.x0 + ox; x < w; x++, i++) out[i] += weight * tile[row + ((c + x) & (SIDE - 1))];
    }
  }
  return out;
}

/** The same for a plane of some grain, which has a share of the first one's noise where both are as large. */
export function quickPlaneGrainOver(g: GrainStatistics, p: number, asLarge: boolean, key: NoiseKey, rect: Rect, plain: boolean): Float32Array {
  const of = grainOfPlane(g, p);
  const out = quickGrainOver(of, g, key, rect, plain);
  const like = p > 0 && asLarge ? (of.likeFirst ?? 0) : 0;
  if (!like) return out;
  const first = quickGrainOver(g.planes[0], g, { ...key, plane: 0 }, rect, plain);
  const rest = Math.sqrt(1 - like * like);
  return out.map((v, i) => like * first[i] + rest * v);
}
