import { type Light, lightBetween, pivotOf, SAME_LIGHT } from "../match/light";
import { grayOf } from "../motion/gray";
import { type Alignment, type Reference, referenceOf, register } from "../motion/register";
import type { Plane } from "../pixels/frame";
import { combing } from "./combing";
import { partsOf } from "./daylight";
import { NoiseMeter, type NoiseTally } from "./noise";

/** What one frame says, against the first of its shot and the one before. */
export interface FrameFacts {
  /** How it lies against the first frame; null where nothing agreed. */
  alignment: Alignment | null;
  /** Its light against the first frame's, a plane each. */
  light: Light[];
  /** The light of its parts beside that. */
  parts: number[];
  /** Whether it only repeats the one before. */
  repeats: boolean;
  /** Share of its moving pixels that are combed, and how many move. */
  combing: { share: number; moving: number };
}

/** Two frames by which noise is to be measured. */
export interface PairOfFrames {
  /** The earlier one. */
  from: number;
  to: number;
  /** Frames between them, at most as many as count. */
  apart: number;
  /** Whole samples by which the later one lies off. */
  shift: [number, number];
  /** By how much the later one is brighter. */
  gain: number;
}

/** Cells of a frame: means of areas, a plane each, 8-bit code values; all frames of a take on the same grid. */
export interface CellPlanes {
  /** Cells in a row. */
  across: number;
  planes: readonly Float32Array[];
}

const NOTHING = { repeats: false, combing: { share: 0, moving: 0 } };

/**
 * The work a survey has with frames, one after another; several lanes may share the frames of a take, each in its own thread. A lane
 * looks for a frame where it found the last of its own.
 */
export class SurveyLane {
  private reference: Reference | null = null;
  private cells: CellPlanes = { across: 1, planes: [] };
  private guess: Alignment | undefined;
  private readonly noise = new Map<number, NoiseMeter>();

  /** @param full whether samples fill the whole code range */
  constructor(
    private readonly bits: number,
    private readonly full: boolean,
  ) {}

  /** A shot begins: what follows is measured against its first frame. @returns that frame's own facts */
  begin(luma: Plane, cells: CellPlanes): FrameFacts {
    this.reference = referenceOf(grayOf(luma, this.bits));
    this.cells = cells;
    this.guess = undefined;
    return { alignment: { dx: 0, dy: 0, angle: 0, scale: 1, agree: 1 }, ...sameLight(cells), ...NOTHING };
  }

  /** One frame of the shot that began. @param before the luma of the frame before it @throws when no shot began */
  measure(before: Plane, now: Plane, cells: CellPlanes): FrameFacts {
    if (!this.reference) throw new Error("A survey's lane has no first frame to measure against.");
    const alignment = register(this.reference, grayOf(now, this.bits), this.guess);
    this.guess = alignment ?? this.guess;
    return {
      alignment,
      ...lightOfCells(this.cells, cells, this.full),
      repeats: repeats(before.data, now.data, this.bits),
      combing: combing(before, now, this.bits),
    };
  }

  /** Measures noise between two frames. */
  pair(earlier: Plane, later: Plane, { apart, shift, gain }: Pick<PairOfFrames, "apart" | "shift" | "gain">): void {
    let meter = this.noise.get(apart);
    if (!meter) this.noise.set(apart, (meter = new NoiseMeter()));
    meter.add(earlier, later, this.bits, shift, gain);
  }

  /** What was tallied of noise, by how far apart the pairs were. */
  tallies(): [number, NoiseTally][] {
    return [...this.noise].map(([apart, m]) => [apart, m.tallied()]);
  }
}

/** The light of a frame against itself. */
export const sameLight = ({ planes }: CellPlanes): Pick<FrameFacts, "light" | "parts"> => ({ light: planes.map(() => SAME_LIGHT), parts: [] });

/** The light of a frame against another, by their cells: of the whole, and of its parts beside it. */
export function lightOfCells(first: CellPlanes, now: CellPlanes, full: boolean): Pick<FrameFacts, "light" | "parts"> {
  const light = now.planes.map((c, p) => lightBetween(first.planes[p], c, pivotOf(p > 0, full)));
  return { light, parts: partsOf(first.planes[0], now.planes[0], now.across, light[0], pivotOf(false, full)) };
}

/** Whether a frame only repeats the one before: hardly a sample differs, and by no more than an encoder's rounding. */
function repeats(a: ArrayLike<number>, b: ArrayLike<number>, bits: number): boolean {
  const one = 1 << (bits - 8);
  const seen = Math.ceil(b.length / 7);
  let far = 0;
  for (let i = 0; i < b.length; i += 7) {
    const d = a[i] - b[i];
    if ((d > one || d < -one) && ++far >= seen / 2000) return false;
  }
  return far < seen / 2000;
}
