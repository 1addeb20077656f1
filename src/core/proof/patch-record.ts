import { isFrozen } from "../compose/matched";
import type { PreparedPatch } from "../compose/patch";
import type { PatchLayer } from "../document/layer";
import { pivotOf } from "../match/light";
import { grown } from "../plate/regions";
import type { Colour } from "../pixels/colour";
import { colourPlanes, type Frame, intersect, isChroma, isEmpty, type PixelFormat, type Rect } from "../pixels/frame";
import { changesInTime } from "../time/keyed";
import { cleanPicture, type CleanPicture, LEAST_LOOKS, lightsOf, litCells, type Look } from "./clean";
import { chanceSteps } from "./chance";
import { cutPieces, type Kept } from "./crossing";
import { changedIn } from "./bars";
import { leftOf } from "./left";
import { CellsInTime } from "./living";
import { GrainInTime } from "./energy";
import { alphaCells, cellCount, type CellGrid, type Cells, cellsOf, distanceTo, gridIn, marked, pixelsOf, planes } from "./grid";
import { Passing, withoutPassing } from "./passing";
import { Places } from "./places";
import { COVERED, type Seen, seenIn, type Sight, unlike, UNLIKE } from "./sight";
import { type ArcStep, arcSteps, type EdgeBands, edgeBands } from "./steps";
import type { Bare } from "./uncovered";

/** How far around a patch things are looked for and light is told, in pixels at a width of 1280. */
const AROUND = 96;
/** Smaller takes are looked at as if they were so wide: of less nothing can be told. */
const LEAST_WIDTH = 640;
/** How far beyond a mask what is left of a thing is looked for, likewise. */
const NEAR = 40;
/** How far beyond it its picture is laid over what surrounds it, likewise. */
const RING = 64;
/** A patch's picture shows its surroundings where at least so many of their cells are alike. */
const FITS = 0.5;
/** So many pairs of frames tell how grain moves. */
const PAIRS = 32;
/** What moves so many times as much in time as is usual is alive. */
const ALIVE = 3;
/** So much of a rim has to be known from clean frames before it is told by them. */
const KNOWN = 0.8;
/** One frame in so many is asked where the patch's picture lies. */
const EVERY = 8;

/** The take, as far as it matters here. */
export interface Footage {
  width: number;
  height: number;
  format: PixelFormat;
  colour: Colour;
}

/** What a frame is, for one patch. */
export interface FrameOf {
  n: number;
  live: Frame;
  mended: Frame;
  /** The patch as it is laid; where it is not laid, as in the nearest frame in which it is. */
  patch: PreparedPatch;
  /** Its opacity: 0 where it is not laid. */
  laid: number;
  /** α of all patches together at a pixel. */
  together: Float32Array;
}

/** 1 for each of so many cells of which something is true. */
function flagged(count: number, is: (i: number) => boolean): Uint8Array {
  const out = new Uint8Array(count);
  for (let i = 0; i < count; i++) if (is(i)) out[i] = 1;
  return out;
}

/** Everything that was seen of one patch, frame by frame. */
export class PatchRecord {
  readonly grid: CellGrid;
  readonly coarse: boolean;
  readonly pivots: number[];
  private readonly looks: Look[] = [];
  /** The cells of frames that were sampled: they are looked at again. */
  private readonly sampled = new Map<number, Cells>();
  clean!: CleanPicture;
  /** Cells at what is alive, water and leaves and a subject that sways: it lies elsewhere in every frame. */
  private living!: Uint8Array;
  readonly kept = new Map<number, Kept>();
  readonly bare = new Map<number, Bare>();
  readonly hidden = new Map<number, Uint8Array>();
  readonly masks = new Map<number, Uint8Array>();
  private readonly left = new Map<number, number | null>();
  readonly cuts: ReturnType<typeof cutPieces>["pieces"] = [];
  /** Pieces of who passes, where the thing is there in all frames; it is known of them whose they are. */
  readonly passers: ReturnType<typeof cutPieces>["pieces"] = [];
  private passing: Passing | null = null;
  readonly steps = new Map<number, ArcStep[]>();
  /** In how many frames a cell within the patch shows what the scene does not, and in how many it was asked. */
  readonly shows: Uint16Array;
  readonly asked: Uint16Array;
  readonly showsOff: Float32Array;
  readonly places: Places;
  readonly grain: GrainInTime;
  /** How cells move within the patch, and around it. */
  readonly within: CellsInTime;
  readonly around: CellsInTime;
  /** Frames in which samples of the picture's bars were changed. */
  readonly painted: { n: number; box: Rect; most: number }[] = [];
  /** The picture's bars. */
  bars: readonly Rect[] = [];
  /** Whether its picture goes on around it, told in the frames that were asked. */
  fits = 0;
  frames = 0;
  /** How far a corner of the take moves with its camera, pixels. */
  cameraMoves = 0;
  private bandsKept: { of: unknown; bands: EdgeBands } | null = null;
  private pictureKept: Cells | null = null;
  private pairs = 0;
  private bareLooks = 0;
  private last: { n: number; live: Frame; mended: Frame; alpha: Float32Array; together: Float32Array } | null = null;

