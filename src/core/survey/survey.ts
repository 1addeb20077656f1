import { type Light, lightBetween, pivotOf } from "../match/light";
import { cellMeans, type Gray, grayOf } from "../motion/gray";
import { type Alignment, type Reference, referenceOf, register } from "../motion/register";
import { colourPlanes, type Frame, isChroma } from "../pixels/frame";
import { type Bars, BarMeter } from "./bars";
import { combing } from "./combing";
import { lightCurve, type LightCurve } from "./daylight";
import { type Grain, NoiseMeter } from "./noise";
import { type Stillness, stillnessOf, type StillVerdict } from "./stillness";

export interface Survey {
  /** First frames of new shots. */
  cuts: number[];
  /** Of all pieces between cuts, each against its own first frame: the verdict of the worst. */
  stillness: Stillness;
  /** Of the piece in which it changes most. */
  light: LightCurve;
  /** Where there are cuts: what holds of each piece. */
  pieces?: Piece[];
  /** How strong noise is. */
  grain: Grain;
  /** Black bars at the sides. */
  bars: Bars;
  /** Frames that only repeat the one before. */
  duplicates: number[];
  /** Share of moving pixels that are combed, and whether that says "interlaced". */
  interlaced: { share: number; yes: boolean };
}

/** A piece of a take between two cuts, its ends included. */
export interface Piece {
  /** Its first frame. */
  from: number;
  /** Its last frame. */
  to: number;
  /** How the camera stands in it. */
  verdict: StillVerdict;
  /** The largest shift of one of its frames against its first, in pixels. */
  maxShift: number;
  /** Slow change of light, as a share of a middle grey. */
  drift: number;
  /** Change of light from frame to frame, likewise. */
  flicker: number;
}

/** From the best to the worst for one plate to serve. */
const VERDICTS: StillVerdict[] = ["locked", "settles", "drifts", "moves"];

/** Luma pixels to a cell when light is compared: some 60 cells across. */
const cellFor = (width: number) => Math.max(8, 2 * Math.round(width / 128));

/** Frames apart from which the noise of two frames counts as independent, and every how many one is kept to compare with. */
const APART = 32;
const KEEP_EVERY = 8;
/** Two frames lie on each other when their shift is whole pixels to this much, and turn and scale move no corner farther. */
const WHOLE = 0.08;

/** A frame that later ones are compared with. */
interface Kept {
  n: number;
  frame: Frame;
  alignment: Alignment;
}

interface Before {
  frame: Frame;
  reference: Reference;
  cells: Gray[];
  alignment: Alignment | null;
}

/** Measures a take frame by frame, in order; it holds no more than the reference and the frame before. */
export class Surveyor {
  private readonly noise = new NoiseMeter();
  private readonly bars = new BarMeter();
  private readonly alignments: (Alignment | null)[] = [];
  private readonly lights: Light[][] = [];
  private readonly duplicates: number[] = [];
  private readonly combed: number[] = [];
  private before: Before | null = null;
  /** Earlier frames of the same shot, oldest first: a few, some `APART` frames back. */
  private kept: Kept[] = [];
  /** How many frames apart the pairs are by which noise was measured. */
  private pairApart = 0;
  private n = 0;

  /** @param cuts first frames of new shots: each is measured against its own first frame; @param full whether samples fill the whole code range */
  constructor(
    private readonly cuts: number[],
    private readonly full: boolean,
  ) {}

  private cellsOf(f: Frame): Gray[] {
    return Array.from({ length: colourPlanes(f.format) }, (_, p) =>
      cellMeans(f.planes[p], f.format.bits, cellFor(f.width) >> (isChroma(f.format, p) ? f.format.subX : 0)),
    );
  }

