import type { Polygon } from "./path";

/**
 * Edges of a shape's boundary: x0, y0, x1, y1 per edge, each with the inside on the same hand, so that the
 * winding number is 0 outside and 1 inside everywhere.
 */
export type Edges = Float64Array;

/**
 * The boundary of a closed polygon under the non-zero winding rule. A polygon that crosses itself is split at its crossings. Along an
 * edge the winding numbers are looked for once, and counted on from crossing to crossing: n edges that cross k times take O(n² + k log k).
 */
export function boundaryOf(poly: Polygon): Edges {
  const n = poly.length / 2;
  const edges: number[] = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const e = [poly[2 * i], poly[2 * i + 1], poly[2 * j], poly[2 * j + 1]];
    if (e[0] !== e[2] || e[1] !== e[3]) edges.push(...e);
  }
  const all = Float64Array.from(edges);
  const cuts = crossings(all);
  if (!cuts) {
    let area = 0;
    for (let i = 0; i < all.length; i += 4) area += all[i] * all[i + 3] - all[i + 2] * all[i + 1];
    return area >= 0 ? all : reversed(all);
  }
  const kept: number[] = [];
  const once = new Set<string>();
  const keep = (ax: number, ay: number, bx: number, by: number) => {
    // where an outline runs over itself, its boundary does so once
    const name = [ax, ay, bx, by].map((v) => Math.round(v * 1e6)).join();
    if (once.has(name)) return;
    once.add(name);
    kept.push(ax, ay, bx, by);
  };
  for (let i = 0, e = 0; i < all.length; i += 4, e++) {
    const [x0, y0, x1, y1] = all.subarray(i, i + 4);
    const len = Math.hypot(x1 - x0, y1 - y0);
    const [nx, ny] = [(-(y1 - y0) / len) * 1e-6, ((x1 - x0) / len) * 1e-6];
    const at = (t: number): [number, number] => [x0 + (x1 - x0) * t, y0 + (y1 - y0) * t];
    const look = (from: number, to: number): [number, number] => {
      const [mx, my] = at((from + to) / 2);
      return [winding(all, mx + nx, my + ny), winding(all, mx - nx, my - ny)];
    };
    const lie = (from: number, to: number, left: number, right: number) => {
      if ((left !== 0) === (right !== 0)) return;
      const [ax, ay] = at(from);
      const [bx, by] = at(to);
      if (left !== 0) keep(ax, ay, bx, by);
      else keep(bx, by, ax, ay);
    };
    const pieces = cuts[e].pieces(len);
    const counted = countedAlong(pieces, look);
    pieces.forEach((p, k) => lie(p.from, p.to, ...(counted ? counted[k] : look(p.from, p.to))));
  }
  return Float64Array.from(kept);
}

/**
 * Where others cross an edge, 0–1 along it, by what the winding numbers beside it do there: rise or fall by one, or what only looking
 * tells, since somebody else's end lies there.
 */
class Cuts {
  private readonly up: number[] = [];
  private readonly down: number[] = [];
  private readonly open: number[] = [];

  /** @param step of the winding numbers: 1, −1, or NaN for unknown */
  add(t: number, step: number): void {
    (step > 0 ? this.up : step < 0 ? this.down : this.open).push(t);
  }

  /** The pieces between the cuts of an edge of length `len`, in order; `step` of the winding numbers at their beginning. Specks are left out. */
  pieces(len: number): Piece[] {
    const lists = [this.up, this.down, this.open].map((l) => Float64Array.from(l).sort());
    const steps = [1, -1, NaN];
    const next = [0, 0, 0];
    const out: Piece[] = [];
    let [from, step] = [0, NaN];
    const end = (t: number) => {
      if (t - from < 1e-12 || (t - from) * len < 1e-9) return false;
      out.push({ from, to: t, step });
      return true;
    };
    for (;;) {
      let least = -1;
      for (let k = 0; k < 3; k++) if (next[k] < lists[k].length && (least < 0 || lists[k][next[k]] < lists[least][next[least]])) least = k;
      if (least < 0) break;
      const t = lists[least][next[least]++];
      step = end(t) ? steps[least] : step + steps[least];
      from = t;
    }
    end(1);
    return out;
  }
}

interface Piece {
  from: number;
  to: number;
  step: number;
}

/**
 * The winding numbers on either hand of each piece of an edge: looked for once, and counted on. Null where that cannot be trusted: other
 * edges lie so near that the two hands do not differ by this edge alone, or what was counted is not what is seen at the end.
 */
