import { boxSums, CHANNELS, type FillPicture } from "./picture";
import type { Guide } from "./guides";

/** Half the side of a patch, without its middle: patches are 7 × 7. */
export const R = 3;
const SIDE = 2 * R + 1;
const AREA = SIDE * SIDE;
/** For how many samples one of chroma or texture stands. */
const SPARSE = AREA / 16;
/** By how many code values a patch may be lifted or lowered as a whole to fit. */
const MOST_LIFT = 12;
/** What a source pays for lying beside a guide where its target lies on it: squared code values a sample, a squared pixel. */
const BESIDE = 40;

/** Nearest patches: for each target pixel the middle of the patch that fits best. */
export interface Matches {
  /** Pixels whose patch reaches into the hole. */
  targets: Int32Array;
  /** A pixel's place in `targets`, or −1. */
  at: Int32Array;
  /** For each target the pixel in the middle of its source. */
  source: Int32Array;
  cost: Float32Array;
  /** Pixels that may be the middle of a source. */
  sources: Int32Array;
  allowed: Uint8Array;
  /** For each target the guide it lies on, or −1, and how far beside it. */
  guide: Int16Array;
  beside: Float32Array;
}

/** Finds the targets and the sources of a level. */
export function matchesOf(p: FillPicture, guides: readonly Guide[], reach: number): Matches {
  const { width: w, height: h } = p;
  const holes = boxSums(p.hole, w, h, R);
  const bars = boxSums(p.barred, w, h, R);
  const at = new Int32Array(w * h).fill(-1);
  const allowed = new Uint8Array(w * h);
  const targets: number[] = [];
  const sources: number[] = [];
  for (let y = R; y < h - R; y++)
    for (let x = R; x < w - R; x++) {
      const i = y * w + x;
      if (holes[i] > 0) {
        at[i] = targets.length;
        targets.push(i);
      } else if (bars[i] === 0) {
        allowed[i] = 1;
        sources.push(i);
      }
    }
  const guide = new Int16Array(targets.length).fill(-1);
  const beside = new Float32Array(targets.length);
  targets.forEach((i, t) => {
    let near = reach;
    guides.forEach((g, k) => {
      const d = offGuide(g, i, w);
      if (Math.abs(d) >= near) return;
      near = Math.abs(d);
      guide[t] = k;
      beside[t] = d;
    });
  });
  return {
    targets: Int32Array.from(targets),
    at,
    source: new Int32Array(targets.length),
    cost: new Float32Array(targets.length).fill(Infinity),
    sources: Int32Array.from(sources),
    allowed,
    guide,
    beside,
  };
}

const offGuide = (g: Guide, i: number, w: number) => g.nx * ((i % w) + 0.5) + g.ny * (Math.floor(i / w) + 0.5) - g.d;

/** The means of the colours of all patches, three a pixel. */
export function patchMeans(p: FillPicture): Float32Array {
  const out = new Float32Array(3 * p.width * p.height);
  for (let k = 0; k < 3; k++) {
    const sums = boxSums(p.data, p.width, p.height, R, CHANNELS, k);
    for (let i = 0; i < sums.length; i++) out[3 * i + k] = sums[i] / AREA;
  }
  return out;
}

/** Brings the means of the targets' patches up to date. */
export function renewMeans(p: FillPicture, m: Matches, means: Float32Array): void {
  const { width: w, data } = p;
  for (const i of m.targets) {
    let [s0, s1, s2] = [0, 0, 0];
    for (let j = -R; j <= R; j++)
      for (let a = CHANNELS * (i + j * w - R), end = a + CHANNELS * SIDE; a < end; a += CHANNELS) {
        s0 += data[a];
        s1 += data[a + 1];
        s2 += data[a + 2];
      }
    means[3 * i] = s0 / AREA;
    means[3 * i + 1] = s1 / AREA;
    means[3 * i + 2] = s2 / AREA;
  }
}

/** By how much a source patch is lifted so that its mean comes to the target's. */
export const lift = (target: number, source: number) => Math.max(-MOST_LIFT, Math.min(MOST_LIFT, target - source));

/**
 * One round of PatchMatch (Barnes, Shechtman, Finkelstein & Goldman 2009): good matches are handed on to neighbours, in reading
 * order or against it, then looked for at random ever nearer to the best. The measure is the squared difference of two patches
 * after the source is lifted to the target's mean, within limits (as the bias in Darabi et al. 2012, "Image melding").
 * @param means of all patches of the picture as it stands
 * @param widest how far around the best match others are looked for, in pixels
 */
