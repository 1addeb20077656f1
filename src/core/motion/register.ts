import { type Gray, median, nth } from "./gray";
import { phaseCorrelate, windowed } from "./phase";
import type { Spectrum } from "./fft";
import { type Ground, groundOf, groundShifts } from "./ground";
import { composed, isFar, straightened } from "./straighten";
import { chooseTiles, findTile, type Tile } from "./tiles";

/**
 * How a picture lies against its reference: reference point p is found at c + scale·R(angle)·(p − c) + (dx, dy), c the
 * picture's centre, angle in degrees clockwise. It is what a layer's place takes to lay the reference over the picture.
 */
export interface Alignment {
  dx: number;
  dy: number;
  angle: number;
  scale: number;
  /** Share of the tiles that agree with it, 0–1. */
  agree: number;
}

export interface Reference {
  width: number;
  height: number;
  tiles: Tile[];
  ground: Ground;
  coarse: { k: number; spectrum: Spectrum };
}

/** Share of the tiles that must agree: of less, chance finds as much in two pictures that have nothing in common. */
const LEAST_AGREE = 0.2;
/** Of so few tiles a share says nothing: so many of them must agree. */
const LEAST_TILES = 4;
/** Below this share another start is tried. */
const SURE = 0.25;
/** How far a fit may move a corner from where its tiles were looked for, in pixels: beyond it, they are looked for once more from there. */
const LOOK_AGAIN = 1;
/** Times that tiles are looked for again: each time those farther out come within reach. */
const LOOKS = 6;

/** The coarse picture has at most this many pixels across. */
const COARSE = 256;

function coarseOf(g: Gray, k: number): Spectrum {
  const w = Math.floor(g.width / k);
  const h = Math.floor(g.height / k);
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let j = 0; j < k; j++) {
        const row = (y * k + j) * g.width + x * k;
        for (let i = 0; i < k; i++) s += g.data[row + i];
      }
      data[y * w + x] = s;
    }
  return windowed({ width: w, height: h, data });
}

/** Prepares the picture that others are measured against. Tiles whose middle `avoid` names are left out. */
export function referenceOf(g: Gray, avoid?: (x: number, y: number) => boolean): Reference {
  const k = Math.max(1, Math.ceil(Math.max(g.width, g.height) / COARSE));
  const tiles = chooseTiles(g).filter((t) => !avoid?.(t.x + t.size / 2, t.y + t.size / 2));
  return { width: g.width, height: g.height, tiles, ground: groundOf(g), coarse: { k, spectrum: coarseOf(g, k) } };
}

const at = (a: Alignment, x: number, y: number, cx: number, cy: number): [number, number] => {
  const r = (a.angle * Math.PI) / 180;
  const [c, s] = [Math.cos(r) * a.scale, Math.sin(r) * a.scale];
  return [cx + c * (x - cx) - s * (y - cy) + a.dx, cy + s * (x - cx) + c * (y - cy) + a.dy];
};

interface Found {
  x: number;
  y: number;
  dx: number;
  dy: number;
}

/** How far apart two alignments put the corners of a picture, in pixels. */
function cornersApart(a: Alignment, b: Alignment, width: number, height: number): number {
  const corners = [0, width].flatMap((x) => [0, height].map((y) => [x, y]));
  return Math.max(
    ...corners.map(([x, y]) => {
      const [ax, ay] = at(a, x, y, width / 2, height / 2);
      const [bx, by] = at(b, x, y, width / 2, height / 2);
      return Math.hypot(ax - bx, ay - by);
    }),
  );
}

/** The fit of tiles looked for from `start`; from a fit that lies elsewhere they are looked for again, as long as more of them agree. */
function soughtFrom(ref: Reference, g: Gray, start: Alignment, plain: boolean): Alignment | null {
  let fit = fitted(ref, seek(ref, g, start), plain);
  let from = start;
  for (let look = 0; fit && look < LOOKS && cornersApart(fit, from, ref.width, ref.height) > LOOK_AGAIN; look++) {
    const next = fitted(ref, seek(ref, g, fit), plain);
    if (!next || next.agree < fit.agree) break;
    [from, fit] = [fit, next];
  }
  return fit;
}

