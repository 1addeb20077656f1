import { median } from "../motion/gray";
import type { TrackModel } from "../document/track";
import { type Homography, normalised, times } from "./homography";
import { FREEDOM, SIMPLER, small, writeVelocities } from "./models";
import type { Pyramid } from "./pyramid";
import { solve } from "./solve";
import { contrastOf, type Template, type TemplateLevel } from "./template";
import { UnevenLight } from "./uneven";

/** Steps on a level, at most; one that moves the region by less than this, in pixels of the level, is the last. */
const STEPS = 30;
const ENOUGH = 0.006;
/** The same on the coarser levels, which the finer ones go on from. */
const COARSE_ENOUGH = 0.04;
/** Standard deviations at which a residual begins to lose weight (Huber 1964). */
const HUBER = 1.345;
/** Beyond so many times that it loses weight faster: what lies over the region is to have no say. */
const FAR = 2;
/** How firmly steps are held that hardly anything asks for (Levenberg 1944). */
const DAMPING = 1e-4;
/**
 * What counts as left over at least, as a share of the region's contrast: of a label that is mostly paper the paper alone would tell how much
 * is usual, and the letters, by which it is found, would count for outliers.
 */
const OF_CONTRAST = 0.12;
/** Codes of 8 bits below which residuals are rounding. */
const LEAST_SIGMA = 0.3;
/** Rounds in which light that differs in places is learnt before it is judged. */
const ROUNDS = 3;
/** Of samples that lie so near each other one in so many speaks for itself. */
const INDEPENDENT = 8;

/** How a region was found. */
export interface Found {
  /** From the template's picture to this one, whole coordinates the middles of pixels. */
  map: Homography;
  /** Likeness of what was found with the template, −1 … 1 (weights taken off what does not belong). */
  ncc: number;
  /** Root of the mean square of what is left, codes, robust. */
  sigma: number;
  /** Of each sample of the finest level what is left, codes; NaN outside the picture. */
  left: Float64Array;
  /** That level. */
  level: TemplateLevel;
  /** Sum of weighted squares and of weights, by which models are compared. */
  cost: { squares: number; samples: number };
}

/** Where a region is, and how bright it is against each template. */
interface State {
  map: Homography;
  gain: number[];
  offset: number[];
}

/** A state, and how well it fits. */
interface Fit {
  state: State;
  found: Omit<Found, "map">;
}

/** The middle of a region and its size, about which its changes are told. */
interface Middle {
  x: number;
  y: number;
  scale: number;
}

/** What a level of a picture shows where a template's samples are. */
interface Seen {
  value: Float64Array;
  gx: Float64Array;
  gy: Float64Array;
  count: number;
}

