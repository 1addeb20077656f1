import type { Alignment } from "../motion/register";
import { type Bars, BarMeter } from "./bars";
import { lightCurve, type LightCurve } from "./daylight";
import { type CellPlanes, type FrameFacts, lightOfCells, type PairOfFrames, sameLight } from "./lane";
import { type Grain, NoiseMeter, type NoiseTally } from "./noise";
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

/** What is known of a take as soon as it was read, before its frames are measured at full size. */
export type FirstSurvey = Pick<Survey, "cuts" | "light">;

type Lights = readonly Pick<FrameFacts, "light" | "parts">[];

/** The light of each shot by itself, and of the take: the most of its shots. @param lights of each frame against the first of its shot */
function lightOf(lights: Lights, cuts: readonly number[]): { whole: LightCurve; shots: LightCurve[] } {
  const ends = [...cuts, lights.length];
  const shots = ends.map((to, i) => {
    const own = lights.slice(i ? ends[i - 1] : 0, to);
    const told = own.filter((f) => f.parts.length);
    return lightCurve(
      own.map((f) => f.light),
      told.map((f) => f.parts),
    );
  });
  const most = (of: (l: LightCurve) => number) => Math.max(...shots.map(of));
  const whole = { drift: most((l) => l.drift), flicker: most((l) => l.flicker), uneven: most((l) => l.uneven ?? 0) };
  return { whole: { ...whole, perFrame: shots.flatMap((l) => l.perFrame) }, shots };
}

/**
 * What follows from the cells of a take alone. @param full whether samples fill the whole code range
 * @param cuts first frames of new shots
 */
export function firstSurvey(cells: Iterable<CellPlanes>, cuts: readonly number[], full: boolean): FirstSurvey {
  const lights: Pick<FrameFacts, "light" | "parts">[] = [];
  let first: CellPlanes | null = null;
  for (const c of cells) {
    if (!first || cuts.includes(lights.length)) first = c;
    lights.push(c === first ? sameLight(c) : lightOfCells(first, c, full));
  }
  return { cuts: [...cuts], light: lightOf(lights, cuts).whole };
}

/** From the best to the worst for one plate to serve. */
const VERDICTS: StillVerdict[] = ["locked", "settles", "drifts", "moves"];

/** Frames apart from which the noise of two frames counts as independent, and every how many one is kept to compare with. */
const APART = 32;
const KEEP_EVERY = 8;
/** Two frames lie on each other when their shift is whole pixels to this much, and turn and scale move no corner farther. */
const WHOLE = 0.08;
/** Samples in the pairs by which noise is known well; of large pictures fewer pairs are compared. */
const PAIR_EVERY = 400_000;
const MOST_EVERY = 6;

/** A frame that later ones are compared with. */
interface Kept {
  n: number;
  alignment: Alignment;
}

/**
 * Puts together what was measured of a take's frames, in order, wherever it was measured; says which pairs of frames noise is to be
 * measured by. It holds no picture.
 */
export class SurveyAssembly {
  private readonly alignments: (Alignment | null)[] = [];
  private readonly lights: Pick<FrameFacts, "light" | "parts">[] = [];
  private readonly duplicates: number[] = [];
  private readonly combed: number[] = [];
  private readonly cuts: number[] = [];
  private last: Alignment | null = null;
  /** Earlier frames of the same shot, oldest first: a few, some `APART` frames back. */
  private kept: Kept[] = [];
  /** How many frames apart the pairs are by which noise was measured. */
  private pairApart = 0;
  private readonly every: number;