/**
 * Shift, and where the tiles bear it out a small rotation and scale, of `g` against the reference. Robust against what
 * moves in the picture: each tile votes, and votes away from the majority lose their weight (Tukey's biweight).
 * Starts from `guess` (the frame before, else where the reference is) and from phase correlation where that does not hold.
 * @returns null when fewer than a fifth of the tiles agree on anything
 */
export function register(ref: Reference, g: Gray, guess?: Alignment, plain = false): Alignment | null {
  if (!plain && guess && isFar(guess)) {
    const rest = register(ref, straightened(g, guess));
    if (rest) return composed(guess, rest);
  }
  let fit = soughtFrom(ref, g, guess ?? { dx: 0, dy: 0, angle: 0, scale: 1, agree: 0 }, plain);
  if (!fit || fit.agree < SURE) {
    const { dx, dy } = phaseCorrelate(ref.coarse.spectrum, coarseOf(g, ref.coarse.k));
    const second = soughtFrom(ref, g, { dx: dx * ref.coarse.k, dy: dy * ref.coarse.k, angle: 0, scale: 1, agree: 0 }, plain);
    if (second && (!fit || second.agree > fit.agree)) fit = second;
  }
  if (!fit || fit.agree < LEAST_AGREE || fit.agree * ref.tiles.length < Math.min(LEAST_TILES, ref.tiles.length)) return null;
  return groundStands(ref, g, fit) ? { dx: 0, dy: 0, angle: 0, scale: 1, agree: fit.agree } : fit;
}

/** Up to here, in pixels at the corners, a camera counts as standing, and nobody asks the ground. */
const STANDS = 0.12;
/** By how much one account of the ground's shifts must beat the other, in halves of a log likelihood: 12 is one chance in four hundred. */
const CONTRADICTS = 12;
/** Most that one region counts, so that a thing in it does not decide; and the least that its shift is held uncertain, pixels. */
const MOST = 9;
const LEAST_ERROR = 0.05;
/** Share of a shift by which one step of least squares may miss it. */
const MISSES = 0.15;
/** Share of the picture that what agrees must span between its middles to be the camera, where the ground is too plain to say anything. */
const SPANS = 0.35;

/**
 * Whether what the tiles found is a thing that moves before a ground that stands: the sharp parts of a picture may all belong to it. The
 * ground beside them is asked; where it is too plain to answer, they must span enough of the picture to be all of it.
 */
function groundStands(ref: Reference, g: Gray, fit: Alignment): boolean {
  const none = { dx: 0, dy: 0, angle: 0, scale: 1, agree: 0 };
  if (cornersApart(fit, none, ref.width, ref.height) <= STANDS) return false;
  const [cx, cy] = [ref.width / 2, ref.height / 2];
  const mine = ref.tiles.filter((t) => {
    const [mx, my] = [t.x + t.size / 2, t.y + t.size / 2];
    const [qx, qy] = at(fit, mx, my, cx, cy);
    const f = findTile(t, g, qx - mx, qy - my);
    return f && f.ncc > 0.5 && Math.hypot(f.dx - (qx - mx), f.dy - (qy - my)) < 1;
  });
  // what speaks for a ground that stands, in all, and of that what lies beside the tiles that agree
  let [stands, beside] = [0, 0];
  const by = (x: number, y: number): [number, number] => {
    const [qx, qy] = at(fit, x, y, cx, cy);
    return [qx - x, qy - y];
  };
  for (const r of groundShifts(ref.ground, g, by)) {
    const [qx, qy] = at(fit, r.x, r.y, cx, cy);
    const e2 = r.error ** 2 + LEAST_ERROR ** 2 + MISSES ** 2 * ((qx - r.x) ** 2 + (qy - r.y) ** 2);
    const follows = Math.min(MOST, ((r.dx - qx + r.x) ** 2 + (r.dy - qy + r.y) ** 2) / e2);
    const stays = Math.min(MOST, (r.dx ** 2 + r.dy ** 2) / e2);
    stands += follows - stays;
    const near = (t: Tile) => Math.abs(t.x + t.size / 2 - r.x) < (r.width + t.size) / 2 && Math.abs(t.y + t.size / 2 - r.y) < (r.height + t.size) / 2;
    if (!mine.some(near)) beside += follows - stays;
  }
  if (beside > CONTRADICTS || (beside > 0 && stands > CONTRADICTS)) return true;
  if (beside < 0 && stands < -CONTRADICTS) return false;
  const xs = mine.map((t) => t.x);
  const ys = mine.map((t) => t.y);
  const spans = (Math.max(...xs) - Math.min(...xs)) * (Math.max(...ys) - Math.min(...ys));
  return spans < SPANS * ref.width * ref.height;
}

