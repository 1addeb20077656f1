import type { Frame, Rect } from "../pixels/frame";
import { nth } from "../motion/gray";
import type { Alignment } from "../motion/register";
import { gridOf, grown, pieces } from "../plate/regions";
import type { Point } from "../document/geometry";
import { convexHull } from "../shape/hull";
import { Colours, EVEN } from "./colours";
import { boundsOf, type Cut, cutOf, heightOf, middleOf, signedDistance, widthOf } from "./cut";
import type { Ground, Sight } from "./ground";
import { divided } from "./divide";
import { hides } from "./hides";
import { groundDensities, likelier, type Tint } from "./likely";
import { laid, movement } from "./movement";
import { lines, mayBeWire, type Sign, wireIn, wireTells } from "./wire";
import { addDepth, asShade, type Depth, depthOf, shadeTells, tintOf } from "./shade";

/** Standard deviations from which a pixel is something and not the ground. */
const SOMETHING = 3.5;
/** Pixels beyond the outline by which a rough one may miss. */
const ROUGH = 6;
/** Pixels a thing may grow or bend by from frame to frame, beside its own movement; and by which it may move otherwise than expected. */
const REACH = 32;
const LEAP = 64;
/** Nats by which a pixel's place tells for or against the thing: for each pixel away from its expected rim, after some, and at most. */
const PLACE = { slope: 0.5, free: 3, inside: 3, outside: 9 };
/** Nats against what was something else before, where it looks as it did then: codes of all planes together. */
const ANOTHER = 5;
const ALIKE = 24;
/** Of the standard deviations by which so much of the thing differs at most from the ground, the share by which a pixel has to. */
const CLEAR = { of: 0.75, share: 0.2 };
/** Shares of a colour that lie within the outline, of what is joined to it: between them it becomes the thing's. */
const MOSTLY = { none: 0.45, all: 0.7 };
/** What is joined to the thing beyond the outline has this against it: nats. */
const BEYOND = 1;
/** Holes and specks of fewer pixels are noise. */
const SPECK = 40;
/** Holes of up to so much of a thing are none, where three quarters of their pixels lie off the ground by so many standard deviations: half may be rim. */
const HOLE = { share: 0.1, off: 1.5 };
/** The share of a frame's own colours in what is known of the thing, and of those it was outlined with. */
const NEW = 0.08;
const FIRST = 0.05;
/** Densities, per code cubed, below which a pixel is neither ground nor shade. */
const NEITHER = 1e-7;
/** The share of a thing below which most of it is gone, and that of its place that has to look like it where it rests. */
const GONE = 0.5;
const RESTS = 0.4;
/** Nats that a step in the matte of a wire costs: it has many for its size. */
const WIRE_STEP = 0.75;
/** Rounds of learning the colours of what was outlined and cutting it out by them (Rother et al. 2004). */
const ROUNDS = 3;

/** The pixels of a thing that was outlined on one frame, from frame to frame. */
export class Cutter {
  private readonly first = new Colours();
  private thing = new Colours();
  private readonly outline: Uint8Array;
  /** Whether that is the thing itself, to the pixel. */
  private readonly exact: boolean;
  /** Of a shadow. */
  private depth: Depth | null = null;
  private tint: Tint | null = null;
  /** Where it is a wire: whether it is lighter or darker than what it hangs before. */
  private wire: Sign | null = null;
  private last: Cut | null = null;
  /** Pixels by which it moved before the last frame. */
  pace: [number, number] = [0, 0];
  /** Pixels of it where most of it was seen. */
  private largest = 0;
  /** Pixels within the outline where the ground's plate shows the thing itself, so that it does not differ from it. */
  private hidden = 0;
  /** The corners of a place where the thing was on the last frame and is taken for the ground, since it rests there for long; else null. */
  rests: Point[] | null = null;

  /**
   * @param outline in pixels, on the frame that is given first; or the thing there itself, 1 at every pixel of it
   * @param others colours of whatever passes in the take, the thing itself among them
   * @param shadow whether it is a shadow that was outlined
   */
  constructor(
    private readonly ground: Ground,
    outline: readonly (readonly number[])[] | Uint8Array,
    private readonly others: Colours,
    private readonly shadow = false,
  ) {
    this.exact = outline instanceof Uint8Array;
    this.outline = outline instanceof Uint8Array ? outline.slice() : gridOf(outline, ground.width, ground.height, 1).data;
  }

