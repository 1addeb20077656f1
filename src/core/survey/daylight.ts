import type { Light } from "../match/light";

export interface LightCurve {
  /** Slow change of light over the shot: range of the smoothed luma gain. */
  drift: number;
  /** Change from frame to frame: twice the standard deviation of what smoothing takes away. */
  flicker: number;
  /** How far the light of parts of the picture moves beside that of the whole: a cloud's shadow, a lens that darkens its corners. */
  uneven?: number;
  /** Gain and offset of each plane in each frame against the reference. */
  perFrame: [number, number][][];
}

/** Frames over which light is smoothed to tell a drift from flicker. */
const WINDOW = 9;

/** A middle grey over black, codes of 8 bits: light is put as a gain of it, so that an offset counts as well. */
export const MIDDLE_GREY = 110;

/** The light of a frame as one gain, of a middle grey. @param luma gain and offset */
export const gainOfGrey = ([gain, offset]: readonly [number, number]): number => gain + offset / MIDDLE_GREY;

/** Tells slow change from flicker. @param parts of each frame the light of the picture's parts beside that of the whole */
export function lightCurve(perFrame: Light[][], parts: readonly (readonly number[])[] = []): LightCurve {
  const { drift, flicker } = slowAndFast(perFrame.map(([y]) => gainOfGrey([y.gain, y.offset])));
  return { drift, flicker, uneven: unevenness(parts), perFrame: perFrame.map((f) => f.map((l): [number, number] => [l.gain, l.offset])) };
}

/** Parts of the picture whose light is looked at by itself. */
const PARTS = { across: 4, down: 3 };
/** Cells that are enough to speak for a part. */
const ENOUGH = 12;
/** Ratios of a part's cells that lie farther about their middle one are of something else that is seen there, not of other light. */
const ALIKE = 0.04;
/** Light of parts that moves by less counts as still: they are measured on few cells. */
export const UNEVEN_HOLDS = 0.015;
/** So many parts must move alike far: somebody who passes fills one or two. */
const AT_LEAST = 3;

/**
 * The light of the picture's parts beside that of the whole, row by row: of each the middle ratio of what its cells are to what the whole
 * light makes of those of the first frame; NaN where too few cells tell, or where something else is seen. @param across cells in a row @param pivot of `pivotOf`
 */
export function partsOf(first: ArrayLike<number>, now: ArrayLike<number>, across: number, { gain, offset }: Light, pivot: number): number[] {
  const down = Math.floor(first.length / across);
  const ratios = Array.from({ length: PARTS.across * PARTS.down }, (): number[] => []);
  for (let y = 0, i = 0; y < down; y++)
    for (let x = 0; x < across; x++, i++) {
      const was = gain * (first[i] - pivot) + offset;
      // black tells nothing, nor does what is clipped
      if (was < MIDDLE_GREY / 10 || first[i] > 250 || now[i] > 250) continue;
      ratios[Math.floor((y * PARTS.down) / down) * PARTS.across + Math.floor((x * PARTS.across) / across)].push((now[i] - pivot) / was);
    }
  const middle = (v: number[]) => v.sort((a, b) => a - b)[v.length >> 1];
  return ratios.map((r) => {
    if (r.length < ENOUGH) return NaN;
    const at = middle(r);
    return middle(r.map((v) => Math.abs(v - at))) > ALIKE ? NaN : at;
  });
}

/** How far parts move, of those that move most the third. */
function unevenness(parts: readonly (readonly number[])[]): number {
  if (!parts.length) return 0;
  const far = parts[0].map((_, k) => {
    // where it cannot be told it is what it was
    let last = 1;
    const { drift, flicker } = slowAndFast(parts.map((p) => (last = Number.isNaN(p[k]) ? last : p[k])));
    return Math.max(drift, flicker);
  });
  return far.sort((a, b) => b - a)[AT_LEAST - 1] ?? 0;
}

/** How far the tint of the light moves over the shot, slowly or from frame to frame: of the chroma planes the one that moves most, codes of 8 bits. */
export function tintOf({ perFrame }: Pick<LightCurve, "perFrame">): number {
  const planes = perFrame.length ? perFrame[0].length : 0;
  let most = 0;
  for (let p = 1; p < planes; p++) {
    const { drift, flicker } = slowAndFast(perFrame.map((f) => f[p]?.[1] ?? 0));
    most = Math.max(most, drift, flicker);
  }
  return most;
}

/** The range of what is slow in a curve, and twice the standard deviation of the rest. */
function slowAndFast(gains: number[]): { drift: number; flicker: number } {
  const slow = gains.map((_, n) => {
    const half = Math.min(WINDOW >> 1, n, gains.length - 1 - n);
    const part = gains.slice(n - half, n + half + 1);
    return part.reduce((a, b) => a + b, 0) / part.length;
  });
  // the ends have no neighbours on one side: what is known of flicker lies between
  const rest = gains.map((g, i) => g - slow[i]).slice(gains.length > 8 ? 3 : 0, gains.length > 8 ? -3 : undefined);
  const inner = slow.slice(gains.length > 8 ? 3 : 0, gains.length > 8 ? -3 : undefined);
  const sigma = Math.sqrt(rest.reduce((s, v) => s + v * v, 0) / Math.max(1, rest.length));
  // a running mean over frames takes 1/WINDOW of the flicker's power with it
  const flicker = (2 * sigma) / Math.sqrt(1 - 1 / WINDOW);
  const noise = (2 * sigma) / Math.sqrt(WINDOW);
  const range = Math.max(...inner) - Math.min(...inner);
  return { drift: Math.max(0, range - 2 * noise), flicker };
}
