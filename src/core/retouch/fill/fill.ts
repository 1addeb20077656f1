import { ABSENT, FIXED, FREE, spanMembrane } from "../../blend/membrane";
import { AREA, KNOWN, NOTHING, toneField } from "../../blend/tone";
import { random } from "../../random";
import { boxAround, distanceTo } from "./distance";
import { type Guide, halfGuide, linesAcross } from "./guides";
import { lift, matchesOf, type Matches, matchRound, patchMeans, R, renewMeans, voted } from "./match";
import { addTexture, CHANNELS, type FillPicture, halved, raised } from "./picture";

/** How often each level is matched anew and voted, coarsest first; finer ones than listed take the last. */
const ROUNDS = [12, 6, 4, 2, 1];
/** A pixel's patch counts for less by this factor for each pixel that it lies deeper in the hole (Wexler, Shechtman & Irani 2007 use 1.3). */
const DEEPER = 1.3;
/** How far beside a guide its direction still counts, in pixels of the level. */
const GUIDED = 3.5;
/** How far a level looks around what the coarser one has found, in its own pixels. */
const NEARBY = 10;
/** Fewer sources than this make no level. */
const FEW = 60;

/**
 * Fills the hole of a picture, in place, from what is around it: patch-based completion (Wexler, Shechtman & Irani 2007) with
 * PatchMatch (Barnes et al. 2009), from coarse to fine. Straight edges that go in and come out are carried on, as are guides
 * that were drawn. What is left of a step at the rim is spread over the hole by a membrane.
 * Yields how far it is, 0–1.
 * @throws RangeError where nothing is left to take from
 */
export function* fillHole(picture: FillPicture, drawn: readonly Guide[], seed: number): Generator<number> {
  const depth = distanceTo(picture.hole, picture.width, picture.height, 0, boxAround(picture.hole, picture.width, picture.height, 1));
  const deepest = depth.reduce((a, b) => Math.max(a, b), 0);
  if (deepest === 0) return;
  addTexture(picture);
  const levels: FillPicture[] = [picture];
  let deep = deepest;
  while (deep > R + 1 && Math.min(levels[0].width, levels[0].height) >= 8 * R && levels.length < 8) {
    const half = halved(levels[0]);
    // so coarse that hardly anything is left to take from
    if (matchesOf(half, [], 0).sources.length < FEW) break;
    levels.unshift(half);
    deep /= 2;
  }
  const luma = new Float32Array(picture.hole.length);
  for (let i = 0; i < luma.length; i++) luma[i] = picture.data[CHANNELS * i];
  const found = linesAcross(
    luma,
    picture.width,
    picture.height,
    picture.hole,
    distanceTo(picture.hole, picture.width, picture.height, 1, boxAround(picture.hole, picture.width, picture.height, 24)),
  );
  const guides: Guide[][] = [[...drawn, ...found]];
  while (guides.length < levels.length) guides.unshift(guides[0].map(halfGuide));
  // a level costs about four times as much as the one before
  const price = levels.map((l, i) => l.width * l.height * roundsAt(i));
  const all = price.reduce((a, b) => a + b, 0);
  let spent = 0;
  const rnd = random(seed);
  let before: { p: FillPicture; m: Matches } | null = null;
  for (const [i, level] of levels.entries()) {
    const m = matchesOf(level, guides[i], GUIDED);
    if (m.sources.length === 0)
      throw new RangeError("The fill finds nothing to take from: make the area smaller, or leave more of the picture around it free.");
    if (before) {
      raised(before.p, level);
      start(level, m, before.p, before.m, rnd);
    } else {
      spread(level);
      for (let t = 0; t < m.source.length; t++) m.source[t] = m.sources[Math.floor(rnd() * m.sources.length)];
    }
    const trust = trustOf(level);
    const rounds = roundsAt(i);
    const means = patchMeans(level);
    for (let round = 0; round < rounds; round++) {
      renewMeans(level, m, means);
      // what was found on the coarser level is near the best already
      const widest = before ? NEARBY : Math.max(level.width, level.height);
      matchRound(level, m, means, guides[i], rnd, false, widest);
      matchRound(level, m, means, guides[i], rnd, true, widest);
      const last = i === levels.length - 1 && round === rounds - 1;
      const v = voted(level, m, means, trust, last ? 4 : 1);
      if (last) {
        addDetail(level, m, means, v.values);
        levelled(level, v);
      }
      takeOver(level, v);
      yield (spent + (price[i] * (round + 1)) / rounds) / all;
    }
    spent += price[i];
    before = { p: level, m };
  }
}