  /** The frame the outline is of, and then those that follow it one way. @param a how it lies against the ground's plate */
  next(frame: Frame, a?: Alignment): Cut {
    const cut = this.last ? this.followed(frame, this.last, a) : this.begun(frame, a);
    // where it is not seen, it may come back where it was seen last
    if (!this.last || cut.inside.includes(1)) this.last = cut;
    return cut;
  }

  /** The outlined thing with what is joined to it. */
  private begun(frame: Frame, a?: Alignment): Cut {
    const { width, height } = this.ground;
    const rect = { x0: 0, y0: 0, x1: width, y1: height };
    const { sight, tells: known } = this.look(frame, rect, a);
    const { outline } = this;
    if (this.exact) return this.begunAs(cutOf(rect, outline.slice(), sight));
    const room = grown({ width, height, data: outline }, ROUGH).data;
    if (!this.shadow) this.guess(sight);
    const candidate = (i: number) => sight.z[i] > SOMETHING || outline[i] === 1;
    let inside: Uint8Array = new Uint8Array(outline.length);
    for (let round = 0; round < (this.shadow ? 1 : ROUNDS); round++) {
      const tells = known ?? this.tellsOf(sight);
      for (let i = 0; i < tells.length; i++) if (!room[i]) tells[i] -= BEYOND;
      inside = touching(divided(sight, candidate, tells), width, height, outline);
      if (this.shadow || !inside.includes(1)) break;
      this.thing = coloursOf(cutOf(rect, inside, sight));
    }
    if (this.shadow) this.depth = depthOf(sight.seen[0], inside);
    else {
      const wire = wireIn(sight, outline, inside);
      this.wire = wire && wire.sign;
      if (wire)
        inside = touching(
          divided(sight, (i) => mayBeWire(wire.line[i]), wireTells(wire.line), WIRE_STEP),
          width,
          height,
          outline,
        );
    }
    this.first.mix(this.thing, 1);
    this.largest = count(inside);
    this.hidden = this.shadow || !this.thing.total ? 0 : hides(sight, outline, this.thing, SOMETHING);
    return cutOf(rect, tidied(inside, width, height, sight.z), sight);
  }

  /** What is known to be the thing, with what it tells of it. */
  private begunAs(cut: Cut): Cut {
    if (this.shadow) this.depth = depthOf(cut.sight.seen[0], cut.inside);
    else this.thing = coloursOf(cut);
    this.first.mix(this.thing, 1);
    this.largest = count(cut.inside);
    return cut;
  }

  /** Whether what was outlined is followed as a wire. */
  get isWire(): boolean {
    return !!this.wire;
  }

  /** Whether more of it than was found looks like the plate, which shows it there. */
  get isHidden(): boolean {
    return this.hidden > this.largest;
  }

  /** Another one that is as far as this one, to go on from here the other way. */
  fork(): Cutter {
    const other = new Cutter(this.ground, [], this.others, this.shadow);
    other.outline.set(this.outline);
    other.first.mix(this.first, 1);
    other.thing.mix(this.thing, 1);
    [other.last, other.pace, other.largest] = [this.last, this.pace, this.largest];
    [other.depth, other.tint, other.wire] = [this.depth, this.tint, this.wire];
    return other;
  }

  /** The thing where it has gone from where it was. */
  private followed(frame: Frame, was: Cut, a?: Alignment): Cut {
    const { width, height } = this.ground;
    const { sight, tells: known } = this.look(frame, this.around(was), a);
    const line = this.wire && lines(sight, this.wire);
    const tells = known ?? (line ? wireTells(line) : this.tellsOf(sight));
    const { rect } = sight;
    const [w, h] = [widthOf(rect), heightOf(rect)];
    const shift = movement(was, sight, tells, this.pace);
    const expected = laid(was, shift, rect, width, height);
    const away = signedDistance(expected, w, h, REACH);
    const candidate = (i: number) => away[i] < REACH && (line ? mayBeWire(line[i]) : sight.z[i] > SOMETHING || away[i] < 2);
    for (let i = 0; i < tells.length; i++) {
      tells[i] += byPlace(away[i]);
      if (!line && away[i] > 1 && sight.z[i] > SOMETHING && wasAnother(was, sight, i)) tells[i] -= ANOTHER;
    }
    const inside = tidied(touching(divided(sight, candidate, tells, line ? WIRE_STEP : undefined), w, h, expected), w, h, sight.z);
    const cut = cutOf(rect, inside, sight);
    const [size, awaited] = [count(inside), count(expected)];
    // what has shrunk for long leaves the picture
    const gone = size < GONE * awaited && awaited > GONE * this.largest;
    this.largest = Math.max(this.largest, size);
    this.rests = gone && !this.shadow && !this.wire ? this.restingPlace(was, sight) : null;
    if (inside.includes(1)) {
      this.pace = shift;
      this.relearn(cut);
    }
    return cut;
  }

