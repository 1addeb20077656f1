import type { TrackModel } from "../document/track";
import { type Gray, median } from "../motion/gray";
import { findTile, type Tile, tileAt } from "../motion/tiles";
import { align, explainsMore, type Found } from "./align";
import { apart, type Homography, inCoordinates, mapped, middleOf, type Place } from "./homography";
import { FREEDOM } from "./models";
import { pyramidOf } from "./pyramid";
import { boxOf, type Template, templateOf, within } from "./template";

/** Levels of the pyramid: the camera says where it is to a few pixels. */
const LEVELS = 3;
/** Pixels around the region that are looked at. */
const ROOM = 24;
/** Likeness from which what lies round a place is believed; pixels by which it may lie beside where the camera puts it. */
const ALIKE = 0.7;
const BESIDE = 1.5;
/** The same at its corners, which a shutter that rolls moves farther. */
const CORNERS_BESIDE = 4;
/** Contrast on the second level below which there is nothing to go by, codes. */
const CONTRAST = 1.5;
/** Pieces that are asked one by one: their size and how far apart they lie, pixels; how firm they are, as in the survey. */
const PIECE = 20;
const APART = 24;
const FIRM = 0.4 * PIECE * PIECE;
/** How firm they are at least for each square of what is left between two frames: slopes of noise come to half of that. */
const OVER_NOISE = 1.9 * PIECE * PIECE;
/** Pixels by which a piece may lie beside the fit; the share that must not, and the least number that can tell. */
const OFF = 0.25;
const AGREE = 0.7;
const FEW = 4;
/** What the camera leaves is little: a shift, and what a shutter that rolls down the picture shears and stretches. */
const MODELS: TrackModel[] = ["shift", "affine"];

/** What of a frame was found round a place. */
export interface RoundFit {
  /** From the first picture to this one, take pixels, a pixel's middle at ½. */
  matrix: Homography;
  /** How alike it is, 0–1. */
  quality: number;
}

/**
 * What lies round a place, fitted by itself to where the whole picture's movement puts it (efficient second-order minimisation, Benhimane &
 * Malis 2004): a hand's shake, a shutter that rolls and depth make it lie a little elsewhere than the whole picture would have it.
 */
export class Round {
  private readonly corners: Place[];
  private readonly template: Template;
  private readonly pieces: Tile[];

  /**
   * @param g the picture it leads from @param region what lies round the place, corners in take pixels, a pixel's middle at ½
   * @param avoid whether a place of that picture is to have no say: what comes and goes within
   * @throws RangeError where too little of it is left, or that is too plain
   */
  constructor(g: Gray, region: readonly Place[], avoid: (x: number, y: number) => boolean) {
    this.corners = region.map(([x, y]): Place => [x - 0.5, y - 0.5]);
    const template = templateOf(g, this.corners, LEVELS, (x, y) => avoid(x + 0.5, y + 0.5));
    if (!template || template.levels[0].step > 1) throw new RangeError("Too little is left round the place to be fitted.");
    this.template = template;
    // noise is like itself as well: what is left of it on the second level is not
    if (template.levels.length < 2 || template.levels[1].contrast < CONTRAST)
      throw new RangeError("What lies round the place is too plain to be fitted.");
    this.pieces = this.piecesOf(g, avoid);
    if (this.pieces.length < FEW) throw new RangeError("What lies round the place is too plain to be fitted.");
  }

  private fit(g: Gray, from: Homography, model: TrackModel): Found | null {
    return align([this.template], pyramidOf(g, boxOf(this.there(from), ROOM), LEVELS), from, model);
  }

  private there = (map: Homography): Place[] => this.corners.map(([x, y]) => [map[0] * x + map[1] * y + map[2], map[3] * x + map[4] * y + map[5]]);

  /**
   * Where it is in a picture.
   * @param camera where the whole picture's movement puts it: an affine map in take pixels, a pixel's middle at ½
   * @returns null where nothing there is enough like it, or lies too far from there to be it
   */
  at(g: Gray, camera: Homography): RoundFit | null {
    const from = inCoordinates(camera, 1, -0.5, -0.5);
    const [plain, rich] = MODELS.map((model) => this.fit(g, from, model));
    const better = plain && rich && explainsMore(rich, plain, FREEDOM[MODELS[1]] - FREEDOM[MODELS[0]]);
    const found = better && apart(rich.map, plain.map, this.corners) < CORNERS_BESIDE ? rich : plain;
    if (!found || found.ncc < ALIKE || apart(found.map, from, [middleOf(this.corners)]) > BESIDE) return null;
    if (apart(found.map, from, this.corners) > CORNERS_BESIDE) return null;
    if (!this.agrees(g, found)) return null;
    return { matrix: inCoordinates(found.map, 1, 0.5, 0.5), quality: Math.min(1, found.ncc) };
  }

  private piecesOf(g: Gray, avoid: (x: number, y: number) => boolean): Tile[] {
    const { x0, y0, x1, y1 } = boxOf(this.corners);
    const ends = [0, PIECE / 2, PIECE];
    const out: Tile[] = [];
    for (let y = Math.max(2, y0); y + PIECE <= Math.min(g.height - 2, y1); y += APART)
      for (let x = Math.max(2, x0); x + PIECE <= Math.min(g.width - 2, x1); x += APART) {
        const free = ends.every((j) => ends.every((i) => within(this.corners, x + i - 0.5, y + j - 0.5) && !avoid(x + i, y + j)));
        const t = free ? tileAt(g, x, y, PIECE) : null;
        if (t && t.hold > FIRM) out.push(t);
      }
    return out;
  }

  /** Whether most of it lies there piece by piece: what moves by itself before it, or in it, would pull the fit along. */
  private agrees(g: Gray, { map, left }: Found): boolean {
    const noise = 1.4826 * median(left.filter((r) => r === r).map(Math.abs));
    const pieces = this.pieces.filter((t) => t.hold > OVER_NOISE * noise * noise);
    if (pieces.length < FEW) return false;
    const there = pieces.filter((t) => {
      const middle: Place = [t.x + PIECE / 2 - 0.5, t.y + PIECE / 2 - 0.5];
      const to = mapped(map, middle);
      const [dx, dy] = to ? [to[0] - middle[0], to[1] - middle[1]] : [NaN, NaN];
      const found = to && findTile(t, g, dx, dy);
      return found && found.ncc > 0.5 && Math.hypot(found.dx - dx, found.dy - dy) < OFF;
    });
    return there.length >= AGREE * pieces.length;
  }
}
