/** Codes of 8 bits to a bin: luma, then the two others. */
const SIZE = [8, 4, 4] as const;
const [N0, N1, N2] = SIZE.map((s) => 256 / s);
const VOLUME = SIZE[0] * SIZE[1] * SIZE[2];
/** The share of colours that may be any: what was never seen before is not impossible. */
const ANY = 0.02;
/** The density of all colours alike, per code cubed: of a range of 220 codes of luma and 120 of either colour difference, where pictures lie. */
export const EVEN = 1 / (220 * 120 * 120);

/** How often colours are seen, smoothed over neighbouring ones; 8-bit codes of three planes. */
export class Colours {
  private counts = new Float32Array(N0 * N1 * N2);
  private density: Float32Array | null = null;
  total = 0;

  add(a: number, b: number, c: number, weight = 1): void {
    this.counts[indexOf(a, b, c)] += weight;
    this.total += weight;
    this.density = null;
  }

  /** Takes in others, so that they make up `share` of the whole; of nothing they become all. */
  mix(others: Colours, share: number): void {
    if (!others.total) return;
    const [own, k] = this.total ? [1 - share, (share * this.total) / others.total] : [0, 1];
    for (let i = 0; i < this.counts.length; i++) this.counts[i] = own * this.counts[i] + k * others.counts[i];
    this.total ||= others.total;
    this.density = null;
  }

  /** Probability density of a colour, per code cubed. */
  at(a: number, b: number, c: number): number {
    this.density ??= smoothed(this.counts, this.total);
    return this.density[indexOf(a, b, c)];
  }
}

function indexOf(a: number, b: number, c: number): number {
  const bin = (v: number, size: number) => (v < 0 ? 0 : v > 255 ? 255 : v) / size;
  return ((bin(a, SIZE[0]) | 0) * N1 + (bin(b, SIZE[1]) | 0)) * N2 + (bin(c, SIZE[2]) | 0);
}

/** Counts as densities, each bin with its neighbours by ¼ ½ ¼ along each axis. */
function smoothed(counts: Float32Array, total: number): Float32Array {
  let [from, to]: [Float32Array, Float32Array] = [counts, new Float32Array(counts.length)];
  const blur = (step: number, size: number) => {
    for (let i = 0; i < from.length; i++) {
      const k = Math.floor(i / step) % size;
      to[i] = 0.5 * from[i] + 0.25 * (from[k > 0 ? i - step : i] + from[k < size - 1 ? i + step : i]);
    }
    [from, to] = [to, from === counts ? new Float32Array(counts.length) : from];
  };
  blur(1, N2);
  blur(N2, N1);
  blur(N1 * N2, N0);
  const scale = total > 0 ? (1 - ANY) / (total * VOLUME) : 0;
  const floor = (total > 0 ? ANY : 1) * EVEN;
  return from.map((v) => v * scale + floor);
}
