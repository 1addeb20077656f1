import { rgbToYcbcr } from "../../src/core/pixels/colour";
import { createFrame, type Frame, type PixelFormat } from "../../src/core/pixels/frame";
import { random } from "../../src/core/random";
import { blur, type Image } from "./image";

export const VIDEO: PixelFormat = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false };
export const VIDEO10: PixelFormat = { ...VIDEO, bits: 10 };

/** How soft the lens is: σ in pixels of a picture 1280 wide. */
export const SOFT = 0.55;

/** What the lens adds: a little softness, a glow round what is bright, darker corners. */
export function throughLens(im: Image): Image {
  const { width, height } = im;
  const soft = blur(im.data, width, height, 3, SOFT * (width / 1280));
  const small = { w: Math.ceil(width / 8), h: Math.ceil(height / 8) };
  const bright = new Float32Array(small.w * small.h * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        const v = im.data[(y * width + x) * 3 + c] - 0.55;
        if (v > 0) bright[((y >> 3) * small.w + (x >> 3)) * 3 + c] += v / 64;
      }
  const glow = blur(bright, small.w, small.h, 3, 3);
  const out = new Float32Array(soft.length);
  for (let y = 0; y < height; y++) {
    const fy = Math.min(small.h - 1.001, Math.max(0, (y - 3.5) / 8));
    const iy = Math.floor(fy);
    const ty = fy - iy;
    for (let x = 0; x < width; x++) {
      const fx = Math.min(small.w - 1.001, Math.max(0, (x - 3.5) / 8));
      const ix = Math.floor(fx);
      const tx = fx - ix;
      const at = (iy * small.w + ix) * 3;
      const below = at + small.w * 3;
      const dx = x / width - 0.5;
      const dy = (y - height / 2) / width;
      const vignette = 1 - (0.34 / 0.33) * (dx * dx + dy * dy);
      for (let c = 0; c < 3; c++) {
        const top = glow[at + c] * (1 - tx) + glow[at + 3 + c] * tx;
        const bottom = glow[below + c] * (1 - tx) + glow[below + 3 + c] * tx;
        const i = (y * width + x) * 3 + c;
        const v = (soft[i] * 0.97 + (top * (1 - ty) + bottom * ty) * 0.35) * vignette;
        // a film-like shoulder: highlights roll off instead of clipping, blacks are lifted a hair
        out[i] = 0.012 + 0.975 * (v < 0.7 ? v : 0.7 + 0.3 * Math.tanh((v - 0.7) / 0.3));
      }
    }
  }
  return { width, height, data: out };
}

/** Y′CbCr 4:2:0 planes (BT.709, limited, left) as unrounded code values at 8 bit. */
export function toVideo(im: Image, gain = 1): Float32Array[] {
  const { width, height, data } = im;
  const full = [0, 1, 2].map(() => new Float32Array(width * height));
  for (let i = 0; i < width * height; i++) {
    const v = rgbToYcbcr(data[i * 3] * gain, data[i * 3 + 1] * gain, data[i * 3 + 2] * gain, { matrix: "bt709", range: "limited" }, 8);
    for (let p = 0; p < 3; p++) full[p][i] = v[p];
  }
  const cw = (width + 1) >> 1;
  const ch = (height + 1) >> 1;
  const down = (src: Float32Array) => {
    const out = new Float32Array(cw * ch);
    for (let y = 0; y < ch; y++)
      for (let x = 0; x < cw; x++) {
        let s = 0;
        for (const [dx, wx] of [
          [-1, 0.25],
          [0, 0.5],
          [1, 0.25],
        ])
          for (const dy of [0, 1]) {
            const xx = Math.min(width - 1, Math.max(0, 2 * x + dx));
            s += wx * 0.5 * src[Math.min(height - 1, 2 * y + dy) * width + xx];
          }
        out[y * cw + x] = s;
      }
    return out;
  };
  return [full[0], down(full[1]), down(full[2])];
}

export function quantise(planes: Float32Array[], width: number, height: number, format: PixelFormat): Frame {
  const out = createFrame(width, height, format);
  const k = 1 << (format.bits - 8);
  planes.forEach((p, i) => {
    const d = out.planes[i].data;
    for (let j = 0; j < p.length; j++) d[j] = Math.min(255 * k, Math.max(0, Math.round(p[j] * k)));
  });
  return out;
}

/** Standard deviation of the sensor's noise at 8-bit luma code `y`: shot noise over a small floor. */
export const noiseAt = (y: number, level: number) => level * (0.55 + 0.75 * Math.sqrt(Math.max(0, y - 16) / 219));

/** Adds fresh noise, a little correlated between neighbours; every frame has its own seed. */
export function addNoise(planes: Float32Array[], width: number, height: number, level: number, seed: number): Float32Array[] {
  const rnd = random(seed);
  const gauss = () => Math.sqrt(-2 * Math.log(1 - rnd())) * Math.cos(2 * Math.PI * rnd());
  return planes.map((p, i) => {
    const w = i ? (width + 1) >> 1 : width;
    const h = i ? (height + 1) >> 1 : height;
    const white = Float32Array.from({ length: w * h }, gauss);
    const out = new Float32Array(p.length);
    // 3-tap binomial-ish kernel; its norm keeps the variance at 1
    const c = 0.22;
    const norm = 1 / (1 + 2 * c * c);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        let s = 0;
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const k = (dx ? c : 1) * (dy ? c : 1);
            s += k * white[Math.min(h - 1, Math.max(0, y + dy)) * w + Math.min(w - 1, Math.max(0, x + dx))];
          }
        const at = y * w + x;
        out[at] = p[at] + s * norm * (i ? level * 0.55 : noiseAt(p[at], level));
      }
    return out;
  });
}
