import { signedArea } from "../shape/loop";
import { TRACK_MODELS, type TrackModel } from "../document/track";
import type { Gray } from "../motion/gray";
import { align, explainsMore, type Found, renewed } from "./align";
import { apart, type Homography, IDENTITY, inCoordinates, inverse, mapped, middleOf, normalised, type Place, shiftBy, times } from "./homography";
import { FREEDOM } from "./models";
import { coarser, type Pyramid, pyramidOf } from "./pyramid";
import { shinesThrough } from "./gloss";
import type { TrackedFrame } from "./track-data";
import { boxOf, type Template, templateIn, templateOf } from "./template";

/** What is said of a frame, and what is left of each sample as a rule. */
interface Verdict {
  /** Why the track stops; empty where it goes on. */
  why: string;
  /** Share of the region that something else lies over. */
  hidden: number;
  slow: { level: Found["level"]; left: Float64Array } | null;
}

/** Levels of the pyramid at most; the coarsest must still hold the region's structure. */
const LEVELS = 4;
const LEAST_SIDE = 6;
/** Likeness below which a track stops, and below which the region as it was last seen well is looked for as well. */
const LOST = 0.7;
const CHANGED = 0.85;
/** Likeness, against what is usual, of a place that it may have leapt to. */
const SURELY = 0.9;
/** Share of the region that may be hidden, 30 %: beyond four times what is usually left; a tenth of what hides looks like it by chance. */
const HIDDEN = 0.27;
const BEYOND = 4;
/** What is left at least counts for nothing, codes; and so does this share of the region's contrast: gloss and shade change as a thing turns. */
const LEAST_LEFT = 0.8;
const OF_CONTRAST = 0.08;
/** Pixels by which the way back may miss. */
const BACK = 0.5;
/** Samples on the second level from which that one will do for the way back. */
const TELLS_BACK = 200;
/** Share that may be hidden where a look is taken anew. */
const FREE = 0.15;
/** How quickly what is left of a sample becomes what is usual. */
const SLOWLY = 0.3;
/** Frames after which a look is taken anew that no longer is like the region. */
const STALE = 12;
/** Share of its size by which a region's form may change from one frame to the next. */
const AT_ONCE = 0.1;
/** Share of the region that must lie in the picture. */
const SEEN = 0.6;
/** A richer model is tried every so many frames, and where more is left than so many times what is usual. */
const EVERY = 4;
const AS_USUAL = 1.25;

const SIDES = { left: "on its left", right: "on its right", top: "at its top", bottom: "at its bottom", middle: "in its middle" };

/**
 * Follows a region through the frames of a take, one way: against how it looked at first, so that no error adds up; where it has changed
 * too much also against how it was last seen well. The model grows by itself as far as what is seen asks for it, or is given.
 */
export class Tracker {
  private readonly outline: Place[];
  private readonly first: Template;
  private readonly count: number;
  private readonly room: number;
  private again: Template | null = null;
  private map: Homography = IDENTITY;
  private before: Homography | null = null;
  private piece: { g: Gray; at: Homography; pyramid: Pyramid } | null = null;
  /** The piece of the last frame around the region there. */
  private last: Pyramid;
  private kind: number;
  /** What is usually left, codes, and what at least is no sign of anything; how alike the region usually is. */
  private usual = 0;
  private readonly least: number;
  private alike = 0;
  /** Of each sample what is left as a rule. */
  private readonly slow = new Map<Found["level"], Float64Array>();
  private renewedAt = 0;
  private ended = false;
  private frames = 0;
  private readonly models: readonly TrackModel[];
  /** Whether the model stays as it was given. */
  private readonly given: boolean;

