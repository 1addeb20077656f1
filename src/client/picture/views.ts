import { activeLayers, changesWhole, composeFrame, composeSteps, neededPictures, type Pictures } from "../../core/compose/compose";
import { FigureTally, type MatchFigures } from "../../core/compose/figures";
import { isMatched } from "../../core/compose/matched";
import type { LightCache } from "../../core/compose/light-cache";
import type { Canvas } from "../../core/compose/canvas";
import type { MatteCache } from "../../core/compose/patch";
import { partsAlone, togetherMatte } from "../../core/compose/views";
import { copyRows, reachingInto } from "../../core/compose/window";
import { isPaint, isPatch, type Layer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import { addsLight, type Colour } from "../../core/pixels/colour";
import { copyFrame, type Frame, type Rect, sameFormat, wholeOf } from "../../core/pixels/frame";
import { quickColour, toQuick } from "../../core/pixels/quick";
import { toRgba8 } from "../../core/pixels/toRgb";
import { plateBase, type PictureRef } from "../../core/retouch/plate";
import type { Frames } from "./frames";
import type { Plates } from "./plates";
import type { MatchLook, MatchPart, Veil, View } from "./protocol";
import { stepped, UNWATCHED, type Watch } from "./steps";

/** From the take's own samples; from its quick frames; from those at half their size, for pictures that move. */
export type Quality = "exact" | "quick" | "small";
/** A picture as RGBA. */
export interface Rgba {
  width: number;
  height: number;
  data: ArrayBuffer;
  /** The frame as it came. */
  original?: ArrayBuffer;
  /** How far off a patch still is, where that was asked and can be told. */
  figures?: MatchFigures;
}
/** What is to be seen of a frame; `moving`: coarsely, since the next one follows at once. */
export interface Sight {
  frame: number;
  view: View;
  moving: boolean;
}

/** A frame as loaded, with what composing over it needs. */
interface Ground {
  below: Frame;
  colour: Colour;
  canvas: Canvas;
  pictures: Pictures;
}

export function rgba(frame: Frame, colour: Colour, rect: Rect, fine: boolean): ArrayBuffer {
  const out = new Uint8ClampedArray((rect.x1 - rect.x0) * (rect.y1 - rect.y0) * 4);
  toRgba8(frame, colour, rect, out, fine ? "linear" : "nearest");
  return out.buffer;
}
const all = (f: Frame, colour: Colour, fine: boolean): Rgba => ({ width: f.width, height: f.height, data: rgba(f, colour, wholeOf(f), fine) });

/** A recipe without the parts of a patch's matching that are hidden. */
function lookedAt(r: Recipe, look?: MatchLook): Recipe {
  if (!look?.without.length) return r;
  const plain = (l: Layer): Layer => {
    if (l.id !== look.layer || !isPatch(l)) return l;
    const { light, sharpness, seam, grain, ...rest } = l;
    const kept = { light, sharpness, seam, grain };
    return { ...rest, ...Object.fromEntries(Object.entries(kept).filter(([k, v]) => v !== undefined && !look.without.includes(k as MatchPart))) };
  };
  return { ...r, intruders: r.intruders.map((i) => ({ ...i, layers: i.layers.map(plain) })) };
}

/** Makes what the viewer shows out of frames, plates and a recipe. */
export class Views {
  private readonly mattes: Record<Quality, MatteCache> = { exact: new WeakMap(), quick: new WeakMap(), small: new WeakMap() };
  /** Lights of quick pictures that were found, for when they are played again. */
  private readonly lights: Record<Quality, LightCache | undefined> = { exact: undefined, quick: new WeakMap(), small: new WeakMap() };
  /** Plates as quick frames, by their width. */
  private readonly quickPlates = new WeakMap<Frame, Map<number, Frame>>();
  /** Where rectangles of a frame are composed. */
  private scratch: Frame | null = null;

  constructor(
    private readonly frames: Frames,
    private readonly plates: Plates,
  ) {}

  async picture(r: Recipe, { frame: n, view, moving }: Sight, quality: Quality, watch: Watch = UNWATCHED): Promise<Rgba> {
    if (view.kind === "plate") {
      const plain = all(await this.plateAt(r, view.plate, n, quality, watch), this.colourAt(r, quality), !moving);
      return quality === "exact" && view.veil ? this.veiled(r, plain, view.veil) : plain;
    }
    if (view.kind === "compare") return this.compare(r, n, view);
    if (view.kind === "origin") return this.origin(r, view);
    if (view.kind === "matte") return this.matte(r, n, view.layer, await this.load(quality, r.shot.take, n));
    if (view.kind === "original") return all(await this.load(quality, r.shot.take, n), this.colourAt(r, quality), !moving);
    if (view.kind === "patch") return this.patch(r, n, view.layer, quality, !moving);
    if (view.kind === "hole") return this.hole(r, n, view.layer, quality, !moving);
    const { frame, colour, below, figures } = await this.composed(r, n, quality, watch, view.kind === "result" ? view.match : undefined);
    const plain = { ...all(frame, colour, !moving), ...(figures ? { figures } : {}) };
    if (view.kind === "changed") return amplified(plain, all(below, colour, !moving), view.gain);
    if (view.kind === "changing") {
      const other = await this.composed(r, n > r.shot.in ? n - 1 : Math.min(n + 1, r.shot.out), quality, watch);
      return amplified(plain, all(other.frame, colour, !moving), view.gain);
    }
    if (view.original) return { ...plain, original: rgba(below, colour, wholeOf(below), !moving) };
    return quality === "exact" && view.veil ? this.veiled(r, plain, view.veil) : plain;
  }

  /** Another picture laid over one, so that it can be seen whether both line up. */
  private async veiled(r: Recipe, below: Rgba, { over, offset, share }: Veil): Promise<Rgba> {
    const top = await this.reference(r, over);
    const [a, b] = [new Uint8ClampedArray(below.data), new Uint8ClampedArray(top.data)];
    const [ox, oy] = offset.map(Math.round);
    for (let y = Math.max(0, -oy); y < Math.min(below.height, top.height - oy); y++)
      for (let x = Math.max(0, -ox); x < Math.min(below.width, top.width - ox); x++) {
        const [i, j] = [4 * (y * below.width + x), 4 * ((y + oy) * top.width + x + ox)];
        for (let k = 0; k < 3; k++) a[i + k] = a[i + k] * (1 - share) + b[j + k] * share;
      }
    return below;
  }

  /** A picture as it is: a plate, a frame of a take, or a mended frame. */
  async reference(r: Recipe, of: Veil["over"]): Promise<Rgba> {
    const { colour } = this.info(r.shot.take);
    if ("plate" in of) return all(await this.plates.get(r, of.plate), colour, true);
    if ("take" in of) return all(await this.frames.loadExact(of.take, of.frame), this.info(of.take).colour, true);
    return all((await this.composed(r, of.result, "exact")).frame, colour, true);
  }

  /** The result at frame `n`. @param look how a patch is looked at that is being matched; no figure comes from a picture that is a proxy */
  async composed(
    r: Recipe,
    n: number,
    quality: Quality,
    watch: Watch = UNWATCHED,
    look?: MatchLook,
  ): Promise<{ frame: Frame; colour: Colour; below: Frame; figures?: MatchFigures }> {
    const { below, colour, pictures, canvas } = await this.ground(r, n, quality, neededPictures(r, n), watch);
    const figures = look && quality === "exact" ? { layer: look.layer, tally: new FigureTally() } : undefined;
    const steps = composeSteps({
      recipe: lookedAt(r, look),
      n,
      below,
      pictures,
      canvas,
      cache: this.mattes[quality],
      lights: this.lights[quality],
      grains: this.frames.grains,
      gains: this.frames.gains,
      figures,
    });
    return { frame: await stepped(steps, watch), colour, below, figures: figures?.tally.figures };
  }

  /** A rectangle of the exact result. While something is dragged no whole frame is copied for every step of it. @param look as in `composed` */
  async part(r: Recipe, n: number, rect: Rect, watch: Watch, look?: MatchLook): Promise<{ data: ArrayBuffer; figures?: MatchFigures }> {
    const { below, colour, canvas, pictures } = await this.ground(r, n, "exact", neededPictures(r, n), watch);
    const figures = look && { layer: look.layer, tally: new FigureTally() };
    const known = { n, pictures, canvas, cache: this.mattes.exact, grains: this.frames.grains, gains: this.frames.gains, figures };
    if (changesWhole(r, n) || activeLayers(r, n).some(isPaint)) {
      // light is that of the whole; touches read beyond what they lay
      const frame = await stepped(composeSteps({ recipe: lookedAt(r, look), below, ...known }), watch);
      return { data: rgba(frame, colour, rect, true), figures: figures?.tally.figures };
    }
    const { scratch } = this;
    if (scratch?.width === below.width && scratch.height === below.height && sameFormat(scratch.format, below.format)) {
      // with the rows whose chroma the conversion reads
      copyRows(below, scratch, { ...rect, y0: Math.max(0, rect.y0 - 4), y1: Math.min(below.height, rect.y1 + 4) });
    } else this.scratch = copyFrame(below);
    const reaching = reachingInto(lookedAt(r, look), n, rect, below.width, below.height, canvas.tracks);
    const frame = composeFrame({ recipe: reaching, below: this.scratch!, inPlace: true, ...known });
    return { data: rgba(frame, colour, rect, true), figures: figures?.tally.figures };
  }

  /** Whether the exact picture can be made without fetching anything. */
  atHand(r: Recipe, n: number, view: View): boolean {
    if (view.kind === "plate") return this.plates.now(r, view.plate) !== null;
    if (!this.frames.exactNow(r.shot.take, n) || !this.frames.hasMasks(r) || !this.frames.hasMeasured(r)) return false;
    if (view.kind !== "result") return true;
    return neededPictures(r, n).every((ref) =>
      "plate" in ref ? this.plates.now(r, ref.plate) !== null : !!this.frames.exactNow(ref.take, ref.frame),
    );
  }

  private info(take: string) {
    return this.frames.take(take).info!;
  }
  private colourAt(r: Recipe, quality: Quality): Colour {
    const info = this.info(r.shot.take);
    return quality === "exact" ? info.colour : quickColour(info.format, info.colour);
  }
  private load(quality: Quality, take: string, n: number): Promise<Frame> {
    const { frames } = this;
    return quality === "exact" ? frames.loadExact(take, n) : quality === "quick" ? frames.loadQuick(take, n) : frames.loadSmall(take, n);
  }

  /** A plate; a quick one is as large as the quick frame it is laid over. */
  private async plateAt(r: Recipe, id: string, n: number, quality: Quality, watch: Watch = UNWATCHED): Promise<Frame> {
    if (quality === "exact") return this.plates.get(r, id, watch);
    const plate = r.plates[id];
    const base = plateBase(plate);
    if ("take" in base && !plate.from.line && !plate.returned && !plate.touches.some((t) => t.on !== false))
      return this.load(quality, base.take, base.frame);
    const exact = await this.plates.get(r, id, watch);
    const like = await this.load(quality, r.shot.take, n);
    const kept = this.quickPlates.get(exact) ?? new Map<number, Frame>();
    this.quickPlates.set(exact, kept);
    const have = kept.get(like.width);
    if (have) return have;
    const q = toQuick(exact, this.info(r.shot.take).colour, like.width, like.height);
    kept.set(like.width, q);
    return q;
  }

  private async ground(r: Recipe, n: number, quality: Quality, refs: PictureRef[], watch: Watch = UNWATCHED): Promise<Ground> {
    const { take } = r.shot;
    const info = this.info(take);
    const below = await this.load(quality, take, n);
    const got = new Map<string, Frame>();
    await this.frames.loadMasks(r);
    await this.frames.loadMeasured(r);
    for (const ref of refs) {
      if ("plate" in ref) got.set(`p/${ref.plate}`, await this.plateAt(r, ref.plate, n, quality, watch));
      else got.set(`${ref.take}/${ref.frame}`, await this.load(quality, ref.take, ref.frame));
    }
    return {
      below,
      colour: this.colourAt(r, quality),
      canvas: {
        width: below.width,
        height: below.height,
        scale: below.width / info.width,
        siting: info.colour.siting,
        full: this.colourAt(r, quality).range === "full",
        adds: addsLight(info.colour.transfer),
        masks: this.frames.masks,
        tracks: this.frames.tracks,
        cutouts: this.frames.cutouts,
        quick: quality !== "exact",
      },
      pictures: { take: (t, f) => got.get(`${t}/${f}`)!, plate: (id) => got.get(`p/${id}`)! },
    };
  }

  /** A plate laid over the frame, half through or as what differs, eight times amplified about mid grey. */
  private async compare(r: Recipe, n: number, { plate, how, share }: Extract<View, { kind: "compare" }>): Promise<Rgba> {
    const colour = this.info(r.shot.take).colour;
    const below = all(await this.frames.loadExact(r.shot.take, n), colour, true);
    const over = all(await this.plates.get(r, plate), colour, true);
    const [a, b] = [new Uint8ClampedArray(below.data), new Uint8ClampedArray(over.data)];
    for (let y = 0; y < Math.min(below.height, over.height); y++)
      for (let x = 0; x < Math.min(below.width, over.width); x++) {
        const [i, j] = [4 * (y * below.width + x), 4 * (y * over.width + x)];
        for (let k = 0; k < 3; k++) a[i + k] = how === "over" ? a[i + k] * (1 - share) + b[j + k] * share : 128 + 8 * (b[j + k] - a[i + k]);
      }
    return below;
  }

  /** A built plate in the colours of the frames it comes from; what was never clean is hatched. */
  private async origin(r: Recipe, { plate, grid, labels, never }: Extract<View, { kind: "origin" }>): Promise<Rgba> {
    const out = all(await this.plates.get(r, plate), this.info(r.shot.take).colour, true);
    const px = new Uint8ClampedArray(out.data);
    const label = unrolled(labels);
    const bad = unrolled(never);
    for (let y = 0; y < out.height; y++)
      for (let x = 0; x < out.width; x++) {
        const cell = Math.min(grid.height - 1, Math.floor(y / grid.cell)) * grid.width + Math.min(grid.width - 1, Math.floor(x / grid.cell));
        const i = 4 * (y * out.width + x);
        const grey = 0.3 * px[i] + 0.6 * px[i + 1] + 0.1 * px[i + 2];
        const hatched = bad[cell] && (x + y) % 12 < 4;
        const tint = hatched ? [200, 105, 79] : tintOf(label[cell]);
        const share = hatched ? 0.9 : 0.45;
        for (let k = 0; k < 3; k++) px[i + k] = grey * (1 - share) + tint[k] * share;
      }
    return out;
  }

  /** α of one layer, or of all together. */
  private async alpha(r: Recipe, n: number, layer: string | null, { width, height }: Frame): Promise<Float64Array> {
    await this.frames.loadMasks(r);
    await this.frames.loadCarried(r);
    const info = this.info(r.shot.take);
    const shown = activeLayers(r, n).filter((l) => layer === null || l.id === layer);
    return togetherMatte(r, shown, n, {
      width,
      height,
      scale: width / info.width,
      siting: info.colour.siting,
      masks: this.frames.masks,
      tracks: this.frames.tracks,
      cutouts: this.frames.cutouts,
    });
  }

  /** The footage, hatched dark and light where a layer covers it. */
  private async hole(r: Recipe, n: number, layer: string | null, quality: Quality, fine: boolean): Promise<Rgba> {
    const below = await this.load(quality, r.shot.take, n);
    const out = all(below, this.colourAt(r, quality), fine);
    const px = new Uint8ClampedArray(out.data);
    const m = await this.alpha(r, n, layer, below);
    const wide = Math.max(4, Math.round(below.width / 120));
    for (let y = 0, i = 0; y < out.height; y++)
      for (let x = 0; x < out.width; x++, i++) {
        if (!m[i]) continue;
        const hatch = (x + y) % (2 * wide) < wide ? HATCH.light : HATCH.dark;
        for (let k = 0; k < 3; k++) px[4 * i + k] = px[4 * i + k] * (1 - m[i]) + hatch[k] * m[i];
      }
    return out;
  }

  private async matte(r: Recipe, n: number, layer: string | null, below: Frame): Promise<Rgba> {
    const { width, height } = below;
    const m = await this.alpha(r, n, layer, below);
    const out = new Uint8ClampedArray(m.length * 4);
    for (let i = 0; i < m.length; i++) {
      out[4 * i] = out[4 * i + 1] = out[4 * i + 2] = m[i] * 255;
      out[4 * i + 3] = 255;
    }
    return { width, height, data: out.buffer };
  }

  /** One layer over a plain mid grey, so that its edge can be judged. */
  private async patch(r: Recipe, n: number, id: string, quality: Quality, fine: boolean): Promise<Rgba> {
    const g = await this.ground(r, n, quality, neededPictures(r, n));
    const paints = activeLayers(r, n).some((l) => isPaint(l) || isMatched(l));
    const alone = partsAlone(r, n, g.below.format, paints ? g.below : null, g.pictures, g.canvas, this.frames.grains, this.frames.gains).find(
      (p) => p.layer === id,
    );
    if (!alone) return all(g.below, g.colour, fine);
    const out = all(alone.picture, g.colour, fine);
    const px = new Uint8ClampedArray(out.data);
    for (let i = 0; i < alone.alpha.length; i++) for (let k = 0; k < 3; k++) px[4 * i + k] = 64 + (px[4 * i + k] - 64) * alone.alpha[i];
    return out;
  }
}

/** The two colours of a hole. */
const HATCH = { light: [239, 231, 218], dark: [26, 22, 19] };

/** What differs between two pictures, amplified about mid grey. */
function amplified(a: Rgba, b: Rgba, gain: number): Rgba {
  const [pa, pb] = [new Uint8ClampedArray(a.data), new Uint8ClampedArray(b.data)];
  for (let i = 0; i < pa.length; i += 4) for (let k = 0; k < 3; k++) pa[i + k] = 128 + gain * (pa[i + k] - pb[i + k]);
  return a;
}

function unrolled(runs: [number, number][]): number[] {
  const out: number[] = [];
  for (const [v, n] of runs) for (let i = 0; i < n; i++) out.push(v);
  return out;
}

/** A quiet colour for the k-th frame; neighbours in number are far apart in hue (the golden angle). */
function tintOf(k: number): number[] {
  const h = (k * 137.508 + 30) % 360;
  return [0, 8, 4].map((n) => {
    const t = (n + h / 30) % 12;
    return 255 * (0.55 - 0.28 * Math.max(-1, Math.min(t - 3, 9 - t, 1)));
  });
}
