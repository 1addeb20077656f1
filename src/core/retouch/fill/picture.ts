/** A working picture of a fill: three interleaved channels in 8-bit code values, with what is to be filled and what may be taken. */
export interface FillPicture {
  width: number;
  height: number;
  /** Interleaved, three a pixel. */
  data: Float32Array;
  /** 1 where the picture is to be filled. */
  hole: Uint8Array;
  /** 1 where nothing may be taken from. */
  barred: Uint8Array;
}

/** Half the size: means of what is known of two by two pixels; a pixel is a hole where at least half of them are. */
export function halved(p: FillPicture): FillPicture {
  const width = (p.width + 1) >> 1;
  const height = (p.height + 1) >> 1;
  const data = new Float32Array(3 * width * height);
  const hole = new Uint8Array(width * height);
  const barred = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const o = y * width + x;
      const sum = [0, 0, 0];
      const all = [0, 0, 0];
      let known = 0;
      let count = 0;
      for (let j = 2 * y; j < Math.min(p.height, 2 * y + 2); j++)
        for (let i = 2 * x; i < Math.min(p.width, 2 * x + 2); i++) {
          const at = j * p.width + i;
          count++;
          if (p.barred[at]) barred[o] = 1;
          for (let k = 0; k < 3; k++) all[k] += p.data[3 * at + k];
          if (p.hole[at]) continue;
          known++;
          for (let k = 0; k < 3; k++) sum[k] += p.data[3 * at + k];
        }
      hole[o] = 2 * known <= count ? 1 : 0;
      for (let k = 0; k < 3; k++) data[3 * o + k] = known ? sum[k] / known : all[k] / count;
    }
  return { width, height, data, hole, barred };
}

/** Puts the filled pixels of a picture of half the size into the hole, linearly between them. */
export function raised(coarse: FillPicture, fine: FillPicture): void {
  const { width: w, height: h } = coarse;
  for (let y = 0; y < fine.height; y++) {
    const fy = Math.min(h - 1, Math.max(0, y / 2 - 0.25));
    const y0 = Math.floor(fy);
    const y1 = Math.min(h - 1, y0 + 1);
    const ty = fy - y0;
    for (let x = 0; x < fine.width; x++) {
      const o = y * fine.width + x;
      if (!fine.hole[o]) continue;
      const fx = Math.min(w - 1, Math.max(0, x / 2 - 0.25));
      const x0 = Math.floor(fx);
      const x1 = Math.min(w - 1, x0 + 1);
      const tx = fx - x0;
      for (let k = 0; k < 3; k++) {
        const a = coarse.data[3 * (y0 * w + x0) + k] * (1 - tx) + coarse.data[3 * (y0 * w + x1) + k] * tx;
        const b = coarse.data[3 * (y1 * w + x0) + k] * (1 - tx) + coarse.data[3 * (y1 * w + x1) + k] * tx;
        fine.data[3 * o + k] = a * (1 - ty) + b * ty;
      }
    }
  }
}

/** Sums over a square of (2r + 1) × (2r + 1) pixels around each pixel whose square lies within the picture; elsewhere 0. */
export function boxSums(values: ArrayLike<number>, width: number, height: number, r: number, stride = 1, first = 0): Float64Array {
  const rows = new Float64Array(width * height);
  const out = new Float64Array(width * height);
  const n = 2 * r + 1;
  for (let y = 0; y < height; y++) {
    let s = 0;
    for (let x = 0; x < width; x++) {
      s += values[stride * (y * width + x) + first];
      if (x >= n) s -= values[stride * (y * width + x - n) + first];
      if (x >= n - 1) rows[y * width + x - r] = s;
    }
  }
  for (let x = r; x < width - r; x++) {
    let s = 0;
    for (let y = 0; y < height; y++) {
      s += rows[y * width + x];
      if (y >= n) s -= rows[(y - n) * width + x];
      if (y >= n - 1) out[(y - r) * width + x] = s;
    }
  }
  return out;
}