  /**
   * @param g the picture the region was drawn on @param region its corners in take pixels, a pixel's middle at ½
   * @param model how it may change; without one, as little as explains what is seen @param avoid whether a place of the first picture takes no part
   * @param square whether pixels are as wide as high; where they are not, nothing changes by similarity, and `model` is none
   * @throws RangeError where it holds too little to follow
   */
  constructor(g: Gray, region: readonly Place[], model?: TrackModel, avoid?: (x: number, y: number) => boolean, square = true) {
    // what turns on a screen of wide pixels is sheared in samples
    this.models = TRACK_MODELS.filter((m) => square || m !== "similarity");
    this.outline = region.map(([x, y]): Place => [x - 0.5, y - 0.5]);
    const box = boxOf(this.outline);
    const side = Math.min(box.x1 - box.x0, box.y1 - box.y0);
    this.count = Math.max(1, Math.min(LEVELS, 1 + Math.floor(Math.log2(Math.max(1, side / LEAST_SIDE)))));
    this.room = Math.max(24, 0.5 * Math.max(box.x1 - box.x0, box.y1 - box.y0), 4 << this.count);
    const first = templateOf(g, this.outline, this.count, avoid && ((x, y) => avoid(x + 0.5, y + 0.5)));
    if (!first) throw new RangeError("The region is too small to be followed: draw it at least eight pixels wide and high, within the picture.");
    this.first = first;
    this.least = Math.max(LEAST_LEFT, OF_CONTRAST * first.levels[0].contrast);
    if (!this.holds(g)) throw new RangeError("The region is too plain to be followed: draw it around something that has corners or texture.");
    this.last = this.pyramid(g, IDENTITY);
    this.given = model !== undefined;
    this.kind = model ? this.models.indexOf(model) : 0;
  }

  /** Whether the region has enough structure to be found where it is. */
  private holds(g: Gray): boolean {
    const found = align([this.first], this.pyramid(g, IDENTITY), IDENTITY, "shift", 0);
    return !!found && found.ncc > LOST;
  }

  /** The piece of a picture around where the region is expected; the one made last where that will do. */
  private pyramid(g: Gray, at: Homography): Pyramid {
    const { piece } = this;
    if (piece?.g === g && apart(at, piece.at, this.outline) < this.room / 4) return piece.pyramid;
    const pyramid = pyramidOf(g, boxOf(this.cornersAt(at), this.room), this.count);
    this.piece = { g, at, pyramid };
    return pyramid;
  }

  /** Where a map puts the corners; one that it puts beyond the horizon stays. */
  private cornersAt = (map: Homography): Place[] => this.outline.map((p) => mapped(map, p) ?? p);

  /** What may be left of a region that is where it was found, codes. */
  private limit = (): number => AS_USUAL * Math.max(this.usual, this.least);

  /** Where the region goes if it moves on as it did; how it turned is not carried on, since that would feed on its own errors. */
  private expected(): Homography {
    const middle = middleOf(this.outline);
    const [was, is] = [mapped(this.before ?? this.map, middle), mapped(this.map, middle)];
    if (!was || !is || Math.hypot(is[0] - was[0], is[1] - was[1]) > this.room) return this.map;
    return times(shiftBy(is[0] - was[0], is[1] - was[1]), this.map);
  }

  /** The next frame, away from the first. After it has stopped it only says so. */
  next(g: Gray, f: number): TrackedFrame {
    if (this.ended) return { f, stopped: "the region was lost before" };
    this.frames++;
    let found = this.find(g);
    let verdict = this.doubt(found, g);
    if (verdict.why) {
      // it may have leapt: all places around are tried on the coarsest level
      for (const from of this.leaps(g)) {
        const there = this.fitted(this.templates(), g, from);
        if (!there || there.ncc < SURELY * (this.alike || 1)) continue;
        const second = this.doubt(there, g);
        if (second.why) continue;
        [found, verdict] = [there, second];
        break;
      }
    }
    if (!found || verdict.why) {
      this.ended = true;
      return { f, stopped: verdict.why };
    }
    if (verdict.slow) this.slow.set(verdict.slow.level, verdict.slow.left);
    this.before = this.map;
    this.map = found.map;
    this.last = this.pyramid(g, found.map);
    this.usual = this.usual ? this.usual + 0.1 * (Math.min(found.sigma, 2 * this.usual) - this.usual) : found.sigma;
    this.alike ||= found.ncc;
    const stale = !this.again || this.frames - this.renewedAt > STALE;
    // what passes before it is not to become what it looks like
    if (stale && verdict.hidden < FREE && found.ncc < CHANGED * this.alike && found.ncc > LOST) {
      if (this.again) this.slow.delete(this.again.levels[0]);
      this.again = renewed(this.first, this.pyramid(g, found.map), found.map);
      this.renewedAt = this.frames;
    }
    const quality = Math.max(0, Math.min(1, found.ncc));
    return { f, matrix: inCoordinates(found.map, 1, 0.5, 0.5), quality };
  }

  /** The model that what was seen so far has asked for. */
  get found(): TrackModel {
    return this.models[this.kind];
  }

  private templates = (): Template[] => (this.again ? [this.first, this.again] : [this.first]);