function countedAlong(pieces: readonly Piece[], look: (from: number, to: number) => [number, number]): [number, number][] | null {
  if (pieces.length < 3) return null;
  const out: [number, number][] = [];
  let [left, right] = [NaN, NaN];
  for (const { from, to, step } of pieces) {
    left += step;
    right += step;
    if (Number.isNaN(left)) [left, right] = look(from, to);
    if (Math.abs(left - right) !== 1) return null;
    out.push([left, right]);
  }
  const last = pieces[pieces.length - 1];
  const [l, r] = look(last.from, last.to);
  return l === left && r === right ? out : null;
}

function reversed(e: Edges): Edges {
  const out = new Float64Array(e.length);
  for (let i = 0; i < e.length; i += 4) out.set([e[i + 2], e[i + 3], e[i], e[i + 1]], i);
  return out;
}

/** Winding number of point (x, y). */
export function winding(e: Edges, x: number, y: number): number {
  let w = 0;
  for (let i = 0; i < e.length; i += 4) {
    const [y0, y1] = [e[i + 1], e[i + 3]];
    if (y0 <= y === y1 <= y) continue;
    if (e[i] + ((y - y0) / (y1 - y0)) * (e[i + 2] - e[i]) > x) w += y1 > y0 ? 1 : -1;
  }
  return w;
}

/** Per edge, where others cross it; null when none do. Edges are swept by their upper ends. */
function crossings(e: Edges): Cuts[] | null {
  const n = e.length / 4;
  const order = Array.from({ length: n }, (_, i) => i);
  const top = (i: number) => Math.min(e[4 * i + 1], e[4 * i + 3]);
  const bottom = (i: number) => Math.max(e[4 * i + 1], e[4 * i + 3]);
  order.sort((a, b) => top(a) - top(b));
  const cuts = Array.from({ length: n }, () => new Cuts());
  let found = false;
  let active: number[] = [];
  for (const i of order) {
    const y = top(i);
    active = active.filter((j) => bottom(j) >= y);
    const ax = e[4 * i];
    const ay = e[4 * i + 1];
    const bx = e[4 * i + 2];
    const by = e[4 * i + 3];
    const lo = Math.min(ax, bx);
    const hi = Math.max(ax, bx);
    for (const j of active) {
      const cx = e[4 * j];
      const cy = e[4 * j + 1];
      const dx = e[4 * j + 2];
      const dy = e[4 * j + 3];
      if ((cx > dx ? cx : dx) < lo || (cx < dx ? cx : dx) > hi) continue;
      const den = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
      if (Math.abs(den) < 1e-14) {
        found = overlap(e, i, j, cuts) || found;
        continue;
      }
      const t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / den;
      const u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / den;
      if (t < 0 || t > 1 || u < 0 || u > 1) continue;
      const ends = (v: number) => v < 1e-12 || v > 1 - 1e-12;
      if (ends(t) && ends(u)) {
        // neighbours share a point; others that do make the outline touch itself, and what lies between is to be looked at
        found ||= !follows(i, j, n);
        continue;
      }
      // across an edge that runs down the picture the winding number falls to the right; at somebody's end it is looked for
      const step = ends(t) || ends(u) ? NaN : den > 0 ? -1 : 1;
      cuts[i].add(t, step);
      cuts[j].add(u, -step);
      found = true;
    }
    active.push(i);
  }
  return found ? cuts : null;
}

/** Whether two of a polygon's n edges follow each other. */
const follows = (i: number, j: number, n: number) => Math.abs(i - j) === 1 || Math.abs(i - j) === n - 1;

/** Edges that lie on one line and run over each other are cut at each other's ends. */
function overlap(e: Edges, i: number, j: number, cuts: Cuts[]): boolean {
  let found = false;
  for (const [a, b] of [
    [i, j],
    [j, i],
  ]) {
    const [ax, ay, bx, by] = [e[4 * a], e[4 * a + 1], e[4 * a + 2], e[4 * a + 3]];
    const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
    for (const k of [0, 2]) {
      const [px, py] = [e[4 * b + k], e[4 * b + k + 1]];
      if (Math.abs((bx - ax) * (py - ay) - (by - ay) * (px - ax)) > 1e-9 * Math.sqrt(l2)) return found;
      const t = ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / l2;
      if (t > 1e-12 && t < 1 - 1e-12) {
        cuts[a].add(t, NaN);
        found = true;
      }
    }
  }
  return found;
}
