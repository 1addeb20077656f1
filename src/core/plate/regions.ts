/** A yes or no for each cell of a grid. */
export interface Grid {
  /** Cells across. */
  width: number;
  /** Cells down. */
  height: number;
  /** 0 or 1 for each, row by row. */
  data: Uint8Array;
}

/** Cells that are set in both. */
export function both(a: Grid, b: Grid): Grid {
  const data = new Uint8Array(a.data.length);
  for (let i = 0; i < data.length; i++) data[i] = a.data[i] & b.data[i];
  return { width: a.width, height: a.height, data };
}

/** A grid in which some cells are set. */
export function gridWith(cells: readonly number[], { width, height }: { width: number; height: number }): Grid {
  const data = new Uint8Array(width * height);
  for (const i of cells) data[i] = 1;
  return { width, height, data };
}

/** Cells of `a` that are not set in `b`. */
export function without(a: Grid, b: Grid): Grid {
  const data = new Uint8Array(a.data.length);
  for (let i = 0; i < data.length; i++) data[i] = a.data[i] & (b.data[i] ^ 1);
  return { width: a.width, height: a.height, data };
}

/** Cells that are not set. */
export const not = (g: Grid): Grid => ({ ...g, data: g.data.map((v) => 1 - v) });

/** The larger side of what is set, cells. */
export function farAcross({ width, data }: Grid): number {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -1, -1];
  data.forEach((v, i) => {
    if (!v) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  });
  return Math.max(0, x1 - x0 + 1, y1 - y0 + 1);
}

/** How many cells are set. */
export function count(g: Grid): number {
  let n = 0;
  for (let i = 0; i < g.data.length; i++) n += g.data[i];
  return n;
}

/** Every connected piece (8 neighbours) of the cells that are set: the cells it consists of. */
export function pieces({ width, height, data }: Grid): number[][] {
  const seen = new Uint8Array(data.length);
  const out: number[][] = [];
  for (let s = 0; s < data.length; s++) {
    if (!data[s] || seen[s]) continue;
    const list = [s];
    seen[s] = 1;
    for (let q = 0; q < list.length; q++) {
      const x = list[q] % width;
      const y = (list[q] - x) / width;
      for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
          const at = j * width + i;
          if (data[at] && !seen[at]) {
            seen[at] = 1;
            list.push(at);
          }
        }
    }
    out.push(list);
  }
  return out;
}

/** Cells within `r` cells (square) of one that is set. */
export function grown({ width, height, data }: Grid, r: number): Grid {
  const rows = new Uint8Array(data.length);
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (data[y * width + x]) rows.fill(1, y * width + Math.max(0, x - r), y * width + Math.min(width, x + r + 1));
  for (let x = 0; x < width; x++)
    for (let y = 0; y < height; y++)
      if (rows[y * width + x]) for (let j = Math.max(0, y - r); j <= Math.min(height - 1, y + r); j++) out[j * width + x] = 1;
  return { width, height, data: out };
}

/** Cells over `low` that hang together with one over `high` (Canny 1986, hysteresis). */
export function hysteresis(values: Float32Array, width: number, height: number, low: number, high: number): Grid {
  const data = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) data[i] = values[i] > low ? 1 : 0;
  const out = new Uint8Array(values.length);
  for (const piece of pieces({ width, height, data })) if (piece.some((i) => values[i] > high)) for (const i of piece) out[i] = 1;
  return { width, height, data: out };
}

/** Cells whose middle lies in an outline (even-odd), coordinates in pixels. */
export function gridOf(outline: readonly (readonly number[])[], width: number, height: number, cell: number): Grid {
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const py = (y + 0.5) * cell;
    const xs: number[] = [];
    outline.forEach((a, i) => {
      const b = outline[(i + 1) % outline.length];
      if (a[1] > py !== b[1] > py) xs.push(a[0] + ((py - a[1]) * (b[0] - a[0])) / (b[1] - a[1]));
    });
    xs.sort((a, b) => a - b);
    for (let k = 0; k + 1 < xs.length; k += 2) {
      const x0 = Math.max(0, Math.ceil(xs[k] / cell - 0.5));
      const x1 = Math.min(width - 1, Math.floor(xs[k + 1] / cell - 0.5));
      if (x1 >= x0) data.fill(1, y * width + x0, y * width + x1 + 1);
    }
  }
  return { width, height, data };
}
