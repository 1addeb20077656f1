/** Channels of a working picture: three of colour, and how much texture there is. */
export const CHANNELS = 4;
export const TEXTURE = 3;
/** What a code of texture counts for beside a code of colour. */
const TEXTURE_WEIGHT = 3;
/** Half the side of the square over which texture is averaged. */
const TEXTURE_REACH = 4;

/** A working picture of a fill: interleaved channels in 8-bit code values, with what is to be filled and what may be taken. */
export interface FillPicture {
  width: number;
  height: number;
  /** Interleaved, four a pixel. */
  data: Float32Array;
  /** 1 where the picture is to be filled. */
  hole: Uint8Array;
  /** 1 where nothing may be taken from. */
  barred: Uint8Array;
}

/** An empty one: black, nothing to be filled, all of it free to be taken. */
export const createFillPicture = (width: number, height: number): FillPicture => ({
  width,
  height,
  data: new Float32Array(CHANNELS * width * height),
  hole: new Uint8Array(width * height),
  barred: new Uint8Array(width * height),
});

/** Half the size: means of what is known of two by two pixels; a pixel is a hole where at least half of them are. */
export function halved(p: FillPicture): FillPicture {
  const width = (p.width + 1) >> 1;
  const height = (p.height + 1) >> 1;
  const out = createFillPicture(width, height);
  const { data, hole, barred } = out;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const o = y * width + x;
      const sum = [0, 0, 0, 0];
      const all = [0, 0, 0, 0];
      let known = 0;
      let count = 0;
      for (let j = 2 * y; j < Math.min(p.height, 2 * y + 2); j++)
        for (let i = 2 * x; i < Math.min(p.width, 2 * x + 2); i++) {
          const at = j * p.width + i;
          count++;
          if (p.barred[at]) barred[o] = 1;
          for (let k = 0; k < CHANNELS; k++) all[k] += p.data[CHANNELS * at + k];
          if (p.hole[at]) continue;
          known++;
          for (let k = 0; k < CHANNELS; k++) sum[k] += p.data[CHANNELS * at + k];
        }
      hole[o] = 2 * known <= count ? 1 : 0;
      for (let k = 0; k < CHANNELS; k++) data[CHANNELS * o + k] = known ? sum[k] / known : all[k] / count;
    }
  return out;
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
      for (let k = 0; k < CHANNELS; k++) {
        const a = coarse.data[CHANNELS * (y0 * w + x0) + k] * (1 - tx) + coarse.data[CHANNELS * (y0 * w + x1) + k] * tx;
        const b = coarse.data[CHANNELS * (y1 * w + x0) + k] * (1 - tx) + coarse.data[CHANNELS * (y1 * w + x1) + k] * tx;
        fine.data[CHANNELS * o + k] = a * (1 - ty) + b * ty;
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

/**
 * Works out the channel of texture at the known pixels: the mean size of the differences to the neighbours, over a small square
 * (as the texture features of Newson et al. 2014, "Video inpainting of complex scenes"). Without it a fill goes over into what
 * is smooth, since a mean of patches is smooth and so is most like the smoothest of them.
 */
export function addTexture(p: FillPicture): void {
  const { width: w, height: h, data, hole } = p;
  const size = new Float32Array(w * h);
  const known = new Float32Array(w * h);
  for (let y = 0; y < h - 1; y++)
    for (let x = 0; x < w - 1; x++) {
      const i = y * w + x;
      if (hole[i] || hole[i + 1] || hole[i + w]) continue;
      known[i] = 1;
      const v = data[CHANNELS * i];
      size[i] = Math.abs(data[CHANNELS * (i + 1)] - v) + Math.abs(data[CHANNELS * (i + w)] - v);
    }
  const sums = wideSums(size, w, h);
  const counts = wideSums(known, w, h);
  for (let i = 0; i < w * h; i++) data[CHANNELS * i + TEXTURE] = counts[i] ? (TEXTURE_WEIGHT * sums[i]) / counts[i] : 0;
}

/** Sums over squares, cut off at the border. */
function wideSums(values: Float32Array, w: number, h: number): Float64Array {
  const sat = new Float64Array((w + 1) * (h + 1));
  for (let y = 0; y < h; y++) {
    let row = 0;
    for (let x = 0; x < w; x++) {
      row += values[y * w + x];
      sat[(y + 1) * (w + 1) + x + 1] = sat[y * (w + 1) + x + 1] + row;
    }
  }
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++) {
    const [a, b] = [Math.max(0, y - TEXTURE_REACH) * (w + 1), Math.min(h, y + TEXTURE_REACH + 1) * (w + 1)];
    for (let x = 0; x < w; x++) {
      const [c, d] = [Math.max(0, x - TEXTURE_REACH), Math.min(w, x + TEXTURE_REACH + 1)];
      out[y * w + x] = sat[b + d] - sat[b + c] - sat[a + d] + sat[a + c];
    }
  }
  return out;
}
