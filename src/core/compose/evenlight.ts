import { type EvenLightLayer, isEvenLight, isLively } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { livelyGain, steadyGain } from "../evenlight/flicker";
import type { Gains } from "../evenlight/gains";
import { pivotOf } from "../match/light";
import { colourPlanes, type Frame, isChroma, maxCode, type PixelFormat } from "../pixels/frame";
import { random } from "../random";
import { UNIT } from "../ranges";
import { valueAt } from "../time/keyed";
import { MIDDLE_GREY } from "../survey/daylight";
import { UserError } from "../user-error";
import type { Canvas } from "./canvas";

/** What was measured of the light of takes, by the hashes that layers name. */
export type GainsByHash = ReadonlyMap<string, Gains>;

/** The layers that change the light of a whole frame at `n`. */
export function evenLights(recipe: Recipe, n: number): EvenLightLayer[] {
  const layers = recipe.intruders.filter((i) => i.on !== false).flatMap((i) => i.layers);
  return layers.filter(isEvenLight).filter((l) => l.on !== false && n >= l.in && n <= l.out && valueAt(l.amount ?? 1, n, UNIT) > 0);
}

/** @throws UserError where what was measured is not there */
function gainsFor(l: EvenLightLayer, known?: GainsByHash): Gains {
  const gains = known?.get(l.data ?? "");
  if (!gains) throw new UserError("missing", "What was measured of the light is not there (any more): measure it again.");
  return gains;
}

/** Gains of a frame's light: of the footage itself, and of pictures of the shot's take that are laid over it. */
export interface FrameLight {
  footage: number;
  /** Of the take's frame `m`. */
  source: (m: number) => number;
}

/**
 * The light of frame `n` under layers that steady it before patches are laid and put it back behind them. Both are gains, so that they
 * can be taken together: footage that is steadied and made lively again by as much stays as it is, sample for sample, and pictures of other
 * frames come to its light. Null where no layer acts.
 */
export function frameLight(recipe: Recipe, n: number, known?: GainsByHash): FrameLight | null {
  const layers = evenLights(recipe, n);
  if (!layers.length) return null;
  const amount = (l: EvenLightLayer) => valueAt(l.amount ?? 1, n, UNIT);
  const steady = layers.filter((l) => !isLively(l)).map((l) => ({ gains: gainsFor(l, known), amount: amount(l) }));
  const lively = layers.filter(isLively).reduce((g, l) => g * livelyGain(gainsFor(l, known), n, amount(l), l.seed), 1);
  const source = (m: number) => steady.reduce((g, s) => g * steadyGain(s.gains, m, s.amount), lively);
  const footage = source(n);
  // gains that undo each other do so but for rounding
  return { footage: Math.abs(footage - 1) < 1e-9 ? 1 : footage, source };
}

/** Gains that change no code by half are none. */
const NONE = 1e-4;

/**
 * What becomes of the codes of plane `p` in another light: factor and offset. A gain acts on what lies beyond the pivot; where codes go by a
 * logarithm it adds as many to luma as it does at a middle grey.
 */
export function relightOf(format: PixelFormat, p: number, gain: number, { full, adds }: Pick<Canvas, "full" | "adds">): [number, number] {
  if (Math.abs(gain - 1) < NONE) return [1, 0];
  const unit = 2 ** (format.bits - 8);
  const chroma = isChroma(format, p);
  if (adds) return [1, chroma ? 0 : (gain - 1) * MIDDLE_GREY * unit];
  const pivot = pivotOf(chroma, full === true || format.model === "rgb") * unit;
  return [gain, (1 - gain) * pivot];
}

/** Side of the tile by which values between codes are rounded up or down. */
const TILE = 64;
/** Each threshold of 0 … 1 once, in an order without order. */
const THRESHOLDS = (() => {
  const rnd = random(1);
  const t = Float32Array.from({ length: TILE * TILE }, (_, i) => (i + 0.5) / (TILE * TILE));
  for (let i = t.length - 1; i > 0; i--) {
    const j = Math.floor(rnd() * (i + 1));
    [t[i], t[j]] = [t[j], t[i]];
  }
  return t;
})();

/**
 * A frame in another light, rounded once, up in as many places as a value lies beyond the code below it (ordered dither): flat ground whose
 * noise is finer than a code would else come out up to half a code too light or too dark, another in each frame.
 */
export function relit(frame: Frame, gain: number, canvas: Pick<Canvas, "full" | "adds">): Frame {
  if (Math.abs(gain - 1) < NONE) return frame;
  const top = maxCode(frame.format);
  const colours = colourPlanes(frame.format);
  const planes = frame.planes.map((plane, p) => {
    const [factor, offset] = p < colours ? relightOf(frame.format, p, gain, canvas) : [1, 0];
    if (factor === 1 && offset === 0) return { ...plane, data: plane.data.slice() };
    const table = Float32Array.from({ length: top + 1 }, (_, v) => Math.min(top, Math.max(0, factor * v + offset)));
    const { width, height } = plane;
    const data = plane.data.slice();
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0, row = (y & (TILE - 1)) * TILE; x < width; x++, i++) data[i] = table[data[i]] + THRESHOLDS[row + (x & (TILE - 1))];
    return { ...plane, data };
  });
  return { ...frame, planes };
}