  constructor(
    readonly intruder: string,
    readonly layer: PatchLayer,
    readonly footage: Footage,
    rect: Rect,
  ) {
    const { width, height, format, colour } = footage;
    const by = this.px(AROUND);
    this.grid = gridIn({ x0: rect.x0 - by, y0: rect.y0 - by, x1: rect.x1 + by, y1: rect.y1 + by }, width, height);
    this.coarse = format.model === "yuv" && (format.subX > 0 || format.subY > 0);
    const full = colour.range === "full" || format.model !== "yuv";
    this.pivots = Array.from({ length: colourPlanes(format) }, (_, p) => pivotOf(isChroma(format, p), full));
    const n = cellCount(this.grid);
    [this.shows, this.asked] = [new Uint16Array(n), new Uint16Array(n)];
    this.showsOff = new Float32Array(n);
    [this.within, this.around] = [new CellsInTime(n), new CellsInTime(n)];
    this.grain = new GrainInTime(this.pixels);
    this.places = new Places(this.grid, this.pixels);
  }

  /** Where the patch and what surrounds it are looked at, take pixels. */
  get pixels(): Rect {
    return pixelsOf(this.grid, { x0: 0, y0: 0, x1: this.grid.across, y1: this.grid.down });
  }

  /** Pixels at the take's width of so many at 1280. */
  private px = (at1280: number) => Math.round((at1280 * Math.max(LEAST_WIDTH, this.footage.width)) / 1280);
  /** Cells of so many pixels at a width of 1280. */
  private cells = (at1280: number) => this.px(at1280) / this.grid.side;

  /**
   * A frame by which it is known what the scene looks like. Where a patch lies, and around it, where what it hides may be seen, it does not count.
   * @param together α of all patches at its cells; null where none is laid @param next the frame that follows, where grain is to be told by both
   */
  addSample(n: number, frame: Frame, together: Float32Array | null, next?: Frame): void {
    if (!together) {
      this.bareLooks++;
      this.places.addClean(n, frame);
    }
    const free = new Uint8Array(cellCount(this.grid)).fill(1);
    if (together) {
      const far = distanceTo(this.grid, (i) => together[i] > 0);
      for (let i = 0; i < free.length; i++) free[i] = Number(far[i] > this.cells(NEAR));
    }
    const cells = cellsOf(frame, this.grid);
    this.sampled.set(n, cells);
    this.looks.push({ cells, free });
    if (next) this.grain.addFootage(frame, next, (x, y) => !!free[this.cellAt(x, y)]);
  }

  /** The cell of a pixel. */
  cellAt(x: number, y: number): number {
    const { cx, cy, side, across, down } = this.grid;
    return Math.min(down - 1, Math.floor(y / side) - cy) * across + Math.min(across - 1, Math.floor(x / side) - cx);
  }

  /** Whether anything is seen where the patch lies, in a frame in which it does not. */
  isSeenAt(n: number): boolean {
    const [bare, mask] = [this.bare.get(n), this.nearestMask(n)];
    return !!bare && !!mask && bare.visible.some((v, i) => v && mask[i]);
  }

  /** How much is left of what the patch hides in a frame, 0–1; null where nothing is to be hidden. Where it is not laid, all that is seen there. */
  leftAt(n: number): number | null {
    return this.left.get(n) ?? (this.bare.has(n) && this.isSeenAt(n) ? 1 : null);
  }

  /** Cells beside the mask of the nearest frame in which the patch is laid, within which what is left is looked for. */
  nearAt(n: number): Uint8Array {
    const mask = this.nearestMask(n);
    const far = distanceTo(this.grid, (i) => !!mask?.[i]);
    return this.nearCells(far);
  }

  private nearestMask(n: number): Uint8Array | undefined {
    const frames = [...this.masks.keys()];
    return frames.length ? this.masks.get(frames.reduce((a, b) => (Math.abs(b - n) < Math.abs(a - n) ? b : a))) : undefined;
  }

