import { rowsInDirections } from "../pixels/rows";
import { farAcross, gridWith, grown, hysteresis, pieces } from "../plate/regions";
import { median } from "../motion/gray";
import { heightOf, signedDistance, widthOf } from "./cut";
import type { Sight } from "./ground";

/** Pixels along a wire over which a mean is taken, and directions in which it may lie, over half a turn. */
const LONG = 15;
const DIRECTIONS = 16;
/** Pixels to either side where something as thin is over. */
const ASIDE = 4;
/**
 * What a mean along a wire of means of 3 × 3 says in its own standard deviations: those spread by 0.375 σ of a pixel, this by 0.612 σ/√15;
 * a third is taken off, since what a codec leaves hangs together.
 */
const SURER = ((2 / 3) * 0.375 * Math.sqrt(LONG)) / 0.612;
/** Standard deviations from which something is a wire, and from which it goes on; and below which a pixel is not asked. */
const HIGH = 6;
const LOW = 3.5;
const ASKED = 0.7;
/** What all planes together differ by on the ground, at most: so many times what is usual; told by every so-many-th pixel. */
const GROUND = 1.6;
const EVERY = 37;
/** How much what is beside a line tells against it. */
const BESIDE = 3;
/** Nats for each standard deviation beyond the lower one, and at most. */
const NATS = 1.2;
const MOST = 6;
/** Pixels of half its width up to which a thing is thin, and the share of it that may be thicker. */
const THIN = 3.5;
const THICK = 0.1;
/** The share of the outline's larger side over which a wire has to go on. */
const REACHES = 0.5;

/** Steps along a wire, and one to its side, for each direction. */
const LINES = rowsInDirections(LONG, DIRECTIONS).map((along, d) => {
  const turn = (Math.PI * d) / DIRECTIONS;
  return { along, aside: [Math.round(-ASIDE * Math.sin(turn)), Math.round(ASIDE * Math.cos(turn))] as const };
});

/** Whether a wire is lighter or darker than what it hangs before. */
export type Sign = 1 | -1;

/**
 * How much each pixel stands out as part of a thin line from both sides of it, in standard deviations: the largest, over directions, of the
 * mean along 15 pixels less that beside it. @param sign of the wire's difference from the ground
 */
export function lines({ off: [d], z, rect }: Pick<Sight, "off" | "z" | "rect">, sign: Sign): Float32Array {
  const [w, h] = [widthOf(rect), heightOf(rect)];
  const out = new Float32Array(d.length);
  const bare = GROUND * median(Float32Array.from({ length: Math.ceil(z.length / EVERY) }, (_, i) => z[i * EVERY]));
  const mean = (of: Float32Array, x: number, y: number, along: (typeof LINES)[number]["along"]) => {
    let [s, n] = [0, 0];
    for (const [u, v] of along) {
      const [px, py] = [x + u, y + v];
      if (px < 0 || py < 0 || px >= w || py >= h) continue;
      s += of[py * w + px];
      n++;
    }
    return n > LONG / 2 ? s / n : 0;
  };
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (sign * d[i] < ASKED) continue;
      for (const { along, aside } of LINES) {
        const own = sign * mean(d, x, y, along);
        if (own * SURER <= out[i]) continue;
        // on either side there is the ground: stripes of what is wider are no wire
        const beside = Math.max(mean(z, x + aside[0], y + aside[1], along), mean(z, x - aside[0], y - aside[1], along));
        out[i] = Math.max(out[i], SURER * (own - BESIDE * Math.max(0, beside - bare)));
      }
    }
  return out;
}

/** By how much likelier, in nats, each pixel is a wire than not. */
export const wireTells = (line: Float32Array): Float32Array => line.map((v) => Math.min(MOST, Math.max(-MOST, NATS * (v - LOW))));

/** Whether a pixel may be a wire at all. */
export const mayBeWire = (line: number): boolean => line > LOW;

/**
 * Whether what was found in an outline is no more than a wire, and a wire goes on through it: lighter or darker, and how much each pixel of
 * the sight stands out as such a line; null where it is something else.
 */
export function wireIn(s: Sight, outline: Uint8Array, found: Uint8Array): { sign: Sign; line: Float32Array } | null {
  const [w, h] = [widthOf(s.rect), heightOf(s.rect)];
  const away = signedDistance(found, w, h, 2 * THIN);
  const thick = away.reduce((n, v) => n + (v < -THIN ? 1 : 0), 0);
  if (thick > THICK * found.reduce((n, v) => n + v, 0)) return null;
  const outlined = { width: w, height: h, data: outline };
  const room = grown(outlined, 2).data;
  const far = farAcross(outlined);
  let [best, most]: [ReturnType<typeof wireIn>, number] = [null, 0];
  for (const sign of [1, -1] as const) {
    const line = lines(s, sign);
    const within = line.map((v, i) => (room[i] ? v : 0));
    const longest = Math.max(0, ...pieces(hysteresis(within, w, h, LOW, HIGH)).map((p) => farAcross(gridWith(p, outlined))));
    if (longest >= REACHES * far && longest > most) [best, most] = [{ sign, line }, longest];
  }
  return best;
}