/** What lies there: value and slopes between samples, by Catmull–Rom both ways. NaN where a sample lies outside. */
function look(t: TemplateLevel, p: Pyramid, l: number, m: Homography, seen: Seen): void {
  const { width, height, data } = p.levels[l];
  const { count, x: tx, y: ty, step } = t;
  const { value, gx, gy } = seen;
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = m;
  const [one, ox, oy] = [1 / step, (0.5 - p.x0) / step - 0.5, (0.5 - p.y0) / step - 0.5];
  const [most, low] = [width - 2, height - 2];
  let all = 0;
  for (let k = 0; k < count; k++) {
    const px = tx[k], py = ty[k]; // prettier-ignore
    const w = m6 * px + m7 * py + m8;
    const per = 1 / w;
    const u = (m0 * px + m1 * py + m2) * per, v = (m3 * px + m4 * py + m5) * per; // prettier-ignore
    const x = u * one + ox, y = v * one + oy; // prettier-ignore
    const i = Math.floor(x), j = Math.floor(y); // prettier-ignore
    if (w <= 0.05 || !(i >= 1 && j >= 1 && i < most && j < low)) {
      value[k] = NaN;
      continue;
    }
    const a = x - i, b = y - j; // prettier-ignore
    const wx0 = a * (-0.5 + a * (1 - 0.5 * a)), wx1 = 1 + a * a * (-2.5 + 1.5 * a), wx2 = a * (0.5 + a * (2 - 1.5 * a)), wx3 = a * a * (-0.5 + 0.5 * a); // prettier-ignore
    const wy0 = b * (-0.5 + b * (1 - 0.5 * b)), wy1 = 1 + b * b * (-2.5 + 1.5 * b), wy2 = b * (0.5 + b * (2 - 1.5 * b)), wy3 = b * b * (-0.5 + 0.5 * b); // prettier-ignore
    const dx0 = -0.5 + a * (2 - 1.5 * a), dx1 = a * (-5 + 4.5 * a), dx2 = 0.5 + a * (4 - 4.5 * a), dx3 = a * (-1 + 1.5 * a); // prettier-ignore
    const dy0 = -0.5 + b * (2 - 1.5 * b), dy1 = b * (-5 + 4.5 * b), dy2 = 0.5 + b * (4 - 4.5 * b), dy3 = b * (-1 + 1.5 * b); // prettier-ignore
    let at = (j - 1) * width + i - 1;
    let q0 = data[at], q1 = data[at + 1], q2 = data[at + 2], q3 = data[at + 3]; // prettier-ignore
    const r0 = wx0 * q0 + wx1 * q1 + wx2 * q2 + wx3 * q3;
    const s0 = dx0 * q0 + dx1 * q1 + dx2 * q2 + dx3 * q3;
    at += width;
    q0 = data[at];
    q1 = data[at + 1];
    q2 = data[at + 2];
    q3 = data[at + 3];
    const r1 = wx0 * q0 + wx1 * q1 + wx2 * q2 + wx3 * q3;
    const s1 = dx0 * q0 + dx1 * q1 + dx2 * q2 + dx3 * q3;
    at += width;
    q0 = data[at];
    q1 = data[at + 1];
    q2 = data[at + 2];
    q3 = data[at + 3];
    const r2 = wx0 * q0 + wx1 * q1 + wx2 * q2 + wx3 * q3;
    const s2 = dx0 * q0 + dx1 * q1 + dx2 * q2 + dx3 * q3;
    at += width;
    q0 = data[at];
    q1 = data[at + 1];
    q2 = data[at + 2];
    q3 = data[at + 3];
    const r3 = wx0 * q0 + wx1 * q1 + wx2 * q2 + wx3 * q3;
    const s3 = dx0 * q0 + dx1 * q1 + dx2 * q2 + dx3 * q3;
    value[k] = wy0 * r0 + wy1 * r1 + wy2 * r2 + wy3 * r3;
    // slopes by the template's own pixel: through the map's derivative
    const [ix, iy] = [(wy0 * s0 + wy1 * s1 + wy2 * s2 + wy3 * s3) * one, (dy0 * r0 + dy1 * r1 + dy2 * r2 + dy3 * r3) * one];
    gx[k] = (ix * (m0 - u * m6) + iy * (m3 - v * m6)) * per;
    gy[k] = (ix * (m1 - u * m7) + iy * (m4 - v * m7)) * per;
    all++;
  }
  seen.count = all;
}

/**
 * Finds a region in a picture: efficient second-order minimisation (Benhimane & Malis 2004), which takes the mean of the slopes of the
 * template and of what it lies on, with gain and offset in each step and Huber weights, from the coarsest level to the finest.
 * @param templates of the same region and its samples, one or more: all are fitted together, each with its own light
 * @param from where to begin @param coarsest the level to begin with @param lit whether light may differ in places
 * @returns null where too little of it lies in the picture, or it has no structure
 */
export function align(
  templates: readonly Template[],
  p: Pyramid,
  from: Homography,
  model: TrackModel,
  coarsest = Infinity,
  lit = true,
): Found | null {
  let state: State = { map: from, gain: templates.map(() => 1), offset: templates.map(() => 0) };
  const [{ levels }] = templates;
  const about = middleOf(levels[0]);
  for (let l = Math.min(coarsest, levels.length - 1, p.levels.length - 1); l >= 0; l--) {
    // a coarse level has few samples: what it cannot tell is left to the finer ones
    const few = l > 0 && levels[l].count < 40 * FREEDOM[model];
    const next = onLevel(templates.map((t) => t.levels[l]), p, l, state, few ? SIMPLER[model] : model, about); // prettier-ignore
    if (next) state = next.state;
    if (l > 0) continue;
    if (!next) return null;
    const best = lit ? under(templates.map((t) => t.levels[0]), p, next, model, about) : next; // prettier-ignore
    return { ...best.found, map: best.state.map };
  }
  return null;
}

/** By how much a richer model must explain more, in twice the log likelihood over its freedom (Schwarz 1978, and as much again). */
const RICHER = 2;

/** Whether a richer model explains so much more than a plainer one that its freedom is worth it. @param more degrees of freedom it has more */
export function explainsMore({ cost: rich }: Found, { cost: plain }: Found, more: number): boolean {
  const n = rich.samples / INDEPENDENT;
  const gained = n * Math.log(plain.squares / plain.samples / (rich.squares / rich.samples));
  return !(gained < RICHER * more * Math.log(Math.max(2, n)));
}