export function matchRound(
  p: FillPicture,
  m: Matches,
  means: Float32Array,
  guides: readonly Guide[],
  rnd: () => number,
  backward: boolean,
  widest: number,
): void {
  const { width: w, height: h, data } = p;
  const { targets, at, source, cost, allowed, sources } = m;
  const measure = (t: number, s: number, limit: number): number => {
    const i = targets[t];
    let gain = 0;
    for (let k = 0; k < 3; k++) {
      const d = means[3 * i + k] - means[3 * s + k];
      const b = lift(d, 0);
      gain += AREA * b * (2 * d - b);
    }
    let sum = -gain;
    if (m.guide[t] >= 0) {
      const off = offGuide(guides[m.guide[t]], s, w) - m.beside[t];
      sum += BESIDE * AREA * off * off;
    }
    for (let j = -R; j <= R; j++) {
      let a = CHANNELS * (i + j * w - R);
      let b = CHANNELS * (s + j * w - R);
      // luma of every pixel, written out: this is where a fill's time goes
      const d0 = data[a] - data[b];
      const d1 = data[a + 4] - data[b + 4];
      const d2 = data[a + 8] - data[b + 8];
      const d3 = data[a + 12] - data[b + 12];
      const d4 = data[a + 16] - data[b + 16];
      const d5 = data[a + 20] - data[b + 20];
      const d6 = data[a + 24] - data[b + 24];
      sum += d0 * d0 + d1 * d1 + d2 * d2 + d3 * d3 + d4 * d4 + d5 * d5 + d6 * d6;
      if (j & 1) {
        // chroma and texture change slowly: of every second pixel in every second row
        let rest = 0;
        for (const end = a + CHANNELS * SIDE; a < end; a += 2 * CHANNELS, b += 2 * CHANNELS) {
          const c1 = data[a + 1] - data[b + 1];
          const c2 = data[a + 2] - data[b + 2];
          const c3 = data[a + 3] - data[b + 3];
          rest += c1 * c1 + c2 * c2 + c3 * c3;
        }
        sum += SPARSE * rest;
      }
      if (sum > limit) return Infinity;
    }
    return sum;
  };
  // the target in hand, its best match so far and what that costs
  let t = 0;
  let best = 0;
  let least = 0;
  const offer = (s: number): void => {
    if (s === best || allowed[s] === 0) return;
    const c = measure(t, s, least);
    if (c >= least) return;
    least = c;
    best = s;
  };
  const count = targets.length;
  const step = backward ? -1 : 1;
  for (let q = 0; q < count; q++) {
    t = backward ? count - 1 - q : q;
    const i = targets[t];
    best = source[t];
    // on the way there the targets have changed since the last round, on the way back they have not
    least = backward ? cost[t] : measure(t, best, Infinity);
    const left = at[i - step];
    if (left >= 0 && inRow(source[left], step, w)) offer(source[left] + step);
    const up = at[i - step * w];
    if (up >= 0) {
      const s = source[up] + step * w;
      if (s >= 0 && s < allowed.length) offer(s);
    }
    const g = m.guide[t] >= 0 ? guides[m.guide[t]] : null;
    for (let radius = widest; radius >= 1; radius /= 2) {
      if (g) {
        // along the guide, as far beside it as the target
        const far = (2 * rnd() - 1) * radius;
        const [x, y] = [Math.round((i % w) - g.ny * far), Math.round(Math.floor(i / w) + g.nx * far)];
        if (x >= 0 && y >= 0 && x < w && y < h) offer(y * w + x);
      }
      const by = (best / w) | 0;
      const x = (best - by * w + 0.5 + (2 * rnd() - 1) * radius) | 0;
      const y = (by + 0.5 + (2 * rnd() - 1) * radius) | 0;
      if (x >= 0 && y >= 0 && x < w && y < h) offer(y * w + x);
    }
    if (least === Infinity || !allowed[best]) {
      best = sources[Math.floor(rnd() * sources.length)];
      least = measure(t, best, Infinity);
    }
    source[t] = best;
    cost[t] = least;
  }
}

const inRow = (i: number, step: number, w: number) => {
  const x = (i % w) + step;
  return x >= 0 && x < w;
};

/**
 * What the patches say each pixel is (Wexler, Shechtman & Irani 2007): the mean of all that cover it, those that fit well and
 * those near to what is known counting for more. Weights of 0 where no patch reaches.
 * @param trust how much each pixel's patch is to be believed, 0–1
 */
export function voted(
  p: FillPicture,
  m: Matches,
  means: Float32Array,
  trust: Float32Array,
  sharp: number,
): { values: Float32Array; weight: Float32Array } {
  const { width: w } = p;
  const values = new Float32Array(p.data.length);
  const weight = new Float32Array(p.hole.length);
  const spread = typicalCost(m.cost) / sharp;
  m.targets.forEach((i, t) => {
    const s = m.source[t];
    const k = trust[i] * Math.exp(-Math.max(0, m.cost[t]) / (2 * spread)) + 1e-6;
    const l0 = lift(means[3 * i], means[3 * s]);
    const l1 = lift(means[3 * i + 1], means[3 * s + 1]);
    const l2 = lift(means[3 * i + 2], means[3 * s + 2]);
    for (let j = -R; j <= R; j++) {
      let a = i + j * w - R;
      let b = CHANNELS * (s + j * w - R);
      for (const end = a + SIDE; a < end; a++, b += CHANNELS) {
        const o = CHANNELS * a;
        weight[a] += k;
        values[o] += k * (p.data[b] + l0);
        values[o + 1] += k * (p.data[b + 1] + l1);
        values[o + 2] += k * (p.data[b + 2] + l2);
        values[o + 3] += k * p.data[b + 3];
      }
    }
  });
  for (let i = 0; i < weight.length; i++) if (weight[i] > 0) for (let k = 0; k < CHANNELS; k++) values[CHANNELS * i + k] /= weight[i];
  return { values, weight };
}

/** The cost that three of four patches keep below; at least that of an even difference of one code. */
function typicalCost(cost: Float32Array): number {
  const sorted = Float32Array.from(cost).sort();
  return Math.max(CHANNELS * AREA, sorted[Math.floor(0.75 * (sorted.length - 1))]);
}
