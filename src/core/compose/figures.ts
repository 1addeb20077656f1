import { RING } from "../match/light-ring";
import type { PlaneAsk } from "../match/ring";
import { spreadBetween } from "../match/spread";
import { rimOff } from "../proof/rim";

/** How far off a patch still is from what surrounds it, at one frame. */
export interface MatchFigures {
  /** Its light: the ring 6–24 px outside, before the seam is taken off; 8-bit codes. */
  light: number | null;
  /** Its edge: within 3 px outside, as it is laid; 8-bit codes. */
  edge: number | null;
  /** By a blur of how many pixels (σ) it is too sharp; below 0 too soft; null where that cannot be told. */
  sharpness: number | null;
  /** How much of its grain moves, against the footage's: 1 as it should be, 0 it stands still; null where it is not known. */
  grain: number | null;
}

/** Pixels outside the mask in which an edge shows. */
const EDGE = 3;

/** What is told of each plane: the worst of all planes counts for light and edge, luma for sharpness and grain. */
export class FigureTally {
  private readonly told: MatchFigures = { light: null, edge: null, sharpness: null, grain: null };

  /** @param lit the plane's picture with its light @param laid as it is laid, with its seam taken off; both without grain */
  plane(ask: Omit<PlaneAsk, "value">, lit: PlaneAsk["value"], laid: PlaneAsk["value"]): void {
    const reach = RING.to >> ask.shift.sx;
    this.worse("light", rimOff({ ...ask, value: lit }, RING.from, RING.to, reach));
    this.worse("edge", rimOff({ ...ask, value: laid }, 0, EDGE, reach));
    if (!ask.shift.sx && !ask.shift.sy && this.told.sharpness === null) this.told.sharpness = spreadBetween({ ...ask, value: lit })?.sigma ?? null;
  }

  /** @param share of the wanted variance that is new in every frame */
  grain(share: number): void {
    this.told.grain = Math.sqrt(share);
  }

  private worse(key: "light" | "edge", value: number | null): void {
    if (value !== null) this.told[key] = Math.max(this.told[key] ?? 0, value);
  }

  get figures(): MatchFigures {
    return { ...this.told };
  }
}