/** The finest level once more under light that differs in places, where that explains more than its freedom costs (Schwarz 1978). */
function under(ts: TemplateLevel[], p: Pyramid, plain: Fit, model: TrackModel, about: Middle): Fit {
  const lights = ts.map((t) => UnevenLight.over(t));
  if (!lights.every((v) => v !== null)) return plain;
  const { cost, left, sigma } = plain.found;
  const speaks = ts.indexOf(plain.found.level);
  const rest = Float64Array.from(left);
  for (let round = 0; round < ROUNDS; round++) {
    lights[speaks].learn(rest, HUBER * sigma);
    for (let k = 0; k < rest.length; k++) rest[k] = left[k] - lights[speaks].of(k);
  }
  const n = cost.samples / INDEPENDENT;
  const gained = n * Math.log(cost.squares / squaresOf(rest, HUBER * sigma));
  if (gained < lights[speaks].freedom * Math.log(Math.max(2, n))) return plain;
  return onLevel(ts, p, 0, plain.state, model, about, lights) ?? plain;
}

/** Sum of squares of what is left, outliers weighted down. */
function squaresOf(left: Float64Array, limit: number): number {
  let s = 0;
  for (const r of left) if (r === r) s += Math.abs(r) < limit ? r * r : limit * Math.abs(r);
  return s;
}

function middleOf({ count, x, y }: TemplateLevel): Middle {
  let [mx, my, size] = [0, 0, 0];
  for (let k = 0; k < count; k++) [mx, my] = [mx + x[k] / count, my + y[k] / count];
  for (let k = 0; k < count; k++) size += ((x[k] - mx) ** 2 + (y[k] - my) ** 2) / count;
  return { x: mx, y: my, scale: Math.max(1, Math.sqrt(size)) };
}

const velocities = new WeakMap<TemplateLevel, Map<TrackModel, Float64Array>>();

/** How each sample of a level moves by each degree of freedom of a model; the same for all its steps. @param about the middle of its region */
function velocitiesOf(t: TemplateLevel, model: TrackModel, about: Middle): Float64Array {
  let of = velocities.get(t);
  if (!of) velocities.set(t, (of = new Map()));
  let known = of.get(model);
  if (!known) {
    const wide = 2 * FREEDOM[model];
    known = new Float64Array(wide * t.count);
    for (let k = 0; k < t.count; k++) writeVelocities(model, (t.x[k] - about.x) / about.scale, (t.y[k] - about.y) / about.scale, known, wide * k);
    of.set(model, known);
  }
  return known;
}