  private find(g: Gray): Found | null {
    const templates = this.templates();
    const starts = [this.expected(), this.map];
    let best: Found | null = null;
    for (const [i, from] of starts.entries()) {
      if (i && apart(from, starts[0], this.outline) < 0.25) continue;
      const found = this.fitted(templates, g, from);
      if (found && (!best || found.sigma < best.sigma)) best = found;
      if (best && best.ncc > 0.9 * (this.alike || 1) && best.sigma < this.limit()) return best;
    }
    return best;
  }

  /** Found with the model as it is, and with a richer one where that explains more. */
  private fitted(templates: Template[], g: Gray, from: Homography): Found | null {
    const pyramid = this.pyramid(g, from);
    let found = align(templates, pyramid, from, this.models[this.kind]);
    if (found && !this.sane(found.map)) found = null;
    // a rich model may run away where a plain one, on top of what is known, does not
    for (let kind = this.kind - 1; kind >= 0 && (!found || found.sigma > this.limit()); kind--) {
      const plain = align(templates, pyramid, from, this.models[kind]);
      if (plain && this.sane(plain.map) && (!found || plain.cost.squares / plain.cost.samples < found.cost.squares / found.cost.samples))
        found = plain;
    }
    if (this.given) return found;
    const asks = this.frames % EVERY === 0 || !found || found.sigma > AS_USUAL * Math.max(this.usual, this.least / 2);
    for (let kind = this.kind + 1; asks && kind < this.models.length; kind++) {
      const richer = align(templates, pyramid, found?.map ?? from, this.models[kind], found ? 0 : 1);
      if (!richer || !this.sane(richer.map)) continue;
      if (found && !explainsMore(richer, found, FREEDOM[this.models[kind]] - FREEDOM[this.models[this.kind]])) continue;
      found = richer;
      this.kind = kind;
    }
    return found;
  }

  /** Places to begin at, the likeliest first: where the region's coarsest level is most like what is there. */
  private leaps(g: Gray): Homography[] {
    const l = this.first.levels.length - 1;
    const t = this.first.levels[l];
    const wide = 2 * this.room;
    const p = pyramidOf(g, boxOf(this.cornersAt(this.map), wide), this.count);
    const level = p.levels[Math.min(l, p.levels.length - 1)];
    const step = t.step;
    const tries: { dx: number; dy: number; ncc: number }[] = [];
    const reach = Math.floor(wide / step);
    for (let j = -reach; j <= reach; j++)
      for (let i = -reach; i <= reach; i++) {
        let [n, st, ss, tt, vv, tv] = [0, 0, 0, 0, 0, 0];
        for (let k = 0; k < t.count; k += 1 + (t.count >> 8)) {
          const q = mapped(this.map, [t.x[k], t.y[k]]);
          if (!q) continue;
          const x = Math.round((q[0] + i * step - p.x0 + 0.5) / step - 0.5);
          const y = Math.round((q[1] + j * step - p.y0 + 0.5) / step - 0.5);
          if (x < 0 || y < 0 || x >= level.width || y >= level.height) continue;
          const [a, b] = [t.value[k], level.data[y * level.width + x]];
          n++;
          st += a;
          ss += b;
          tt += a * a;
          vv += b * b;
          tv += a * b;
        }
        if (n < 20) continue;
        const spread = (tt - (st * st) / n) * (vv - (ss * ss) / n);
        if (spread > 0) tries.push({ dx: i * step, dy: j * step, ncc: (tv - (st * ss) / n) / Math.sqrt(spread) });
      }
    tries.sort((a, b) => b.ncc - a.ncc);
    return tries.slice(0, 3).map(({ dx, dy }) => times(shiftBy(dx, dy), this.map));
  }

  /** Whether a region can have become this: neither folded nor blown up. */
  private sane(map: Homography): boolean {
    const points = this.outline.map((p) => mapped(map, p));
    if (points.some((p) => !p)) return false;
    const ratio = Math.abs(signedArea(points as Place[]) / signedArea(this.outline));
    return ratio > 0.02 && ratio < 50;
  }

  /** Why what was found is not believed; empty where it is. */
  private doubt(found: Found | null, g: Gray): Verdict {
    if (!found) return { why: "the region cannot be found any more", hidden: 0, slow: null };
    const { hidden, inside, slow } = this.overlaid(found);
    return { why: this.reason(found, g, hidden, inside), hidden: hidden.length / inside, slow };
  }

