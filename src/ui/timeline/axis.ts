/** The time axis: frame `f` begins at `x(f)`; a frame is `per` pixels wide. */
export interface Axis {
  x: (f: number) => number;
  per: number;
  frameAt: (px: number) => number;
}
