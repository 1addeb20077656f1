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

/** Separable Gaussian blur of one channel layout (`channels` interleaved), edges clamped. */
export function blur(data: Float32Array, width: number, height: number, channels: number, sigma: number): Float32Array {
  const r = Math.max(1, Math.ceil(sigma * 3));
  const k = Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const sum = k.reduce((a, b) => a + b, 0);
  const pass = (src: Float32Array, dx: boolean) => {
    const out = new Float32Array(src.length);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let c = 0; c < channels; c++) {
          let s = 0;
          for (let i = -r; i <= r; i++) {
            const xx = dx ? Math.min(width - 1, Math.max(0, x + i)) : x;
            const yy = dx ? y : Math.min(height - 1, Math.max(0, y + i));
            s += k[i + r] * src[(yy * width + xx) * channels + c];
          }
          out[(y * width + x) * channels + c] = s / sum;
        }
    return out;
  };
  return pass(pass(data, true), false);
}