  /** After the last sample. */
  settle(): void {
    this.clean = cleanPicture(this.grid, this.looks, this.pivots);
    const alive = flagged(this.clean.moves.length, this.isAlive);
    this.living = grown(marked(this.grid, alive), 2).data;
    if (!this.bareLooks) this.passing = new Passing(this.grid, this.looks, this.pivots);
  }

  /** Whether the patch has a say in a rectangle. */
  private reaches({ patch }: FrameOf, box: Rect): boolean {
    return !isEmpty(intersect(patch.alphas[0], box));
  }

  /** α of a patch at the cells that are asked. */
  alphaOf(patch: Pick<PreparedPatch, "alphas">): Float32Array {
    return alphaCells(patch.alphas[0], this.grid);
  }

  /** One frame of the shot, in their order. */
  look(f: FrameOf): void {
    const { grid } = this;
    const mask = this.alphaOf(f.patch);
    const alpha = f.laid >= 1 ? mask : mask.map((v) => v * f.laid);
    const live = this.sampled.get(f.n) ?? cellsOf(f.live, grid);
    const mended = f.laid > 0 || f.mended !== f.live ? cellsOf(f.mended, grid) : live;
    const far = distanceTo(grid, (i) => mask[i] > 0);
    const outside = (i: number) => f.together[i] <= 0 && mask[i] <= 0;
    const { clean } = this;
    const toClean = lightsOf(clean.cells, live, this.pivots, (i) => outside(i) && clean.looks[i] >= LEAST_LOOKS);
    const sight: Sight = { live, mended, alpha, together: f.together, picture: null, clean: litCells(clean.cells, toClean) };
    sight.picture = this.pictureOf(f, live, far, outside);
    const passing = f.laid >= COVERED ? this.passing?.seen(sight, this.coarse) : undefined;
    if (passing) this.passers.push(...cutPieces(grid, f.n, passing, this.nearCells(far)).pieces);
    const all = seenIn(sight, clean, this.coarse);
    const seen = passing ? withoutPassing(grid, all, passing) : all;
    this.keep(f, seen, mask, far);
    if (f.laid >= COVERED) {
      this.frames++;
      this.left.set(f.n, leftOf(sight, clean, this.kept.get(f.n)!.cut, this.coarse));
      if (sight.picture) this.fits++;
      this.steps.set(f.n, this.stepsOf(sight, mask, f, seen));
      this.askPicture(sight);
      this.within.add(mended, sight.clean, (i) => alpha[i] >= COVERED && clean.looks[i] >= LEAST_LOOKS);
      const ring = this.cells(RING);
      this.around.add(live, sight.clean, (i) => outside(i) && far[i] <= ring && clean.looks[i] >= LEAST_LOOKS);
      const bars = this.bars.length ? changedIn(f.live, f.mended, this.bars) : null;
      if (bars && this.reaches(f, bars.box)) this.painted.push({ n: f.n, ...bars });
      if (this.frames % EVERY === 1) this.askPlace(f, far, seen);
    }
    this.askGrain(f, alpha);
  }

  /** The patch's picture in a frame's light; null where it does not show what surrounds it, or does not reach there. */
  private pictureOf(f: FrameOf, live: Cells, far: Float32Array, outside: (i: number) => boolean): Cells | null {
    const own = this.ownPicture(f);
    const ring = this.cells(RING);
    const around = (i: number) => outside(i) && far[i] <= ring && f.patch.covers(...this.middle(i));
    const picture = litCells(own, lightsOf(own, live, this.pivots, around));
    let [n, alike] = [0, 0];
    for (let i = 0; i < far.length; i++) {
      if (!around(i)) continue;
      n++;
      if (unlike(live, picture, this.clean.spread, i, this.coarse, Math.SQRT2) < UNLIKE) alike++;
    }
    return n > 0 && alike >= FITS * n ? picture : null;
  }

  private ownPicture({ patch }: FrameOf): Cells {
    const { source, place, tied } = this.layer;
    const stays = (source.plate !== undefined || source.hold !== undefined) && !tied && !changesInTime(place ?? {});
    if (stays && this.pictureKept) return this.pictureKept;
    const cells = planes(this.footage.format, this.grid, (p) => patch.sources[p].read);
    if (stays) this.pictureKept = cells;
    return cells;
  }

  private middle(i: number): [number, number] {
    const { cx, cy, side, across } = this.grid;
    return [(cx + (i % across)) * side + side / 2, (cy + Math.floor(i / across)) * side + side / 2];
  }

  private nearCells(far: Float32Array): Uint8Array {
    const near = this.cells(NEAR);
    return flagged(far.length, (i) => far[i] <= near);
  }