/** @param lights of each template the light that differs in places, which is learnt on the way */
function onLevel(ts: TemplateLevel[], p: Pyramid, l: number, start: State, model: TrackModel, about: Middle, lights?: UnevenLight[]): Fit | null {
  const [t] = ts;
  const count = t.count;
  const seen: Seen = { value: new Float64Array(count), gx: new Float64Array(count), gy: new Float64Array(count), count: 0 };
  const left = ts.map(() => new Float64Array(count));
  const sigma = ts.map(() => 0);
  const room = new Float64Array(count);
  const free = FREEDOM[model];
  const n = free + 2 * ts.length;
  const velocity = velocitiesOf(t, model, about);
  const row = new Float64Array(free);
  const there: Homography = [about.scale, 0, about.x, 0, about.scale, about.y, 0, 0, 1];
  const back: Homography = [1 / about.scale, 0, -about.x / about.scale, 0, 1 / about.scale, -about.y / about.scale, 0, 0, 1];
  let state = start;
  /** What is left of each sample, and its spread. */
  const measure = (): boolean => {
    look(t, p, l, state.map, seen);
    if (seen.count < Math.max(30, 0.4 * count)) return false;
    for (const [i, of] of ts.entries()) {
      let m = 0;
      const [rest, light, gain, offset] = [left[i], lights?.[i], state.gain[i], state.offset[i]];
      for (let k = 0; k < count; k++) {
        let r = of.value[k] - gain * seen.value[k] - offset;
        if (light) r -= light.of(k);
        rest[k] = r;
        if (r === r) room[m++] = Math.abs(r);
      }
      if (m < 30) return false;
      lights?.[i].learn(left[i], HUBER * (sigma[i] || Infinity));
      sigma[i] = Math.max(LEAST_SIGMA, OF_CONTRAST * of.contrast, 1.4826 * median(room.subarray(0, m)));
    }
    return true;
  };
  if (!measure()) return null;
  const A = new Float64Array(n * n);
  const b = new Float64Array(n);
  for (let step = 0; step < STEPS; step++) {
    A.fill(0);
    b.fill(0);
    for (const [i, of] of ts.entries()) {
      const limit = HUBER * sigma[i];
      const [g, o] = [free + 2 * i, free + 2 * i + 1];
      // templates count by how well they fit
      const share = 1 / (sigma[i] * sigma[i]);
      const [rest, gain] = [left[i], state.gain[i]];
      // sums are kept beside the arrays: this is where the time goes
      let [ww, wv, wr, wvv, wvr] = [0, 0, 0, 0, 0];
      for (let k = 0; k < count; k++) {
        const r = rest[k];
        if (r !== r) continue;
        const off = r < 0 ? -r : r;
        const far = limit / off;
        const w = share * (off < limit ? 1 : off < FAR * limit ? far : FAR * FAR * far * far * far);
        const gx = 0.5 * (of.gx[k] + gain * seen.gx[k]) * about.scale;
        const gy = 0.5 * (of.gy[k] + gain * seen.gy[k]) * about.scale;
        const v = seen.value[k];
        for (let q = 0, at = 2 * free * k; q < free; q++, at += 2) {
          const to = gx * velocity[at] + gy * velocity[at + 1];
          row[q] = to;
          const wq = w * to;
          b[q] += wq * r;
          for (let j = 0, a = q * n; j <= q; j++, a++) A[a] += wq * row[j];
          A[g * n + q] += wq * v;
          A[o * n + q] += wq;
        }
        ww += w;
        wv += w * v;
        wr += w * r;
        wvv += w * v * v;
        wvr += w * v * r;
      }
      b[g] = wvr;
      b[o] = wr;
      A[g * n + g] = wvv;
      A[o * n + g] = wv;
      A[o * n + o] = ww;
    }
    for (let i = 0; i < n; i++) A[i * n + i] *= 1 + DAMPING;
    if (!solve(A, b, n)) return null;
    const map = normalised(times(state.map, times(there, times(small(model, b), back))));
    if (!map?.every(Number.isFinite)) return null;
    state = {
      map,
      gain: state.gain.map((v, i) => Math.min(4, Math.max(0.25, v + b[free + 2 * i]))),
      offset: state.offset.map((v, i) => v + b[free + 2 * i + 1]),
    };
    let moved = 0;
    for (let q = 0; q < free; q++) moved = Math.max(moved, Math.abs(b[q]));
    if (!measure()) return null;
    if ((moved * about.scale) / t.step < (l ? COARSE_ENOUGH : ENOUGH)) break;
  }
  const found = ts.map((of, i) => judged(of, seen, left[i], sigma[i], lights?.[i]));
  // the template that is most like it speaks for all
  return { state, found: found.reduce((x, y) => (y.ncc > x.ncc ? y : x)) };
}

/** How well what is seen is like the template, samples that do not belong weighted down. */
function judged(t: TemplateLevel, seen: Seen, left: Float64Array, sigma: number, light?: UnevenLight): Omit<Found, "map"> {
  let [sw, st, ss, tt, vv, tv, squares] = [0, 0, 0, 0, 0, 0, 0];
  const limit = HUBER * sigma;
  const weight = (k: number) => {
    const off = Math.abs(left[k]);
    return off < limit ? 1 : off >= limit ? limit / off : 0;
  };
  const own = light ? t.value.map((v, k) => v - light.of(k)) : t.value;
  for (let k = 0; k < t.count; k++) {
    const w = weight(k);
    if (!w) continue;
    sw += w;
    st += w * own[k];
    ss += w * seen.value[k];
    squares += w * left[k] * left[k];
  }
  for (let k = 0; k < t.count; k++) {
    const w = weight(k);
    if (!w) continue;
    const [a, b] = [own[k] - st / sw, seen.value[k] - ss / sw];
    tt += w * a * a;
    vv += w * b * b;
    tv += w * a * b;
  }
  return {
    ncc: tt > 0 && vv > 0 ? tv / Math.sqrt(tt * vv) : 0,
    sigma,
    left: light ? left.map((r, k) => r + light.of(k)) : left,
    level: t,
    cost: { squares, samples: seen.count },
  };
}

/** The same region as it is seen in another picture, where it was found there: its samples lie where the first one's do. */
export function renewed(template: Template, p: Pyramid, map: Homography): Template {
  const levels = template.levels.slice(0, p.levels.length).map((t, l): TemplateLevel => {
    const seen: Seen = { value: new Float64Array(t.count), gx: new Float64Array(t.count), gy: new Float64Array(t.count), count: 0 };
    look(t, p, l, map, seen);
    return { ...t, value: seen.value, gx: seen.gx, gy: seen.gy, contrast: contrastOf(seen.value) };
  });
  return { levels };
}
