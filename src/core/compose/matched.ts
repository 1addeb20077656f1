import type { PatchLayer } from "../document/layer";
import { layInSquares, layUnrounded, type LaidNoise, type QuickSource, shownRows } from "../blend/over";
import { tileColumn, tileRow } from "../blend/tiled-noise";
import { planeGrainOver } from "../match/across-planes";
import { averaged, grainOfPlane, type GrainStatistics, localRatio, sigmaAt } from "../match/grain";
import { pivotOf } from "../match/light";
import { lightRing } from "../match/light-ring";
import { fitLight, lightOf, type PlaneLight } from "../match/patch-light";
import { type QuietPicture, quietPicture } from "../match/quiet";
import type { PlaneAsk } from "../match/ring";
import { seamOf } from "../match/seam";
import { noisePower, type Sharpening } from "../match/sharpen";
import { quickNoise } from "../match/quick-grain";
import { thingsAround } from "../match/things-around";
import { type Frame, isChroma, maxCode, type Plane, planeShift } from "../pixels/frame";
import type { ResampledPlane } from "../pixels/resample";
import { within } from "../pixels/within";
import type { Range } from "../ranges";
import { UNIT } from "../ranges";
import { valueAt } from "../time/keyed";
import type { PlaneAlpha } from "../shape/chroma";
import { relightOf } from "./evenlight";
import type { FigureTally } from "./figures";
import { keptLights, type KnownLights, type Lights } from "./light-cache";
import type { Canvas } from "./canvas";
import type { PreparedPatch } from "./patch";
import { resharpened, sharpenedAround } from "./sharpness";

const TWO: Range = { min: 0, max: 2 };
const REACH: Range = { min: 1, max: 2000 };
const CODES: Range = { min: 0, max: 64 };
/** Variance of rounding to whole codes: what is laid is rounded once, and that is noise as well. */
const ROUNDING = 1 / 12;

/** Squares of a patch's picture out of which noise is taken for one quick picture: so that it plays from the start. */
const SQUARES = 2;

/** Whether a patch is laid in values between codes, since something changes its picture after it was read: rounded once, at the end. */
export const isMatched = (l: PatchLayer): boolean =>
  l.light !== undefined || l.sharpness !== undefined || l.seam !== undefined || l.grain !== undefined;

/** Whether a patch shows a picture more than once, so that its grain stands still. */
export const isFrozen = ({ source: s }: Pick<PatchLayer, "source">): boolean =>
  s.plate !== undefined || s.hold !== undefined || s.repeat !== undefined || (typeof s.slip === "object" && s.slip.keys.length > 1);

/** What a patch is matched by, at one frame. */
export interface Matching {
  layer: PatchLayer;
  n: number;
  seed: number;
  /** Its picture where it can be quieted: whole, unscaled, where its planes are those of the sources. */
  source: Frame;
  /** Other frames that show the same where its picture does. */
  others: readonly Frame[];
  /** How alike their noise and its own is, on the average of pairs. */
  alike: number;
  /** What the light of its picture is multiplied by before anything is matched. */
  gain: number;
  /** How its picture is made softer or sharper, plane by plane. */
  sharpening: Sharpening[] | null;
  /** The grain it is to have. */
  grain: GrainStatistics | null;
  /** Whether a luma pixel of the surroundings lies under another layer. */
  avoid: (x: number, y: number) => boolean;
  canvas: Canvas;
  /** Where lights that were found are kept. */
  lights?: KnownLights;
  /** Where it is told how far off it still is, where that is asked. */
  tally?: FigureTally;
}

