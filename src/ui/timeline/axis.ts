/** The time axis: frame `f` begins at `x(f)`; a frame is `per` pixels wide. */
export interface Axis {
  x: (f: number) => number;
  per: number;
  /** The frame under a place, kept within the shot. */
  frameAt: (px: number) => number;
}

/** An axis that shows frames `from` to `to` (parts of frames allowed) over `width` pixels, of a shot from `a` to `b`. */
export function axisOf(from: number, to: number, width: number, a: number, b: number): Axis {
  const per = width / (to - from + 1);
  return { per, x: (f) => (f - from) * per, frameAt: (px) => Math.min(b, Math.max(a, Math.floor(from + px / per + 1e-9))) };
}

/** The least number of frames a timeline shows. */
const LEAST = 8;

/** What is seen after zooming by `factor` about frame `at`; null for the whole shot. */
export function zoomed(span: { from: number; to: number }, factor: number, at: number, a: number, b: number): { from: number; to: number } | null {
  const count = Math.max(LEAST, (span.to - span.from + 1) * factor);
  if (count >= b - a + 1) return null;
  const share = (at - span.from) / (span.to - span.from + 1);
  return within({ from: at - share * count, to: at - share * count + count - 1 }, a, b);
}

/** The span moved so that it lies within the shot. */
export function within(span: { from: number; to: number }, a: number, b: number): { from: number; to: number } {
  const by = Math.max(a - span.from, Math.min(0, b - span.to));
  return { from: span.from + by, to: span.to + by };
}
