import type { Touch } from "../document/touch";
import { type Frame, isEmpty, planeShift, type Rect } from "../pixels/frame";
import { touchBounds } from "./area";
import { touchReads } from "./touch";

/** Side of the tiles in which it is kept what a change reaches, in pixels; even, so that they hold whole chroma samples. */
const TILE = 32;

/** A set of tiles of a picture. */
class Tiles {
  readonly across: number;
  readonly flags: Uint8Array;
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.across = Math.ceil(width / TILE);
    this.flags = new Uint8Array(this.across * Math.ceil(height / TILE));
  }
  private each(r: Rect, run: (i: number) => boolean | void): boolean {
    if (isEmpty(r)) return false;
    const x1 = Math.min(this.across - 1, Math.floor((r.x1 - 1) / TILE));
    const y1 = Math.min(this.flags.length / this.across - 1, Math.floor((r.y1 - 1) / TILE));
    for (let y = Math.max(0, Math.floor(r.y0 / TILE)); y <= y1; y++)
      for (let x = Math.max(0, Math.floor(r.x0 / TILE)); x <= x1; x++) if (run(y * this.across + x)) return true;
    return false;
  }
  add(r: Rect): void {
    this.each(r, (i) => void (this.flags[i] = 1));
  }
  meets(r: Rect): boolean {
    return this.each(r, (i) => this.flags[i] === 1);
  }
  join(other: Tiles): void {
    for (let i = 0; i < this.flags.length; i++) this.flags[i] |= other.flags[i];
  }
  /** Copies the tiles of the set from one picture to another of its size and layout. */
  copy(from: Frame, to: Frame): void {
    from.planes.forEach((plane, p) => {
      const { sx, sy } = planeShift(from.format, p);
      const [tw, th] = [TILE >> sx, TILE >> sy];
      const target = to.planes[p].data;
      for (let i = 0; i < this.flags.length; i++) {
        if (!this.flags[i]) continue;
        const x0 = (i % this.across) * tw;
        const x1 = Math.min(plane.width, x0 + tw);
        const y0 = Math.floor(i / this.across) * th;
        for (let y = y0; y < Math.min(plane.height, y0 + th); y++)
          target.set(plane.data.subarray(y * plane.width + x0, y * plane.width + x1), y * plane.width + x0);
      }
    });
  }
}

/** What has to be done to come from one list of touches to another. */
export interface Plan {
  /** Touches to lay anew, in order. */
  run: Touch[];
  /** Puts what has come out of laying them on the base into a copy of the old result. */
  end: (work: Frame, result: Frame) => void;
}

const sides = (r: Rect): Rect => ({ x0: r.x0 - 4, y0: r.y0 - 4, x1: r.x1 + 4, y1: r.y1 + 4 });

/**
 * How to come from a result that is there to that of other touches, laying only those the change reaches: forward, what is
 * changed grows by each touch that reads or covers some of it; backward, what is needed for that grows by what those touches
 * read. Tiles outside both stay as they are.
 */
export function planReplay(old: readonly Touch[], now: readonly Touch[], width: number, height: number, same: (a: Touch, b: Touch) => boolean): Plan {
  let first = 0;
  while (first < Math.min(old.length, now.length) && same(old[first], now[first])) first++;
  const left = new Map(old.slice(first).map((t) => [t.id, t]));
  const lays = now.map((t) => sides(touchBounds(t, width, height)));
  const reads = now.map((t) => touchReads(t, width, height));
  const changed = new Tiles(width, height);
  // touches that went, or stand elsewhere in the order
  let at = first;
  const kept = new Set<string>();
  for (const t of now.slice(first)) {
    const was = left.get(t.id);
    if (!was || !same(was, t)) continue;
    const place = old.indexOf(was);
    if (place < at) continue;
    at = place + 1;
    kept.add(t.id);
  }
  for (const t of old.slice(first)) if (!kept.has(t.id)) changed.add(sides(touchBounds(t, width, height)));
  for (let i = first; i < now.length; i++) if (!kept.has(now[i].id) || changed.meets(reads[i]) || changed.meets(lays[i])) changed.add(lays[i]);
  const need = new Tiles(width, height);
  need.join(changed);
  const run: Touch[] = [];
  for (let i = now.length - 1; i >= 0; i--) {
    if (!need.meets(lays[i])) continue;
    run.unshift(now[i]);
    need.add(lays[i]);
    need.add(reads[i]);
  }
  return { run, end: (work, result) => changed.copy(work, result) };
}