  /** @param width,height of the frames in luma samples */
  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.every = 2 * Math.max(1, Math.min(MOST_EVERY, Math.round((width * height) / PAIR_EVERY)));
  }

  /** Frames that may still be asked for as the earlier one of a pair. */
  get keeps(): readonly number[] {
    return this.kept.map((k) => k.n);
  }

  /**
   * The next frame. @param fresh whether it begins a new shot: later ones are measured against it
   * @returns the pair of frames by which noise is to be measured, the later one this; null where none is
   */
  add(facts: FrameFacts, fresh: boolean): PairOfFrames | null {
    const n = this.alignments.length;
    let pair: PairOfFrames | null = null;
    this.alignments.push(facts.alignment);
    this.lights.push(facts);
    if (fresh) {
      if (n) this.cuts.push(n);
      this.kept = [];
      this.last = facts.alignment;
    } else {
      if (facts.repeats) this.duplicates.push(n);
      else if (n % this.every === 1 && facts.alignment) pair = this.pairOf(n, facts.alignment);
      if (facts.combing.moving > 200) this.combed.push(facts.combing.share);
      this.last = facts.alignment ?? this.last;
    }
    if (n % KEEP_EVERY === 0 && this.last) this.kept = [...this.kept, { n, alignment: this.last }].slice(-1 - APART / KEEP_EVERY);
    return pair;
  }

  /** The farthest kept frame that this one lies on. A short take has none so far back: then the farthest of all count. */
  private pairOf(n: number, now: Alignment): PairOfFrames | null {
    const { width, height } = this;
    for (const k of this.kept) {
      const [dx, dy] = [now.dx - k.alignment.dx, now.dy - k.alignment.dy];
      const turn = (Math.hypot(width, height) / 2) * Math.hypot(((now.angle - k.alignment.angle) * Math.PI) / 180, now.scale - k.alignment.scale);
      const [sx, sy] = [Math.round(dx), Math.round(dy)];
      if (Math.hypot(dx - sx, dy - sy) > WHOLE || turn > 2 * WHOLE) continue;
      const apart = Math.min(APART, n - k.n);
      // pairs that lie closer are worth less than none once there are farther ones
      if (apart < this.pairApart) return null;
      this.pairApart = apart;
      return { from: k.n, to: n, apart, shift: [sx, sy], gain: this.lights[n].light[0].gain / this.lights[k.n].light[0].gain };
    }
    return null;
  }

  /** @param noise what was tallied by all lanes, by how far apart the pairs were @param black the code of black */
  result(noise: readonly [number, NoiseTally][], bars: BarMeter, black: number): Survey {
    const count = this.alignments.length;
    const share = this.combed.length ? this.combed.reduce((a, b) => a + b, 0) / this.combed.length : 0;
    const ends = [...this.cuts, count];
    const light = lightOf(this.lights, this.cuts);
    const judged = ends.map((to, i) => {
      const from = i ? ends[i - 1] : 0;
      const still = stillnessOf(this.alignments.slice(from, to), this.width, this.height);
      return { from, to: to - 1, still, light: light.shots[i] };
    });
    const worst = judged.reduce((a, b) => (VERDICTS.indexOf(b.still.verdict) > VERDICTS.indexOf(a.still.verdict) ? b : a));
    const settledAt = worst.still.settledAt === undefined ? {} : { settledAt: worst.from + worst.still.settledAt };
    const most = (of: (j: (typeof judged)[number]) => number) => Math.max(...judged.map(of));
    const meter = new NoiseMeter();
    for (const [apart, tally] of noise) if (apart === this.pairApart) meter.include(tally);
    return {
      cuts: this.cuts,
      stillness: {
        verdict: worst.still.verdict,
        maxShift: most((j) => j.still.maxShift),
        perFrame: judged.flatMap((j) => j.still.perFrame),
        ...settledAt,
      },
      light: light.whole,
      ...(judged.length > 1
        ? {
            pieces: judged.map(({ from, to, still, light }) => ({
              ...{ from, to, verdict: still.verdict, maxShift: still.maxShift },
              ...{ drift: light.drift, flicker: light.flicker },
            })),
          }
        : {}),
      grain: meter.result(),
      bars: bars.result(black),
      duplicates: this.duplicates,
      interlaced: { share, yes: share > 0.12 },
    };
  }
}
