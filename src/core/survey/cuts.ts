import { median } from "../motion/gray";

/** A frame reduced to what cuts are found by. */
export interface Thumb {
  /** Luma, 8-bit codes, row by row; every thumb of a take has the same size. */
  values: Float32Array | Uint8Array;
}

/** Mean luma of a thumb, 8-bit codes. */
export const brightness = ({ values }: Thumb) => (values as Uint8Array).reduce((a, b) => a + b, 0) / values.length;

const BINS = 32;

function histogram(values: Thumb["values"]): Float64Array {
  const h = new Float64Array(BINS);
  for (const v of values) h[Math.min(BINS - 1, Math.max(0, Math.floor((v * BINS) / 256)))] += 1 / values.length;
  return h;
}

/** Mean absolute difference of two thumbs, 8-bit codes. */
export function apart(a: Thumb, b: Thumb): number {
  let s = 0;
  for (let i = 0; i < a.values.length; i++) s += Math.abs(a.values[i] - b.values[i]);
  return s / a.values.length;
}

/** Share of a view that stays as it is, a change of light taken off. */
function alike(a: Thumb, b: Thumb): number {
  const d = Array.from(a.values, (v, i) => b.values[i] - v);
  const middle = median(d.slice());
  return d.filter((v) => Math.abs(v - middle) < 4).length / d.length;
}

/**
 * First frames of new shots: where picture and histogram change at once, much more than around there, and the picture
 * after next does not resemble the one before (that would be a flash). Frames are counted from 0.
 */
export function findCuts(thumbs: readonly Thumb[]): number[] {
  const steps = thumbs.map((t, i) => (i ? apart(t, thumbs[i - 1]) : 0));
  const hists = thumbs.map((t) => histogram(t.values));
  const cuts: number[] = [];
  for (let n = 1; n < thumbs.length; n++) {
    const step = steps[n];
    if (step < 6) continue;
    const around: number[] = [];
    for (let k = Math.max(1, n - 8); k <= Math.min(thumbs.length - 1, n + 8); k++) if (k !== n) around.push(steps[k]);
    const usual = around.length ? median(around) : 0;
    if (step < 4 * usual + 4) continue;
    let histStep = 0;
    for (let i = 0; i < BINS; i++) histStep += Math.abs(hists[n][i] - hists[n - 1][i]) / 2;
    if (histStep < 0.12 && step < 20) continue;
    if (alike(thumbs[n - 1], thumbs[n]) > 0.35) continue; // the same view, in which something large has come or gone
    const flash = (a: number, b: number) => a >= 0 && b < thumbs.length && apart(thumbs[a], thumbs[b]) < 0.35 * step;
    if (flash(n - 1, n + 1) || flash(n - 2, n) || flash(n - 1, n + 2)) continue;
    cuts.push(n);
  }
  return cuts;
}