  /** A part of a frame beside the ground; of a shadow as the shadow itself, with what tells for it by its colours. */
  private look(frame: Frame, rect: Rect, a?: Alignment): { sight: Sight; tells?: Float32Array } {
    const sight = this.ground.look(frame, rect, a);
    if (!this.shadow) return { sight };
    this.tint ??= tintOf(sight, this.ground, this.outline);
    const [shade, tells] = [asShade(sight, this.ground.pivots), shadeTells(sight, this.ground, this.others, this.tint)];
    if (this.depth) addDepth(tells, shade.seen[0], this.depth);
    return { sight: shade, tells };
  }

  /** Where the thing can be on the next frame. */
  private around(was: Cut): Rect {
    const { width, height } = this.ground;
    const b = boundsOf(was) ?? { x0: 0, y0: 0, x1: width, y1: height };
    const pad = LEAP + REACH;
    return { x0: Math.max(0, b.x0 - pad), y0: Math.max(0, b.y0 - pad), x1: Math.min(width, b.x1 + pad), y1: Math.min(height, b.y1 + pad) };
  }

  /** Its colours change slowly, and never become quite others than those it was outlined with. */
  private relearn(cut: Cut): void {
    if (this.shadow || this.wire) return;
    const now = coloursOf(cut);
    if (now.total < SPECK) return;
    this.thing.mix(now, NEW);
    this.thing.mix(this.first, FIRST);
  }

  /** Its colours before anything is cut out: of what lies within the outline those that go on beyond it no farther than it reaches itself. */
  private guess(s: Sight): void {
    const { outline } = this;
    const { width, height } = this.ground;
    const [within, beyond] = [new Colours(), new Colours()];
    const inside: number[] = [];
    for (const piece of pieces({ width, height, data: Uint8Array.from(s.z, (z) => (z > SOMETHING ? 1 : 0)) })) {
      if (!piece.some((i) => outline[i])) continue;
      for (const i of piece) {
        learn(outline[i] ? within : beyond, s, i);
        if (outline[i]) inside.push(i);
      }
    }
    const clear = clearly(s, inside);
    for (const i of inside) {
      if (s.z[i] < clear) continue;
      const [a, b, c] = [s.seen[0][i], s.seen[1][i], s.seen[2][i]];
      const [own, others] = [within.total * within.at(a, b, c), beyond.total * beyond.at(a, b, c)];
      const share = own / (own + others);
      learn(this.thing, s, i, Math.min(1, Math.max(0.01, (share - MOSTLY.none) / (MOSTLY.all - MOSTLY.none))) * (this.isShade(s, i) ? 0.2 : 1));
    }
  }

  private isShade(s: Sight, i: number): boolean {
    const w = widthOf(s.rect);
    if (s.known && !s.known[i]) return false;
    const [spread, there] = [new Float64Array(3), new Float64Array(2)];
    s.spreadAt(s.rect.x0 + (i % w), s.rect.y0 + Math.floor(i / w), spread);
    groundDensities(s, i, spread, this.ground.pivots, there);
    return Math.max(...there) > NEITHER;
  }

  /** The corners of the place near by where the ground itself looks like the thing and the frame like the ground; null where there is none. */
  private restingPlace(was: Cut, sight: Sight): Point[] | null {
    const { ground, z, rect } = sight;
    const [a, b, c] = ground;
    const tells = new Float32Array(z.length);
    for (let i = 0; i < tells.length; i++) {
      const other = Math.max(EVEN, this.others.total ? this.others.at(a[i], b[i], c[i]) : 0);
      tells[i] = z[i] < SOMETHING ? Math.log(this.thing.at(a[i], b[i], c[i]) / other) : -1;
    }
    const shift = movement(was, { ...sight, seen: ground }, tells, [0, 0]);
    const area = laid(was, shift, rect, this.ground.width, this.ground.height);
    let [all, like] = [0, 0];
    for (let i = 0; i < area.length; i++) {
      if (!area[i]) continue;
      all++;
      if (tells[i] > 0) like++;
    }
    return all > 0 && like > RESTS * all ? cornersOf(rect, area) : null;
  }