  private keep(f: FrameOf, seen: Seen, mask: Float32Array, far: Float32Array): void {
    const laid = f.laid >= COVERED;
    const cut = laid ? cutPieces(this.grid, f.n, seen, this.nearCells(far)) : null;
    if (cut) this.cuts.push(...cut.pieces);
    this.kept.set(f.n, { n: f.n, visible: seen.visible, cut: cut?.cut ?? new Uint8Array(mask.length), laid });
    if (laid) this.hidden.set(f.n, seen.hidden);
    else this.bare.set(f.n, { n: f.n, visible: seen.visible, off: seen.off });
    if (laid)
      this.masks.set(
        f.n,
        flagged(mask.length, (i) => mask[i] > 0),
      );
  }

  /** The steps along the rim; of frames without the patch what chance makes of them. */
  private stepsOf(s: Sight, mask: Float32Array, f: FrameOf, seen: Seen): ArcStep[] {
    const bands = this.bands(mask, f);
    // the patch's own picture goes on across its edge: what differs there is light, wherever the scene's own changes; else the clean picture is asked
    const known = !s.picture;
    if (known && bands.inside.filter(({ cell }) => this.clean.looks[cell] >= LEAST_LOOKS).length < KNOWN * bands.inside.length) return [];
    const scene = s.picture ?? s.clean;
    const outside = (i: number) => mask[i] <= 0;
    return arcSteps(
      bands,
      s.mended,
      scene,
      (i) => !seen.visible[i] && (!known || this.clean.looks[i] >= LEAST_LOOKS) && (!outside(i) || seen.off[i] < UNLIKE / 2),
    );
  }

  private bands(mask: Float32Array, f: FrameOf): EdgeBands {
    // a mask that stays keeps its α, whichever layers share it
    const [of] = f.patch.alphas;
    if (this.bandsKept?.of !== of) this.bandsKept = { of, bands: edgeBands(this.grid, mask, f.together) };
    return this.bandsKept.bands;
  }

  /** The steps along the mask of a frame that chance makes. */
  chanceSteps(n: number): ArcStep[][] {
    const mask = this.masks.get(n);
    return mask ? chanceSteps(this, this.looks, mask, 2 * this.fits >= this.frames) : [];
  }

  /** Whether what the patch shows is what the scene shows there. */
  private askPicture(s: Sight): void {
    if (!isFrozen(this.layer)) return;
    // in the light of what surrounds it: light that is off is no thing
    const shows = s.picture ?? s.mended;
    for (let i = 0; i < s.alpha.length; i++) {
      if (s.alpha[i] < COVERED || this.clean.looks[i] < LEAST_LOOKS) continue;
      this.asked[i]++;
      const z = unlike(shows, s.clean, this.clean.spread, i, this.coarse, Math.SQRT2);
      if (z > UNLIKE) this.shows[i]++;
      this.showsOff[i] = Math.max(this.showsOff[i], z);
    }
  }

  /** Whether a cell moves more in time than is usual, in frames without the patch. */
  isAlive = (i: number): boolean => this.clean.moves[i] > ALIVE * this.clean.usual;

  /** Where the patch's picture lies against what surrounds it. */
  private askPlace(f: FrameOf, far: Float32Array, seen: Seen): void {
    const { grid } = this;
    const ring = this.cells(RING);
    // what passes has no say, nor what its rim leaves in the cells beside it
    const passes = grown(marked(grid, seen.visible), 2).data;
    const asked = (i: number) =>
      !this.living[i] &&
      far[i] <= ring &&
      far[i] > 0 &&
      f.together[i] <= 0 &&
      !(this.clean.looks[i] >= LEAST_LOOKS && passes[i]) &&
      f.patch.covers(...this.middle(i));
    this.places.ask(f.n, f.live, f.patch.sources[0].value, asked);
  }

  private askGrain(f: FrameOf, alpha: Float32Array): void {
    const before = this.last;
    this.last = { n: f.n, live: f.live, mended: f.mended, alpha, together: f.together };
    if (before?.n !== f.n - 1 || this.pairs >= PAIRS) return;
    this.pairs++;
    this.grain.addFootage(before.live, f.live, (x, y) => {
      const i = this.cellAt(x, y);
      return f.together[i] <= 0 && before.together[i] <= 0 && !this.kept.get(f.n)!.visible[i];
    });
    this.grain.addPatch(before.mended, f.mended, (x, y) => {
      const i = this.cellAt(x, y);
      return alpha[i] >= COVERED && before.alpha[i] >= COVERED;
    });
  }
}
