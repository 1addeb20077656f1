import type { Plane } from "../pixels/frame";

export interface Bars {
  /** Pixels at each side that are bar, soft edge included. */
  left: number;
  /** Likewise, at the upper side. */
  top: number;
  /** Likewise, at the right side. */
  right: number;
  /** Likewise, at the lower side. */
  bottom: number;
  /** How many of them are the soft edge at most. */
  soft: number;
}

/** Finds bars: rows and columns at the picture's edges that stay dark and even in all frames, and the soft edge next to them. */
export class BarMeter {
  private rowTop: Float32Array | null = null;
  private rowMean: Float32Array | null = null;
  private colTop: Float32Array | null = null;
  private colMean: Float32Array | null = null;
  private count = 0;

  add({ width, height, data }: Plane, bits: number): void {
    this.rowTop ??= new Float32Array(height);
    this.rowMean ??= new Float32Array(height);
    this.colTop ??= new Float32Array(width);
    this.colMean ??= new Float32Array(width);
    const k = 1 / (1 << (bits - 8));
    const rt = this.rowTop;
    const ct = this.colTop;
    const tops = new Uint16Array(width);
    const sums = new Uint32Array(width);
    for (let y = 0; y < height; y++) {
      let [top, s] = [0, 0];
      for (let x = 0, i = y * width; x < width; x++, i++) {
        const v = data[i];
        s += v;
        if (v > top) top = v;
        if (v > tops[x]) tops[x] = v;
        sums[x] += v;
      }
      rt[y] = Math.max(rt[y], top * k);
      this.rowMean[y] += (s * k) / width;
    }
    for (let x = 0; x < width; x++) {
      ct[x] = Math.max(ct[x], tops[x] * k);
      this.colMean[x] += (sums[x] * k) / height;
    }
    this.count++;
  }

  result(black: number): Bars {
    if (!this.count) return { left: 0, top: 0, right: 0, bottom: 0, soft: 0 };
    let soft = 0;
    const side = (tops: Float32Array, sums: Float32Array, back: boolean): number => {
      const n = tops.length;
      const at = (i: number) => (back ? n - 1 - i : i);
      // noise and the encoder's ringing lift a bar by some codes
      const limit = black + 12;
      let hard = 0;
      while (hard < n / 3 && tops[at(hard)] <= limit) hard++;
      if (hard === 0 || hard >= n / 3) return 0;
      const mean = (i: number) => sums[at(i)] / this.count;
      const inner = mean(Math.min(n - 1, hard + 12));
      let edge = 0;
      while (edge < 8 && mean(hard + edge) < black + 0.8 * (inner - black) && mean(hard + edge) <= mean(hard + edge + 1) + 0.5) edge++;
      soft = Math.max(soft, edge);
      return hard + edge;
    };
    const [rt, rm, ct, cm] = [this.rowTop!, this.rowMean!, this.colTop!, this.colMean!];
    const top = side(rt, rm, false);
    const bottom = side(rt, rm, true);
    const [left, right] = [side(ct, cm, false), side(ct, cm, true)];
    return { left, top, right, bottom, soft };
  }
}