  /** Luma, or green, which is nearest to it. */
  add(frame: Frame): void {
    const { bits } = frame.format;
    const luma = frame.planes[0];
    const fresh = !this.before || this.cuts.includes(this.n);
    const gray = grayOf(luma, bits);
    const cells = this.cellsOf(frame);
    if (fresh) {
      this.before = { frame, reference: referenceOf(gray), cells, alignment: { dx: 0, dy: 0, angle: 0, scale: 1, agree: 1 } };
      this.kept = [];
      this.alignments.push(this.before.alignment);
      this.lights.push(cells.map(() => ({ gain: 1, offset: 0 })));
    } else {
      const b = this.before!;
      const alignment = register(b.reference, gray, b.alignment ?? undefined);
      this.alignments.push(alignment);
      this.lights.push(
        cells.map((c, p) => lightBetween(b.cells[p].data, c.data, pivotOf(isChroma(frame.format, p), this.full || frame.format.model === "rgb"))),
      );
      if (repeats(b.frame.planes[0].data, luma.data, bits)) this.duplicates.push(this.n);
      else if (this.n % 2 && alignment) this.compare(frame, alignment);
      const c = combing(b.frame.planes[0], luma, bits);
      if (c.moving > 200) this.combed.push(c.share);
      this.before = { ...b, frame, alignment: alignment ?? b.alignment };
    }
    if (this.n % KEEP_EVERY === 0 && this.before!.alignment)
      this.kept = [...this.kept, { n: this.n, frame, alignment: this.before!.alignment }].slice(-1 - APART / KEEP_EVERY);
    if (this.n % 5 === 0) this.bars.add(luma, bits);
    this.n++;
  }

  /** Measures noise between a frame and an earlier one it lies on, the farthest kept. A short take has none so far back: then the farthest of all count. */
  private compare(frame: Frame, now: Alignment): void {
    const { width, height } = frame;
    for (const k of this.kept) {
      const [dx, dy] = [now.dx - k.alignment.dx, now.dy - k.alignment.dy];
      const turn = (Math.hypot(width, height) / 2) * Math.hypot(((now.angle - k.alignment.angle) * Math.PI) / 180, now.scale - k.alignment.scale);
      const [sx, sy] = [Math.round(dx), Math.round(dy)];
      if (Math.hypot(dx - sx, dy - sy) > WHOLE || turn > 2 * WHOLE) continue;
      const apart = Math.min(APART, this.n - k.n);
      if (apart < this.pairApart) return;
      // pairs that lie closer are worth less than none once there are farther ones
      if (apart > this.pairApart) this.noise.clear();
      this.pairApart = apart;
      this.noise.add(k.frame.planes[0], frame.planes[0], frame.format.bits, [sx, sy], this.lights[this.n][0].gain / this.lights[k.n][0].gain);
      return;
    }
  }

  result(): Survey {
    const { frame } = this.before!;
    const share = this.combed.length ? this.combed.reduce((a, b) => a + b, 0) / this.combed.length : 0;
    const ends = [...this.cuts, this.n];
    const judged = ends.map((to, i) => {
      const from = i ? ends[i - 1] : 0;
      const still = stillnessOf(this.alignments.slice(from, to), frame.width, frame.height);
      return { from, to: to - 1, still, light: lightCurve(this.lights.slice(from, to)) };
    });
    const worst = judged.reduce((a, b) => (VERDICTS.indexOf(b.still.verdict) > VERDICTS.indexOf(a.still.verdict) ? b : a));
    const settledAt = worst.still.settledAt === undefined ? {} : { settledAt: worst.from + worst.still.settledAt };
    const most = (of: (j: (typeof judged)[number]) => number) => Math.max(...judged.map(of));
    return {
      cuts: this.cuts,
      stillness: {
        verdict: worst.still.verdict,
        maxShift: most((j) => j.still.maxShift),
        perFrame: judged.flatMap((j) => j.still.perFrame),
        ...settledAt,
      },
      light: { drift: most((j) => j.light.drift), flicker: most((j) => j.light.flicker), perFrame: judged.flatMap((j) => j.light.perFrame) },
      ...(judged.length > 1
        ? {
            pieces: judged.map(({ from, to, still, light }) => ({
              ...{ from, to, verdict: still.verdict, maxShift: still.maxShift },
              ...{ drift: light.drift, flicker: light.flicker },
            })),
          }
        : {}),
      grain: this.noise.result(),
      bars: this.bars.result(this.full || frame.format.model === "rgb" ? 0 : 16),
      duplicates: this.duplicates,
      interlaced: { share, yes: share > 0.12 },
    };
  }
}

/** Whether a frame only repeats the one before: hardly a sample differs, and by no more than an encoder's rounding. */
function repeats(a: ArrayLike<number>, b: ArrayLike<number>, bits: number): boolean {
  const one = 1 << (bits - 8);
  let [seen, far] = [0, 0];
  for (let i = 0; i < b.length; i += 7) {
    seen++;
    if (Math.abs(a[i] - b[i]) > one) far++;
  }
  return far < seen / 2000;
}