/** Lays a patch that is matched to what surrounds it: its picture lit, its seam taken off, its grain made good; rounded once. */
export function layMatched(out: Frame, prepared: PreparedPatch, m: Matching): void {
  const { layer: l, n } = m;
  const relight = relightBy(out, m);
  const relitPatch = m.gain === 1 ? prepared : { ...prepared, sources: prepared.sources.map((s, p) => ({ ...s, value: relight(p, s.value) })) };
  const patch = resharpened(relitPatch, m.sharpening);
  const top = maxCode(out.format);
  const unit = 2 ** (out.format.bits - 8);
  const strength = l.light ? valueAt(l.light.strength ?? 1, n, UNIT) : 0;
  const lights = l.light && strength > 0 ? keptLights(m.lights, l.id, n, () => lightsAround(out, patch, m, unit)) : null;
  let squares = SQUARES;
  for (const [p, alpha] of patch.alphas.entries()) {
    const ask = askOf(out, patch, p, m.avoid);
    const own = patch.sources[p].value;
    const fit = lights?.[p];
    const quickly = m.canvas.quick === true && !l.seam && !m.sharpening && !m.tally && patch.sources[p].whole !== null;
    const light = fit ? lightOf(fit, quickly ? undefined : alpha) : null;
    const grain = m.grain && grainOf(m, p, patch, own, unit, out.planes[p], (v) => relight(p, v), quickly);
    if (quickly) {
      const { quiet = null } = grain || {};
      if (quiet) squares = workedOut(quiet, alpha, prepared.sources[p], squares);
      const source = quickSource(prepared.sources[p], quiet, litBy(light, strength, relightOf(out.format, p, m.gain, m.canvas)));
      const noise = grain?.quick && { ...grain.noise(light, strength), quick: grain.quick, strength: grain.strength };
      layInSquares(out.planes[p], source, alpha, patch.opacity, top, noise ?? undefined);
      continue;
    }
    let value = grain?.value ?? own;
    if (light) value = lit(value, light, strength);
    const litValue = value;
    const seamed = l.seam && withoutSeam(value, l, n, ask);
    if (seamed) value = seamed.value;
    const noise = grain?.noise(light, strength);
    if (m.tally) {
      m.tally.plane(ask, litValue, value);
      if (p === 0) m.tally.grain(movingShare(alpha, value, noise, grain?.strength ?? 0, isFrozen(l)));
    }
    layUnrounded(out.planes[p], value, alpha, patch.opacity, top, noise, seamed?.below);
  }
}

/** Values of a plane in another light: more of what lies beyond its pivot, or of codes that go by a logarithm as many more. */
function relightBy(out: Frame, { gain, canvas }: Matching) {
  return (p: number, value: (x: number, y: number) => number): ((x: number, y: number) => number) => {
    const [factor, offset] = relightOf(out.format, p, gain, canvas);
    return factor === 1 && offset === 0 ? value : (x, y) => factor * value(x, y) + offset;
  };
}

/** The light of each plane of a patch, by what surrounds it and is no thing; of R′G′B′ and grey pictures that is not told. */
function lightsAround(out: Frame, patch: PreparedPatch, m: Matching, unit: number): Lights {
  const { layer: l, canvas } = m;
  const planes = [...patch.alphas.keys()];
  const around = (avoid: Matching["avoid"]) =>
    planes.map((p) => {
      const pivot = pivotOf(isChroma(out.format, p), out.format.model === "rgb" || canvas.full === true) * unit;
      return lightRing({ ...askOf(out, patch, p, avoid), value: patch.sources[p].value, pivot });
    });
  let rings = around(m.avoid);
  const things = thingsAround(
    rings[0],
    rings.filter((_, p) => isChroma(out.format, p)),
  );
  if (things) rings = around((x, y) => m.avoid(x, y) || things(Math.floor(x), Math.floor(y)));
  const { by: spread } = l.light!;
  const fits: Lights = [];
  for (const [p, r] of rings.entries()) {
    const chroma = isChroma(out.format, p);
    // where codes go by a logarithm light adds to all alike, and leaves their differences
    const luma = chroma && !canvas.adds ? fits[0] : null;
    fits.push(r && fitLight(r, { by: chroma ? "offset" : canvas.adds ? "both" : "gain", spread }, luma));
  }
  return fits;
}

/** How far off a patch is that is laid as it is. */
export function tellPlain(out: Frame, patch: PreparedPatch, m: Pick<Matching, "layer" | "avoid"> & { tally: FigureTally }): void {
  for (const p of patch.alphas.keys()) {
    const own = patch.sources[p].value;
    m.tally.plane(askOf(out, patch, p, m.avoid), own, own);
    if (p === 0) m.tally.grain(isFrozen(m.layer) ? 0 : 1);
  }
}

/** What is asked about plane `p` of a patch over `out`; of its surroundings counts what lies within the picture and under no other layer. */
function askOf(out: Frame, patch: PreparedPatch, p: number, avoid: Matching["avoid"]): Omit<PlaneAsk, "value"> {
  const shift = planeShift(out.format, p);
  const counts = (x: number, y: number) => {
    const [lx, ly] = [(x << shift.sx) + (shift.sx ? 0.5 : 0), (y << shift.sy) + (shift.sy ? 0.5 : 0)];
    return patch.covers(lx, ly) && !avoid(lx, ly);
  };
  return { alpha: patch.alphas[p], below: out.planes[p], counts, shift, unit: 2 ** (out.format.bits - 8) };
}

