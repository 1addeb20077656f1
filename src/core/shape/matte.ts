import type { Rect } from "../pixels/frame";

/** α (0–1) over a rectangle of the picture, row by row; `outside` is its value everywhere else (0, or 1 when inverted). */
export interface Matte extends Rect {
  data: Float64Array;
  outside: number;
}

export const emptyMatte = (): Matte => ({ x0: 0, y0: 0, x1: 0, y1: 0, data: new Float64Array(0), outside: 0 });

/** The matte as values over `rect`. */
export function over(m: Matte, rect: Rect): Float64Array {
  const w = rect.x1 - rect.x0;
  const out = new Float64Array(w * (rect.y1 - rect.y0));
  if (m.outside) out.fill(m.outside);
  const xa = Math.max(rect.x0, m.x0);
  const xb = Math.min(rect.x1, m.x1);
  if (xb <= xa) return out;
  const mw = m.x1 - m.x0;
  for (let y = Math.max(rect.y0, m.y0); y < Math.min(rect.y1, m.y1); y++) {
    const from = (y - m.y0) * mw;
    out.set(m.data.subarray(from + xa - m.x0, from + xb - m.x0), (y - rect.y0) * w + xa - rect.x0);
  }
  return out;
}

/** How a shape's α joins what is there. Porter & Duff (1984) for `cut`; `add` is the larger of both, `cross` their product. */
export const OPS = {
  add: (a: number, b: number) => (a > b ? a : b),
  cut: (a: number, b: number) => a * (1 - b),
  cross: (a: number, b: number) => a * b,
  /** For strokes of one painted mask: each is laid over the others. */
  over: (a: number, b: number) => a + b - a * b,
} as const;

/** Joins `b` to `a` by `op`. Both lie outside at 0 beyond their rectangles. */
export function join(a: Matte, b: Matte, op: keyof typeof OPS): Matte {
  const f = OPS[op];
  const grows = op === "add" || op === "over";
  if (a.data.length === 0) return grows ? b : a; // both ways of adding give b over nothing, both ways of taking nothing of nothing
  const rect =
    grows && b.data.length > 0 ? { x0: Math.min(a.x0, b.x0), y0: Math.min(a.y0, b.y0), x1: Math.max(a.x1, b.x1), y1: Math.max(a.y1, b.y1) } : a;
  const { x0, y0, x1, y1 } = rect;
  const da = over(a, { x0, y0, x1, y1 });
  const db = over(b, { x0, y0, x1, y1 });
  for (let i = 0; i < da.length; i++) da[i] = f(da[i], db[i]);
  return { x0, y0, x1, y1, data: da, outside: 0 };
}

/** 1 − α over `picture` and beyond. */
export function inverted(m: Matte, picture: Rect): Matte {
  const data = over(m, picture);
  for (let i = 0; i < data.length; i++) data[i] = 1 - data[i];
  return { ...picture, data, outside: 1 - m.outside };
}

/** The part of a matte that lies in `picture`. */
export function cropped(m: Matte, picture: Rect): Matte {
  if (m.x0 >= picture.x0 && m.y0 >= picture.y0 && m.x1 <= picture.x1 && m.y1 <= picture.y1) return m;
  const x0 = Math.max(m.x0, picture.x0);
  const y0 = Math.max(m.y0, picture.y0);
  const x1 = Math.max(x0, Math.min(m.x1, picture.x1));
  const y1 = Math.max(y0, Math.min(m.y1, picture.y1));
  return { x0, y0, x1, y1, data: over(m, { x0, y0, x1, y1 }), outside: m.outside };
}