  /** Which of a region's samples something else lies over, of those within the picture. */
  private overlaid(found: Found) {
    const { level, left } = found;
    // what the model cannot explain stays and changes slowly; what hides the region comes at once
    const known = this.slow.get(level) ?? null;
    // of a look that is new nothing is known yet
    const fresh = !known && this.slow.size > 0;
    let inside = 0;
    const hidden: Place[] = [];
    const slow = Float64Array.from(left);
    const most = BEYOND * (known ? this.least : Math.max(this.usual || found.sigma, this.least));
    let lit: Uint8Array | null = null;
    for (let k = 0; k < level.count; k++) {
      if (Number.isNaN(left[k])) continue;
      inside++;
      const usually = known && !Number.isNaN(known[k]) ? known[k] : 0;
      const far = Math.abs(left[k] - usually) > most && !(lit ??= shinesThrough(level, left, most / 2))[k];
      slow[k] = far && known ? usually : usually + (known ? SLOWLY : 1) * (left[k] - usually);
      if (!far || fresh) continue;
      hidden.push([level.x[k], level.y[k]]);
    }
    return { hidden, inside, slow: { level, left: slow } };
  }

  private reason(found: Found, g: Gray, hidden: Place[], inside: number): string {
    const { level } = found;
    const off = hidden.length;
    if (!this.sane(found.map)) return "the region folds over or turns away";
    if (inside < SEEN * level.count) return `the region leaves the picture ${this.sideOf(found.map, g)}`;
    if (off > HIDDEN * inside) return `something hides it ${SIDES[this.where(hidden)]}`;
    if (found.ncc < LOST * Math.min(1, (this.alike || 1) / 0.95))
      return hidden.length > 0.15 * inside ? `something hides it ${SIDES[this.where(hidden)]}` : "it does not look like itself any more";
    if (this.changeOfForm(found.map) > AT_ONCE)
      return off > 0.1 * inside ? `something hides it ${SIDES[this.where(hidden)]}` : "its form would change at once";
    return this.missesBack(found, g) ? "the way back does not lead to where it was" : "";
  }

  /** How far corners have gone beside the middle since the last frame, as a share of the region's size. */
  private changeOfForm(map: Homography): number {
    const [now, was] = [this.cornersAt(map), this.cornersAt(this.map)];
    const by = now.map(([x, y], i): Place => [x - was[i][0], y - was[i][1]]);
    const mean = middleOf(by);
    const box = boxOf(was);
    return Math.max(...by.map(([x, y]) => Math.hypot(x - mean[0], y - mean[1]))) / Math.hypot(box.x1 - box.x0, box.y1 - box.y0);
  }

  /** On which side of the picture the region goes out. */
  private sideOf(map: Homography, g: Gray): string {
    const box = boxOf(this.cornersAt(map));
    const out = { left: -box.x0, right: box.x1 - g.width, top: -box.y0, bottom: box.y1 - g.height };
    return SIDES[Object.entries(out).sort((a, b) => b[1] - a[1])[0][0] as keyof typeof SIDES].replace("its", "the");
  }

  /** Where in the region some of its samples lie. */
  private where(points: Place[]): keyof typeof SIDES {
    const box = boxOf(this.outline);
    const mean = (k: 0 | 1) => points.reduce((s, p) => s + p[k], 0) / Math.max(1, points.length);
    const x = (2 * (mean(0) - box.x0)) / (box.x1 - box.x0) - 1;
    const y = (2 * (mean(1) - box.y0)) / (box.y1 - box.y0) - 1;
    if (Math.max(Math.abs(x), Math.abs(y)) < 0.15) return "middle";
    return Math.abs(x) > Math.abs(y) ? (x < 0 ? "left" : "right") : y < 0 ? "top" : "bottom";
  }

  /** Forward and back (Kalal, Mikolajczyk & Matas 2010): from here the region as it is now is looked for in the frame before. */
  private missesBack(found: Found, g: Gray): boolean {
    const back = inverse(found.map);
    const now = this.outline.map((p) => mapped(found.map, p)) as Place[];
    // half a pixel is told on the second level as well, at a quarter of the work
    const rough = (this.first.levels[1]?.count ?? 0) >= TELLS_BACK ? coarser : (p: Pyramid) => p;
    const template = back && templateIn(rough(this.pyramid(g, found.map)), now);
    if (!template) return false;
    const step = normalised(times(this.map, back));
    if (!step) return false;
    // a pixel off, so that the way back has to be found
    const start = times(shiftBy(1, -1), step);
    const there = align([template], rough(this.last), start, this.models[Math.min(this.kind, 1)], 1, false);
    return !!there && apart(there.map, step, [middleOf(now)]) > BACK;
  }
}
