import type { Frame, Rect } from "../pixels/frame";
import type { Matte } from "../shape/matte";

const DIRECTIONS = 32;
/** How far good texture is looked for, in sizes of the area. */
const RINGS = [1.08, 1.3, 1.7, 2.3, 3.2];
const POINTS = 220;

/** Everything the search for good texture may read. */
export function nearReach(r: Rect): Rect {
  const size = Math.max(r.x1 - r.x0, r.y1 - r.y0) + 6;
  const far = Math.ceil(size * RINGS[RINGS.length - 1]) + 8;
  return { x0: r.x0 - far, y0: r.y0 - far, x1: r.x1 + far, y1: r.y1 + far };
}

/**
 * The offset to good texture near an area: whole pixels, so that samples are copied. Places all round at several distances are
 * weighed by how well their own rim goes with the area's, whatever the tone (the squared difference, less that of the means),
 * and by what stands out in their middle; the best are moved about until they fit best. Null where there is no room.
 */
export function nearOffset(work: Frame, m: Matte): [number, number] | null {
  const { data, width, height } = work.planes[0];
  const one = 1 << (work.format.bits - 8);
  const w = m.x1 - m.x0;
  const covered = (x: number, y: number) => x >= m.x0 && y >= m.y0 && x < m.x1 && y < m.y1 && m.data[(y - m.y0) * w + x - m.x0] > 0;
  const rim: [number, number][] = [];
  const core: [number, number][] = [];
  for (let y = Math.max(0, m.y0 - 3); y < Math.min(height, m.y1 + 3); y++)
    for (let x = Math.max(0, m.x0 - 3); x < Math.min(width, m.x1 + 3); x++) {
      if (covered(x, y)) core.push([x, y]);
      else if (nearTo(covered, x, y)) rim.push([x, y]);
    }
  if (core.length === 0 || rim.length === 0) return null;
  const rims = thinned(rim);
  const cores = thinned(core);
  // places in the plane, so that an offset is one number
  const rimAt = Int32Array.from(rims, ([x, y]) => y * width + x);
  const coreAt = Int32Array.from(cores, ([x, y]) => y * width + x);
  const own = Float64Array.from(rimAt, (i) => data[i] / one);
  const ownMean = own.reduce((a, b) => a + b, 0) / own.length;
  const ownSpread = own.reduce((a, b) => a + (b - ownMean) ** 2, 0) / own.length;
  const size = Math.max(w, m.y1 - m.y0) + 6;
  const free = (dx: number, dy: number) => {
    if (m.x0 - 3 + dx < 0 || m.y0 - 3 + dy < 0 || m.x1 + 3 + dx > width || m.y1 + 3 + dy > height) return false;
    if (Math.abs(dx) > w + 3 || Math.abs(dy) > m.y1 - m.y0 + 3) return true;
    return !cores.some(([x, y]) => covered(x + dx, y + dy)) && !rims.some(([x, y]) => covered(x + dx, y + dy));
  };
  const there = new Float64Array(rimAt.length);
  const cost = (dx: number, dy: number): number => {
    if (!free(dx, dy)) return Infinity;
    const shift = dy * width + dx;
    let mean = 0;
    for (let i = 0; i < there.length; i++) mean += there[i] = data[rimAt[i] + shift] / one;
    mean /= there.length;
    let unlike = 0;
    let spread = 0;
    for (let i = 0; i < there.length; i++) {
      const v = there[i] - mean;
      const d = v - own[i] + ownMean;
      unlike += d * d;
      spread += v * v;
    }
    // the middle should be of the rim's kind: neither a thing of its own nor smoother than what surrounds the area
    let middle = 0;
    for (let i = 0; i < coreAt.length; i++) {
      const v = data[coreAt[i] + shift] / one - mean;
      middle += v * v;
    }
    const more = Math.max(0, middle / cores.length - Math.max(spread / rims.length, ownSpread) * 1.5);
    const far = Math.hypot(dx, dy) / size;
    return unlike / rims.length + more + 0.02 * (mean - ownMean) ** 2 + 0.3 * far;
  };
  const tried: { dx: number; dy: number; c: number }[] = [];
  for (const ring of RINGS)
    for (let k = 0; k < DIRECTIONS; k++) {
      const a = (2 * Math.PI * k) / DIRECTIONS;
      const [dx, dy] = [Math.round(Math.cos(a) * ring * size), Math.round(Math.sin(a) * ring * size)];
      tried.push({ dx, dy, c: cost(dx, dy) });
    }
  const best = tried.sort((a, b) => a.c - b.c).slice(0, 6);
  for (const b of best)
    for (let step = Math.max(1, 2 ** Math.floor(Math.log2(size / 8))); step >= 1; step /= 2)
      for (let moved = true, rounds = 0; moved && rounds < 6; rounds++) {
        moved = false;
        for (const [sx, sy] of [
          [step, 0],
          [-step, 0],
          [0, step],
          [0, -step],
        ]) {
          const c = cost(b.dx + sx, b.dy + sy);
          if (c < b.c) {
            Object.assign(b, { dx: b.dx + sx, dy: b.dy + sy, c });
            moved = true;
          }
        }
      }
  const found = best.sort((a, b) => a.c - b.c)[0];
  return Number.isFinite(found.c) ? [found.dx, found.dy] : null;
}

const nearTo = (covered: (x: number, y: number) => boolean, x: number, y: number) => {
  for (let j = -3; j <= 3; j++) for (let i = -3; i <= 3; i++) if (covered(x + i, y + j)) return true;
  return false;
};

/** Some of a list, evenly. */
function thinned<T>(list: T[]): T[] {
  const step = Math.max(1, list.length / POINTS);
  return Array.from({ length: Math.floor(list.length / step) }, (_, i) => list[Math.floor(i * step)]);
}
