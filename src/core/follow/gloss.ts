import type { TemplateLevel } from "./template";

/** Width of the cells in which a region's structure is compared, in samples: less holds too few of them, more mixes light and shade. */
const CELL = 8;
/** Samples a cell must have to say anything. */
const LEAST = 24;
/** Likeness of a cell's own structure with the template's at which it is the same, under another light. */
const SAME = 0.9;

/**
 * Which samples lie where the region's own structure is still seen, though its light is another: gloss and shade wander over a thing that is
 * turned, smoothly, and what hides it brings a structure of its own, or none. In cells, a plane of light taken off both.
 * @param left of each sample the template's value less what is seen, codes; NaN outside the picture
 * @param limit codes by which a sample may miss what its cell's light makes of the template
 * @returns 1 where the structure is seen
 */
export function shinesThrough(level: TemplateLevel, left: Float64Array, limit: number): Uint8Array {
  const out = new Uint8Array(level.count);
  for (const cell of cellsOf(level, left)) {
    if (cell.length < LEAST) continue;
    const value = flat(level, cell, (k) => level.value[k]);
    const seen = flat(level, cell, (k) => level.value[k] - left[k]);
    if (!value || !seen) continue;
    let [tt, ss, ts] = [0, 0, 0];
    for (let i = 0; i < cell.length; i++) {
      tt += value[i] * value[i];
      ss += seen[i] * seen[i];
      ts += value[i] * seen[i];
    }
    if (!(ts > SAME * Math.sqrt(tt * ss))) continue;
    for (let i = 0; i < cell.length; i++) if (Math.abs((ts / tt) * value[i] - seen[i]) < limit) out[cell[i]] = 1;
  }
  return out;
}

/** The samples of each cell that lie in the picture. */
function cellsOf({ count, x, y, step, every }: TemplateLevel, left: Float64Array): number[][] {
  const wide = CELL * step * every;
  const cells = new Map<string, number[]>();
  for (let k = 0; k < count; k++) {
    if (Number.isNaN(left[k])) continue;
    const key = `${Math.floor(x[k] / wide)} ${Math.floor(y[k] / wide)}`;
    const cell = cells.get(key);
    if (cell) cell.push(k);
    else cells.set(key, [k]);
  }
  return [...cells.values()];
}

/** Some values of a cell, the plane that fits them best taken off; null where its samples lie on a line. */
function flat({ x, y }: TemplateLevel, cell: number[], of: (k: number) => number): Float64Array | null {
  const n = cell.length;
  let [mx, my, mv] = [0, 0, 0];
  for (const k of cell) [mx, my, mv] = [mx + x[k] / n, my + y[k] / n, mv + of(k) / n];
  let [xx, xy, yy, xv, yv] = [0, 0, 0, 0, 0];
  for (const k of cell) {
    const [dx, dy, dv] = [x[k] - mx, y[k] - my, of(k) - mv];
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
    xv += dx * dv;
    yv += dy * dv;
  }
  const det = xx * yy - xy * xy;
  if (det <= 1e-9 * xx * yy) return null;
  const [gx, gy] = [(xv * yy - yv * xy) / det, (yv * xx - xv * xy) / det];
  return Float64Array.from(cell, (k) => of(k) - mv - gx * (x[k] - mx) - gy * (y[k] - my));
}
