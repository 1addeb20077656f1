import { TILE_SIDE, type TiledNoise } from "../blend/tiled-noise";
import { grainOfPlane, type GrainStatistics } from "./grain";
import { grainOver, type NoiseKey, numberOf } from "./synthesis";

/** Frames that have a say in the noise of one. */
const TAPS = 3;
/** Likeness below which noise counts as new in every frame. */
const NEW = 0.04;
/** Frames after which the same tiles come again, elsewhere. */
const CYCLE = 16;

/** Tiles by what they were made of. */
const tiles = new WeakMap<GrainStatistics, Map<string, Float32Array>>();

function kept(g: GrainStatistics, key: string, make: () => Float32Array): Float32Array {
  let of = tiles.get(g);
  if (!of) tiles.set(g, (of = new Map()));
  let tile = of.get(key);
  if (!tile) of.set(key, (tile = make()));
  return tile;
}

/** A tile of noise with the covariance of a plane's grain, made once. @param plain without it, for pictures that are averages already */
const baseOf = (g: GrainStatistics, p: number, plain: boolean): Float32Array =>
  kept(g, `${p}/${plain}`, () => {
    const whole = { x0: 0, y0: 0, x1: TILE_SIDE, y1: TILE_SIDE };
    return Float32Array.from(grainOver(grainOfPlane(g, p), { inTime: 0 }, { seed: 0, layer: "tile", plane: p, n: 0 }, whole, plain));
  });

/** The tile of one frame of a cycle: the base laid elsewhere in each frame, and those of the frames before as far as noise lasts. */
const tileOf = (g: GrainStatistics, p: number, plain: boolean, k: number): Float32Array =>
  kept(g, `${p}/${plain}/${k}`, () => {
    const base = baseOf(g, p, plain);
    const out = new Float32Array(TILE_SIDE * TILE_SIDE);
    const taps = g.inTime > NEW ? TAPS : 1;
    let energy = 0;
    for (let j = 0; j < taps; j++) energy += g.inTime ** (2 * j);
    for (let j = 0; j < taps; j++) {
      const weight = g.inTime ** j / Math.sqrt(energy);
      const at = numberOf({ seed: 0, layer: "cycle", plane: p, n: 0 }, (k - j + CYCLE) % CYCLE);
      const [ox, oy] = [at & (TILE_SIDE - 1), (at >>> 8) & (TILE_SIDE - 1)];
      for (let y = 0, i = 0; y < TILE_SIDE; y++) {
        const row = ((y + oy) & (TILE_SIDE - 1)) * TILE_SIDE;
        for (let x = 0; x < TILE_SIDE; x++, i++) out[i] += weight * base[row + ((x + ox) & (TILE_SIDE - 1))];
      }
    }
    return out;
  });

/** The same with the share that a plane's noise has of the first one's. */
const likeFirst = (g: GrainStatistics, p: number, plain: boolean, k: number, like: number): Float32Array =>
  kept(g, `${p}/${plain}/${k}/first`, () => {
    const [first, own] = [tileOf(g, 0, plain, k), tileOf(g, p, plain, k)];
    const rest = Math.sqrt(1 - like * like);
    return own.map((v, i) => like * first[i] + rest * v);
  });

/**
 * `planeGrainOver` for pictures that need not be exact: some tiles of noise that take turns, laid elsewhere each time; as strong, as soft and
 * nearly as lasting. A sample's noise hangs on its place, frame, layer and seed alone here as well.
 * @param asLarge whether the plane is as large as the first one: else what it has of that one's noise is left out
 */
export function quickNoise(g: GrainStatistics, p: number, asLarge: boolean, { seed, layer, n }: NoiseKey, plain: boolean): TiledNoise {
  const [k, epoch] = [n % CYCLE, Math.floor(n / CYCLE)];
  const like = p > 0 && asLarge ? (grainOfPlane(g, p).likeFirst ?? 0) : 0;
  const at = numberOf({ seed, layer, plane: 0, n }, epoch);
  const tile = like ? likeFirst(g, p, plain, k, like) : tileOf(g, p, plain, k);
  return { tile, dx: at & (TILE_SIDE - 1), dy: (at >>> 8) & (TILE_SIDE - 1) };
}