function seek(ref: Reference, g: Gray, guess: Alignment): Found[] {
  const [cx, cy] = [ref.width / 2, ref.height / 2];
  return ref.tiles.flatMap((t) => {
    const [mx, my] = [t.x + t.size / 2, t.y + t.size / 2];
    const [qx, qy] = at(guess, mx, my, cx, cy);
    const f = findTile(t, g, qx - mx, qy - my);
    return f && f.ncc > 0.5 ? [{ x: mx - cx, y: my - cy, dx: f.dx, dy: f.dy }] : [];
  });
}

function fitted(ref: Reference, found: Found[], plain: boolean): Alignment | null {
  if (found.length < 3) return null;
  // what stays where it was is the background, even where something large sways before it
  const still = found.filter((f) => Math.hypot(f.dx, f.dy) < 0.12).length / found.length;
  const stays = still >= 0.25;
  let dx = stays ? 0 : median(found.map((f) => f.dx));
  let dy = stays ? 0 : median(found.map((f) => f.dy));
  // p ↦ (1 + u, −v; v, 1 + u)·p + (dx, dy)
  let [u, v] = [0, 0];
  let scatter = 1;
  for (let round = 0; round < 12; round++) {
    const off = found.map((f) => Math.hypot(f.dx - dx - u * f.x + v * f.y, f.dy - dy - v * f.x - u * f.y));
    // of those that stay, half are nearer than this
    const half = stays ? nth(off.slice(), Math.floor((still / 2) * off.length)) : median(off.slice());
    scatter = Math.max(0.02, 1.4826 * half);
    const cut = 4 * Math.min(scatter, 2);
    const w = off.map((r) => (r < cut ? (1 - (r / cut) ** 2) ** 2 : 0));
    let [sw, sx, sy, sdx, sdy, rr, su, sv] = [0, 0, 0, 0, 0, 0, 0, 0];
    found.forEach((f, i) => {
      sw += w[i];
      sx += w[i] * f.x;
      sy += w[i] * f.y;
      sdx += w[i] * f.dx;
      sdy += w[i] * f.dy;
    });
    if (sw < 1e-9) return null;
    [sx, sy, sdx, sdy] = [sx / sw, sy / sw, sdx / sw, sdy / sw];
    found.forEach((f, i) => {
      const [px, py, qx, qy] = [f.x - sx, f.y - sy, f.dx - sdx, f.dy - sdy];
      rr += w[i] * (px * px + py * py);
      su += w[i] * (px * qx + py * qy);
      sv += w[i] * (px * qy - py * qx);
    });
    const turn = !plain && found.length >= 6 && rr > 0;
    [u, v] = turn ? [su / rr, sv / rr] : [0, 0];
    dx = sdx - u * sx + v * sy;
    dy = sdy - v * sx - u * sy;
  }
  const limit = Math.max(0.25, 3 * scatter);
  const agree = found.filter((f) => Math.hypot(f.dx - dx - u * f.x + v * f.y, f.dy - dy - v * f.x - u * f.y) < Math.min(limit, 1)).length;
  return { dx, dy, angle: (Math.atan2(v, 1 + u) * 180) / Math.PI, scale: Math.hypot(1 + u, v), agree: agree / ref.tiles.length };
}