/** The share of the wanted grain's variance that is new in every frame: what is laid on, and what a picture that moves has of its own. */
function movingShare(
  alpha: PlaneAlpha,
  value: (x: number, y: number) => number,
  noise: LaidNoise | undefined,
  strength: number,
  frozen: boolean,
): number {
  if (!noise) return frozen ? 0 : 1;
  let [moves, wanted] = [0, 0];
  const w = alpha.x1 - alpha.x0;
  for (let y = alpha.y0; y < alpha.y1; y += 2)
    for (let x = alpha.x0; x < alpha.x1; x += 2) {
      if (alpha.data[(y - alpha.y0) * w + x - alpha.x0] < 1) continue;
      const want = noise.wanted(value(x, y), x, y);
      const left = noise.left(x, y);
      wanted += want;
      moves += strength ** 2 * Math.max(0, want - left) + (frozen ? 0 : left);
    }
  return wanted > 0 ? moves / wanted : 1;
}

function lit(value: (x: number, y: number) => number, { pivot, gain, offset }: PlaneLight, strength: number) {
  return (x: number, y: number) => pivot + (1 + strength * (gain(x, y) - 1)) * (value(x, y) - pivot) + strength * offset(x, y);
}

/** What a patch shows once its seam is taken off, and what is then taken off the footage below it, where that gives way. */
interface Seamed {
  value: (x: number, y: number) => number;
  below?: (x: number, y: number) => number;
}

function withoutSeam(value: (x: number, y: number) => number, { seam: s }: PatchLayer, n: number, ask: Omit<PlaneAsk, "value">): Seamed {
  const at = (v: Parameters<typeof valueAt<number>>[0] | undefined, usual: number, range: Range) => valueAt(v ?? usual, n, range);
  const strength = at(s!.strength, 0, UNIT);
  const detail = at(s!.detail, 0, CODES) / (1 << ask.shift.sx);
  const filled = s!.fill === "rim";
  if (!strength && !filled) return { value };
  const u = seamOf({
    ...ask,
    value,
    reach: at(s!.reach, 200, REACH),
    over: at(s!.over, 0, CODES),
    soft: at(s!.soft, 0, CODES),
    of: filled ? "footage" : "difference",
  });
  const w = u.x1 - u.x0;
  const read = (x: number, y: number) => (x < u.x0 || y < u.y0 || x >= u.x1 || y >= u.y1 ? 0 : u.data[(y - u.y0) * w + x - u.x0]);
  if (!filled && s!.tone === "patch") {
    // the footage comes to the patch's tone as far as the mask has come in
    const { alpha } = ask;
    const aw = alpha.x1 - alpha.x0;
    return { value, below: (x, y) => strength * alpha.data[(y - alpha.y0) * aw + x - alpha.x0] * read(x, y) };
  }
  if (!filled) return { value: (x, y) => value(x, y) + strength * read(x, y) };
  if (!detail) return { value: read };
  // what is finer stays the picture's own (Burt & Adelson 1983)
  const low = lowPassed(value, u, detail);
  return { value: (x, y) => read(x, y) + value(x, y) - low(x, y) };
}

/** Means of the picture with weights of a normal curve over a rectangle. @param size of what is kept out, samples */
function lowPassed(value: (x: number, y: number) => number, r: { x0: number; y0: number; x1: number; y1: number }, size: number) {
  const sigma = size / 2;
  const reach = Math.ceil(2.5 * sigma);
  const k = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)));
  const total = k.reduce((a, b) => a + b, 0);
  const [w, h] = [r.x1 - r.x0, r.y1 - r.y0];
  const tall = h + 2 * reach;
  const rows = new Float64Array(w * tall);
  const line = new Float64Array(w + 2 * reach);
  for (let y = 0; y < tall; y++) {
    for (let x = 0; x < line.length; x++) line[x] = value(r.x0 + x - reach, r.y0 + y - reach);
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let i = 0; i < k.length; i++) s += k[i] * line[x + i];
      rows[y * w + x] = s / total;
    }
  }
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let i = 0; i < k.length; i++) s += k[i] * rows[(y + i) * w + x];
      out[y * w + x] = s / total;
    }
  return (x: number, y: number) => (x < r.x0 || y < r.y0 || x >= r.x1 || y >= r.y1 ? value(x, y) : out[(y - r.y0) * w + x - r.x0]);
}

