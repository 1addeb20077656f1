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

/** Frames on either side by which is told what is usual. */
const AROUND = 8;

/** Finds cuts while the frames come in: whether one begins a new shot is known as soon as those after it are there. */
export class CutFinder {
  /** Frames after one that are looked at before it is judged. */
  static readonly ahead = AROUND;
  private readonly thumbs: Thumb[] = [];
  private readonly steps: number[] = [];
  private readonly hists: Float64Array[] = [];

  add(t: Thumb): void {
    const before = this.thumbs.at(-1);
    this.steps.push(before ? apart(t, before) : 0);
    this.hists.push(histogram(t.values));
    this.thumbs.push(t);
  }

  /**
   * Whether a new shot begins with frame `n`: picture and histogram change at once, much more than around there, and the picture
   * after next does not resemble the one before (that would be a flash).
   */
  isCut(n: number): boolean {
    const { thumbs, steps, hists } = this;
    const step = steps[n];
    if (n === 0 || step < 6) return false;
    const around: number[] = [];
    for (let k = Math.max(1, n - AROUND); k <= Math.min(thumbs.length - 1, n + AROUND); k++) if (k !== n) around.push(steps[k]);
    const usual = around.length ? median(around) : 0;
    if (step < 4 * usual + 4) return false;
    let histStep = 0;
    for (let i = 0; i < BINS; i++) histStep += Math.abs(hists[n][i] - hists[n - 1][i]) / 2;
    if (histStep < 0.12 && step < 20) return false;
    if (alike(thumbs[n - 1], thumbs[n]) > 0.35) return false; // the same view, in which something large has come or gone
    const flash = (a: number, b: number) => a >= 0 && b < thumbs.length && apart(thumbs[a], thumbs[b]) < 0.35 * step;
    return !flash(n - 1, n + 1) && !flash(n - 2, n) && !flash(n - 1, n + 2);
  }
}

/** First frames of new shots, counted from 0. */
export function findCuts(thumbs: readonly Thumb[]): number[] {
  const finder = new CutFinder();
  thumbs.forEach((t) => finder.add(t));
  return thumbs.map((_, n) => n).filter((n) => finder.isCut(n));
}
