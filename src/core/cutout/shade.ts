import { median } from "../motion/gray";
import type { Colours } from "./colours";
import type { Ground, Sight } from "./ground";
import { isShadeRatio, likelihoods, shadeAt, type Tint } from "./likely";

/** The code that stands for ground in full light, and the darkest ground of which a ratio is told: codes above black. */
const FULL = 128;
const DARK = 8;

/** The least spread of a shadow's depth, as a share of full light; and nats at most by which its depth tells for and against it. */
const LEAST_SPREAD = 0.03;
const TELLS = { most: 1, darker: -6, lighter: -1 };

/** How deep a shadow is: what is usual of its middle, and how far that spreads. */
export interface Depth {
  middle: number;
  spread: number;
}

/** The depth of a shadow where it was found. @param seen of `asShade` */
export function depthOf(seen: ArrayLike<number>, inside: Uint8Array): Depth | null {
  const list: number[] = [];
  for (let i = 0; i < inside.length; i++) if (inside[i]) list.push(seen[i] / FULL);
  if (!list.length) return null;
  const middle = median(list);
  return { middle, spread: Math.max(LEAST_SPREAD, 1.4826 * median(list.map((v) => Math.abs(v - middle)))) };
}

/** What the depth of pixels tells for one shadow, added to what tells for any: another thing that is as grey as the ground has another. */
export function addDepth(tells: Float32Array, seen: ArrayLike<number>, { middle, spread }: Depth): void {
  for (let i = 0; i < tells.length; i++) {
    const off = (seen[i] / FULL - middle) / spread;
    // towards its rim a shadow grows lighter
    tells[i] += Math.max(off < 0 ? TELLS.darker : TELLS.lighter, TELLS.most - 0.5 * off * off);
  }
}

/** Standard deviations from which a pixel is not in full light; and how much of that has to be missing for a tint to be told. */
const SHADED = 3.5;
const DEEP = 0.03;
/** Codes by which colour differences spread in one shadow: it falls on many things, and edges of light have colours. */
const TINTS = 1.5;

/** The tint of the light that a shadow leaves, by what lies within its outline: sky is bluer than sun, a room than its lamp. */
export function tintOf(s: Sight, ground: Ground, outline: Uint8Array): Tint {
  const [spread, off] = [new Float64Array(3), new Float64Array(2)];
  const told: [number[], number[]] = [[], []];
  const w = s.rect.x1 - s.rect.x0;
  for (let i = 0; i < s.z.length; i++) {
    if (!outline[i] || s.z[i] < SHADED) continue;
    s.spreadAt(s.rect.x0 + (i % w), s.rect.y0 + Math.floor(i / w), spread);
    const ratio = shadeAt(s, i, spread, ground.pivots, off);
    if (!isShadeRatio(ratio) || 1 - ratio < DEEP) continue;
    for (const p of [0, 1]) told[p].push(off[p] / (1 - ratio));
  }
  return { off: told[0].length ? [median(told[0]), median(told[1])] : [0, 0], spread: TINTS };
}

/** By how much likelier, in nats, each pixel of a sight is a shadow on the ground than anything else. @param others colours of whatever passes */
export const shadeTells = (s: Sight, ground: Ground, others: Colours, tint: Tint): Float32Array =>
  likelihoods(s, ground, others, ({ ground: lit, shadow, another, anything }) => Math.log(shadow / (lit + another + anything)), tint);

/**
 * A sight as the shadow itself: how light the ground is, as a share of its full light, in place of what is seen. So what it falls on is no
 * part of it, and it looks alike wherever it moves.
 */
export function asShade(s: Sight, pivots: readonly number[]): Sight {
  const n = s.z.length;
  const flat = () => new Float32Array(n).fill(FULL);
  const seen = [flat(), flat(), flat()];
  for (let i = 0; i < n; i++) {
    const lit = s.ground[0][i] - pivots[0];
    if (lit > DARK) seen[0][i] = FULL * Math.min(1.2, Math.max(0, (s.seen[0][i] - pivots[0]) / lit));
  }
  return { ...s, seen, ground: [flat(), flat(), flat()] };
}
