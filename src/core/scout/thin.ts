import { rowsInDirections } from "../pixels/rows";
import { type Background, type Cells, offBackground } from "../plate/cells";

/** Cells in a row over which a mean is taken, and the directions in which such rows lie, over half a turn. */
const LONG = 9;
const DIRECTIONS = 8;
/** Means over nine cells have a third of the noise, were it not for what cells share: taken as a half. */
const SURER = 2;

const ROWS = rowsInDirections(LONG, DIRECTIONS);

/**
 * How far each cell of a frame is from the background, in standard deviations, as by {@link offBackground}, and over rows of nine cells in eight
 * directions: a wire that is much thinner than a cell, and of little contrast, differs from the ground along its whole length.
 */
export function offWithThin(c: Cells, b: Background): Float32Array {
  const out = offBackground(c, b);
  const { width: w, height: h } = c;
  const [v, from, sigma] = [c.planes[0], b.planes[0], b.sigma[0]];
  const d = Float32Array.from(v, (x, i) => (x - from[i]) / sigma[i]);
  for (const row of ROWS) {
    const steps = row.map(([x, y]) => y * w + x);
    const [mx, my] = [Math.max(...row.map(([x]) => Math.abs(x))), Math.max(...row.map(([, y]) => Math.abs(y)))];
    for (let y = my; y < h - my; y++)
      for (let i = y * w + mx, end = y * w + w - mx; i < end; i++) {
        let s = 0;
        for (let k = 0; k < LONG; k++) s += d[i + steps[k]];
        const off = (SURER / LONG) * Math.abs(s);
        if (off > out[i]) out[i] = off;
      }
  }
  return out;
}
