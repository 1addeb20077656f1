import sharp from "sharp";

/** A picture of R′, G′, B′ in 0–1, interleaved. */
export interface Image {
  width: number;
  height: number;
  data: Float32Array;
}

export async function readImage(path: string): Promise<Image> {
  const { data, info } = await sharp(path).removeAlpha().toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
  const v = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
  return { width: info.width, height: info.height, data: Float32Array.from(v, (x) => x / 65535) };
}

export const copyImage = (a: Image): Image => ({ ...a, data: a.data.slice() });

export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** Boxes given at a take's full size, in pixels of one `s` times as large. */
export const boxAt =
  (s: number) =>
  (x0: number, y0: number, x1: number, y1: number): Box => ({
    x0: Math.floor(x0 * s),
    y0: Math.floor(y0 * s),
    x1: Math.ceil(x1 * s),
    y1: Math.ceil(y1 * s),
  });

/** 0 before `a`, 1 after `b`, without a jerk between. */
export const smooth = (a: number, b: number, t: number) => {
  const u = Math.min(1, Math.max(0, (t - a) / (b - a)));
  return u * u * (3 - 2 * u);
};

/** Puts the rectangle of `src` over `dst`, in place. */
export function paste(dst: Image, src: Image, r: Box): void {
  for (let y = r.y0; y < r.y1; y++) {
    const a = (y * dst.width + r.x0) * 3;
    dst.data.set(src.data.subarray(a, a + (r.x1 - r.x0) * 3), a);
  }
}

export function average(list: Image[]): Image {
  const out = copyImage(list[0]);
  for (let i = 0; i < out.data.length; i++) {
    let s = 0;
    for (const p of list) s += p.data[i];
    out.data[i] = s / list.length;
  }
  return out;
}

/** A picture that covers only part of what lies below: `data` is multiplied by `alpha`. */
export interface Layer extends Image {
  alpha: Float32Array;
}

/** A picture with its alpha, R′, G′, B′ multiplied by it; only what lies within `box`, where one is given. */
export async function readLayer(path: string, box?: Box): Promise<Layer> {
  const { data, info } = await sharp(path).ensureAlpha().toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
  const v = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
  const n = info.width * info.height;
  const out: Layer = { width: info.width, height: info.height, data: new Float32Array(n * 3), alpha: new Float32Array(n) };
  const b = box ?? { x0: 0, y0: 0, x1: info.width, y1: info.height };
  for (let y = b.y0; y < b.y1; y++)
    for (let i = y * info.width + b.x0; i < y * info.width + b.x1; i++) {
      const a = v[i * 4 + 3] / 65535;
      out.alpha[i] = a;
      for (let c = 0; c < 3; c++) out.data[i * 3 + c] = (v[i * 4 + c] / 65535) * a;
    }
  return out;
}

/** Puts a layer over a picture, in place. */
export function over(dst: Image, layer: Layer): void {
  const { alpha } = layer;
  for (let i = 0; i < alpha.length; i++) {
    const a = alpha[i];
    if (a === 0) continue;
    for (let k = i * 3; k < i * 3 + 3; k++) dst.data[k] = layer.data[k] + (1 - a) * dst.data[k];
  }
}

/** What a shutter open for `length` pixels of sideways movement makes of one channel layout. */
export function smear(data: Float32Array, width: number, height: number, channels: number, length: number): Float32Array {
  if (length < 0.05) return data;
  const out = new Float32Array(data.length);
  const half = length / 2;
  const r = Math.ceil(half + 0.5);
  // the share of a box of this length that lies over each neighbour
  const k = Array.from({ length: 2 * r + 1 }, (_, i) => Math.max(0, Math.min(i - r + 0.5, half) - Math.max(i - r - 0.5, -half)) / length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) {
        let s = 0;
        for (let i = -r; i <= r; i++) s += k[i + r] * data[(y * width + Math.min(width - 1, Math.max(0, x + i))) * channels + c];
        out[(y * width + x) * channels + c] = s;
      }
  return out;
}

export const smearLayer = (l: Layer, length: number): Layer => ({
  ...l,
  data: smear(l.data, l.width, l.height, 3, length),
  alpha: smear(l.alpha, l.width, l.height, 1, length),
});

/** Separable Gaussian blur of one channel layout (`channels` interleaved), edges clamped. */
export function blur(data: Float32Array, width: number, height: number, channels: number, sigma: number): Float32Array {
  const r = Math.max(1, Math.ceil(sigma * 3));
  const k = Float32Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const sum = k.reduce((a, b) => a + b, 0);
  for (let i = 0; i < k.length; i++) k[i] /= sum;
  const row = width * channels;
  const mid = new Float32Array(data.length);
  const padded = new Float32Array((width + 2 * r) * channels);
  for (let y = 0; y < height; y++) {
    padded.set(data.subarray(y * row, (y + 1) * row), r * channels);
    for (let i = 0; i < r; i++)
      for (let c = 0; c < channels; c++) {
        padded[i * channels + c] = data[y * row + c];
        padded[(width + r + i) * channels + c] = data[(y + 1) * row - channels + c];
      }
    for (let x = 0; x < row; x++) {
      let s = 0;
      for (let i = 0; i < k.length; i++) s += k[i] * padded[x + i * channels];
      mid[y * row + x] = s;
    }
  }
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++)
    for (let i = -r; i <= r; i++) {
      const from = Math.min(height - 1, Math.max(0, y + i)) * row;
      const w = k[i + r];
      for (let x = 0; x < row; x++) out[y * row + x] += w * mid[from + x];
    }
  return out;
}
