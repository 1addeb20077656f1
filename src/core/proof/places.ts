import type { Frame, Rect } from "../pixels/frame";
import { type CellGrid, cellCount } from "./grid";
import { apart, type Apart } from "./place";
import { Wobble } from "./wobble";

/** Where a patch's picture lies against what surrounds it, in some frames; and how surely that can be told. */
export class Places {
  readonly found: ({ n: number } & Apart)[] = [];
  private readonly wobble = new Wobble();
  /** The pixels by which a place was told last. */
  private asked: Uint8Array | null = null;
  private kept: number | null = null;

  /** @param rect the pixels of the grid's cells, in those of the take */
  constructor(
    private readonly grid: CellGrid,
    private readonly rect: Rect,
  ) {}

  private size = (): [number, number] => [this.rect.x1 - this.rect.x0, this.rect.y1 - this.rect.y0];

  /** A frame without the patch. */
  addClean(n: number, frame: Frame): void {
    this.wobble.add(n, frame, this.rect);
  }

  /** @param read the patch's picture, in codes of the take @param counts whether a cell may be asked */
  ask(n: number, live: Frame, read: (x: number, y: number) => number, counts: (cell: number) => boolean): void {
    const { grid, rect } = this;
    const [w, h] = this.size();
    const [a, b] = [new Float32Array(w * h), new Float32Array(w * h)];
    const pixels = new Uint8Array(w * h);
    const unit = 1 / 2 ** (live.format.bits - 8);
    const { data, width } = live.planes[0];
    for (let cell = 0; cell < cellCount(grid); cell++) {
      if (!counts(cell)) continue;
      const [cx, cy] = [(cell % grid.across) * grid.side, Math.floor(cell / grid.across) * grid.side];
      for (let y = cy; y < cy + grid.side; y++)
        for (let x = cx, i = y * w + x; x < cx + grid.side; x++, i++) {
          a[i] = read(rect.x0 + x, rect.y0 + y) * unit;
          b[i] = data[(rect.y0 + y) * width + rect.x0 + x] * unit;
          pixels[i] = 1;
        }
    }
    const found = apart({ width: w, height: h, a, b, counts: pixels }, this.found.at(-1));
    if (!found) return;
    this.found.push({ n, ...found });
    this.asked = pixels;
  }

  /** How far two clean frames seem to lie apart where a place was asked, as a standard deviation in pixels; 0 where it cannot be told. */
  deviation(): number {
    this.kept ??= (this.asked && this.wobble.deviation(this.asked, ...this.size())) ?? 0;
    return this.kept;
  }
}