/** Puts what was voted into the hole. */
function takeOver(p: FillPicture, v: { values: Float32Array; weight: Float32Array }): void {
  for (let i = 0; i < p.hole.length; i++)
    if (p.hole[i] && v.weight[i] > 0) for (let o = CHANNELS * i; o < CHANNELS * (i + 1); o++) p.data[o] = v.values[o];
}

const roundsAt = (i: number) => ROUNDS[Math.min(i, ROUNDS.length - 1)];

/** Takes over the matches of the level of half the size. */
function start(p: FillPicture, m: Matches, coarse: FillPicture, cm: Matches, rnd: () => number): void {
  for (let t = 0; t < m.targets.length; t++) {
    const [x, y] = [m.targets[t] % p.width, Math.floor(m.targets[t] / p.width)];
    const c = cm.at[Math.min(coarse.height - 1, y >> 1) * coarse.width + Math.min(coarse.width - 1, x >> 1)];
    const s = c >= 0 ? cm.source[c] : -1;
    const [sx, sy] = [2 * (s % coarse.width) + (x & 1), 2 * Math.floor(s / coarse.width) + (y & 1)];
    const own = sy * p.width + sx;
    m.source[t] = s >= 0 && sx < p.width && sy < p.height && m.allowed[own] ? own : m.sources[Math.floor(rnd() * m.sources.length)];
  }
}

/** Spans membranes over the hole, for a start. */
function spread(p: FillPicture): void {
  for (let k = 0; k < CHANNELS; k++) {
    const { grid, values } = padded(p, (i) => p.data[CHANNELS * i + k]);
    spanMembrane(grid, values, 0.1);
    for (let i = 0; i < p.hole.length; i++) if (p.hole[i]) p.data[CHANNELS * i + k] = values[place(i, p.width)];
  }
}

const place = (i: number, w: number) => (Math.floor(i / w) + 1) * (w + 2) + (i % w) + 1;

/** The picture's grid with one cell more on each side, in which the hole is free. */
function padded(p: FillPicture, value: (i: number) => number) {
  const [w, h] = [p.width + 2, p.height + 2];
  const grid = { width: w, height: h, kind: new Uint8Array(w * h).fill(ABSENT) };
  const values = new Float64Array(w * h);
  for (let i = 0; i < p.hole.length; i++) {
    const o = place(i, p.width);
    grid.kind[o] = p.hole[i] ? FREE : FIXED;
    if (!p.hole[i]) values[o] = value(i);
  }
  return { grid, values };
}

/** Takes off, over the hole, by how much the votes for the pixels along the rim are beside what is there. */
function levelled(p: FillPicture, v: { values: Float32Array; weight: Float32Array }): void {
  const kind = p.hole.map((hole, i) => (hole ? AREA : v.weight[i] > 0 ? KNOWN : NOTHING));
  for (let k = 0; k < 3; k++) {
    const field = toneField(p.width, p.height, kind, (i) => p.data[CHANNELS * i + k] - v.values[CHANNELS * i + k]);
    for (let y = 0, i = 0; y < p.height; y++) {
      const row = field(y);
      for (let x = 0; x < p.width; x++, i++) if (p.hole[i]) v.values[CHANNELS * i + k] += row[x];
    }
  }
}

/** How far around a pixel its detail is told from the rest, in pixels. */
const FINE = 2;

/**
 * Gives the votes, which are means and so a little soft, the fine detail of the one patch that lies over each pixel: what a
 * pixel of it differs by from the few around it.
 */
function addDetail(p: FillPicture, m: Matches, means: Float32Array, values: Float32Array): void {
  const { width: w, height: h } = p;
  const best = values.slice();
  m.targets.forEach((i, t) => {
    const s = m.source[t];
    for (let k = 0; k < 3; k++) best[CHANNELS * i + k] = p.data[CHANNELS * s + k] + lift(means[3 * i + k], means[3 * s + k]);
  });
  const out = values.slice();
  for (let y = FINE; y < h - FINE; y++)
    for (let x = FINE; x < w - FINE; x++) {
      const i = y * w + x;
      if (!p.hole[i]) continue;
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (let j = -FINE; j <= FINE; j++)
          for (let q = CHANNELS * (i + j * w - FINE) + k, end = CHANNELS * (i + j * w + FINE) + k; q <= end; q += CHANNELS)
            sum += values[q] - best[q];
        out[CHANNELS * i + k] = best[CHANNELS * i + k] + sum / ((2 * FINE + 1) * (2 * FINE + 1));
      }
    }
  values.set(out);
}

/** How much a pixel's patch is believed: all of it where the picture is known, less the deeper it lies in the hole. */
function trustOf(p: FillPicture): Float32Array {
  const depth = distanceTo(p.hole, p.width, p.height, 0, boxAround(p.hole, p.width, p.height, 1));
  return depth.map((d) => Math.pow(DEEPER, -Math.min(d, 40)));
}