  private tellsOf(s: Sight): Float32Array {
    return likelier(s, this.ground, this.thing, this.others);
  }
}

/** How many pixels are inside. */
const count = (inside: Uint8Array): number => inside.reduce((n, v) => n + v, 0);

/** The colours of a cut, its rim left out. */
function coloursOf({ rect, away, sight }: Cut): Colours {
  const [w, h] = [widthOf(rect), heightOf(rect)];
  const middle = middleOf(away, w, h, 1.5);
  const list: number[] = [];
  for (let i = 0; i < middle.length; i++) if (middle[i] && sight.z[i] > SOMETHING) list.push(i);
  const clear = clearly(sight, list);
  const out = new Colours();
  for (const i of list) if (sight.z[i] > clear) learn(out, sight, i);
  return out;
}

/** How far pixels have to differ from the ground for their colours to be learned: what a codec leaves behind a thing differs much less than it. */
function clearly({ z }: Sight, list: readonly number[]): number {
  const most = list.length
    ? nth(
        Float32Array.from(list, (i) => z[i]),
        Math.floor(CLEAR.of * list.length),
      )
    : 0;
  return Math.max(SOMETHING, CLEAR.share * most);
}

const learn = (into: Colours, { seen }: Sight, i: number, weight = 1) => into.add(seen[0][i], seen[1][i], seen[2][i], weight);

/** The corners of an area, take pixels. */
function cornersOf(rect: Rect, area: Uint8Array): Point[] {
  const w = widthOf(rect);
  const points: Point[] = [];
  for (let i = 0; i < area.length; i++)
    if (area[i] && !(area[i - 1] && area[i + 1])) points.push([rect.x0 + (i % w) + 0.5, rect.y0 + Math.floor(i / w) + 0.5]);
  return convexHull(points);
}

/** Nats for the thing by the distance from its expected rim. */
function byPlace(away: number): number {
  const beyond = Math.abs(away) - PLACE.free;
  if (beyond <= 0) return 0;
  return away > 0 ? -Math.min(PLACE.outside, PLACE.slope * beyond) : Math.min(PLACE.inside, PLACE.slope * beyond);
}

/** Whether something else was seen at a pixel before, and looks the same now. */
function wasAnother(was: Cut, now: Sight, i: number): boolean {
  const w = widthOf(now.rect);
  const [x, y] = [now.rect.x0 + (i % w) - was.rect.x0, now.rect.y0 + Math.floor(i / w) - was.rect.y0];
  const w0 = widthOf(was.rect);
  if (x < 0 || y < 0 || x >= w0 || y >= heightOf(was.rect)) return false;
  const k = y * w0 + x;
  if (was.inside[k] || was.sight.z[k] < SOMETHING) return false;
  let off = 0;
  for (let p = 0; p < 3; p++) off += Math.abs(was.sight.seen[p][k] - now.seen[p][i]);
  return off < ALIKE;
}

/** The pieces of what is inside that touch some other area with a good part of theirs, or of it. */
function touching(inside: Uint8Array, width: number, height: number, area: Uint8Array): Uint8Array {
  const out = new Uint8Array(inside.length);
  const room = count(area);
  for (const piece of pieces({ width, height, data: inside })) {
    let shared = 0;
    for (const i of piece) shared += area[i];
    if (shared >= 0.1 * Math.min(piece.length, room)) for (const i of piece) out[i] = 1;
  }
  return out;
}

/** Without specks, small holes, and larger ones through which it is not quite the ground that is seen: parts of the thing look much like it. */
function tidied(inside: Uint8Array, width: number, height: number, z: Float32Array): Uint8Array {
  const out = inside.slice();
  const most = HOLE.share * count(inside);
  for (const hole of pieces({ width, height, data: inside.map((v) => 1 - v) })) {
    const filled = hole.length < SPECK || (hole.length < most && nth(Float32Array.from(hole, (i) => z[i]), hole.length >> 2) > HOLE.off); // prettier-ignore
    if (filled) for (const i of hole) out[i] = 1;
  }
  for (const speck of pieces({ width, height, data: out })) if (speck.length < SPECK) for (const i of speck) out[i] = 0;
  return out;
}