/** What of the picture's grain stands still is taken out of it, and what is missing of the footage's is laid over it. */
function grainOf(
  m: Matching,
  p: number,
  patch: PreparedPatch,
  own: (x: number, y: number) => number,
  unit: number,
  size: Pick<Plane, "width" | "height">,
  relight: (value: (x: number, y: number) => number) => (x: number, y: number) => number,
  quickly: boolean,
) {
  const { layer: l, n, canvas } = m;
  const of = grainOfPlane(m.grain!, p);
  const scale = canvas.scale < 1 ? averaged(of, 1 / canvas.scale) : 1;
  const strength = valueAt(l.grain!.strength ?? 1, n, TWO);
  const sigma = sigmaAt(of, unit);
  const { width, height } = size;
  const shift = planeShift(m.source.format, p);
  const part = localRatio(of, width, height) ?? (() => 1);
  const whole = patch.sources[p].whole;
  const across = Math.max(1, 1 / canvas.scale);
  const alpha = patch.alphas[p];
  // a picture that need not be exact is quieted by itself alone, at a sixth of the cost
  const ask = { grain: m.grain!, others: quickly ? [] : m.others, alike: m.alike, unit, across, full: canvas.full === true, quickly };
  // a picture that lies between samples, turned or scaled keeps its own grain, softened by resampling
  const quiet = whole && isFrozen(l) ? quietPicture(m.source, p, ask) : null;
  const key = { seed: m.seed, layer: l.id, plane: p, n };
  const quick = canvas.quick ? quickNoise(m.grain!, p, !shift.sx && !shift.sy, key, canvas.scale < 1) : null;
  const w = alpha.x1 - alpha.x0;
  const index = (x: number, y: number) => (quickly ? y * quiet!.width + x : quiet!.index(x, y));
  const at = quiet && whole ? (x: number, y: number) => index(within(x + whole.x, quiet.width), within(y + whole.y, quiet.height)) : null;
  const quieted = quiet && at ? relight((x: number, y: number) => quiet.data[at(x, y)]) : null;
  const value = quieted ? (m.sharpening ? sharpenedAround(quieted, patch, p, m.sharpening[p]) : quieted) : own;
  const power = m.sharpening ? noisePower(m.sharpening[p]) : 1;
  const exactly = () => {
    const field = planeGrainOver(m.grain!, { p, width, height, shift }, key, alpha, canvas.scale < 1, shownRows(alpha, patch.opacity));
    return (x: number, y: number) => strength * field[(y - alpha.y0) * w + x - alpha.x0];
  };
  const noise = (light: PlaneLight | null, by: number): LaidNoise => ({
    unit: quick ? (x, y) => strength * quick.tile[tileRow(quick, y) + tileColumn(quick, x)] : exactly(),
    wanted: (v, x, y) => Math.max(0, (part(x, y) * sigma(v) * scale) ** 2 - ROUNDING),
    left: (x, y) => {
      const gain = light ? 1 + by * (light.gain(x, y) - 1) : 1;
      const share = quiet && at ? quiet.left[at(x, y)] : 1;
      const there = whole ? part(x + whole.x, y + whole.y) : 1;
      return power * share * (gain * there * sigma(own(x, y)) * scale) ** 2;
    },
  });
  return { value, noise, strength, quick, quiet };
}

/** Sees to it that what is laid of a picture is there. @returns how many squares were not needed for that */
function workedOut(quiet: QuietPicture, { x0, y0, x1, y1 }: PlaneAlpha, { whole }: ResampledPlane, squares: number): number {
  const { x: dx, y: dy } = whole!;
  return quiet.workOut({ x0: x0 + dx, y0: y0 + dy, x1: x1 + dx, y1: y1 + dy }, squares);
}

/** A picture that is moved by whole samples, as it is laid in quick pictures: without its grain where that was taken out. */
function quickSource(own: ResampledPlane, quiet: QuietPicture | null, light: QuickSource["light"]): QuickSource {
  const { data, width, height } = quiet ?? own;
  return { data, width, height, dx: own.whole!.x, dy: own.whole!.y, light };
}

/** What a light and a gain before it make of codes at a sample. */
function litBy(light: PlaneLight | null, strength: number, [factor, offset]: readonly [number, number]): QuickSource["light"] {
  if (!light) return () => [factor, offset];
  return (x, y) => {
    const gain = 1 + strength * (light.gain(x, y) - 1);
    return [gain * factor, light.pivot + gain * (offset - light.pivot) + strength * light.offset(x, y)];
  };
}
