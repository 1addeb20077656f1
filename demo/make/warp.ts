import type { Layer } from "./image";

export interface Place {
  /** Radians, clockwise in the picture. */
  angle: number;
  about: { x: number; y: number };
  /** Pixels to the right. */
  dx: number;
  /** Pixels to the right for every pixel down from the pivot. */
  lean: number;
}

/** Keys' cubic (a = −½), as in R. G. Keys, "Cubic convolution interpolation", 1981. */
const cubic = (t: number) => {
  const x = Math.abs(t);
  if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
  return x < 2 ? ((-0.5 * x + 2.5) * x - 4) * x + 2 : 0;
};

/** Samples `channels` interleaved values at (x, y) in pixels, 0 the picture's left and top edge. */
function sampler(data: Float32Array, width: number, height: number, channels: number, clamp: boolean) {
  return (x: number, y: number, out: Float32Array, at: number) => {
    const [ix, iy] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    for (let c = 0; c < channels; c++) out[at + c] = 0;
    if (!clamp && (ix < -2 || iy < -2 || ix > width + 1 || iy > height + 1)) return;
    for (let j = -1; j <= 2; j++) {
      let yy = iy + j;
      if (clamp) yy = Math.min(height - 1, Math.max(0, yy));
      else if (yy < 0 || yy >= height) continue;
      const wy = cubic(y - 0.5 - iy - j);
      for (let i = -1; i <= 2; i++) {
        let xx = ix + i;
        if (clamp) xx = Math.min(width - 1, Math.max(0, xx));
        else if (xx < 0 || xx >= width) continue;
        const w = wy * cubic(x - 0.5 - ix - i);
        const from = (yy * width + xx) * channels;
        for (let c = 0; c < channels; c++) out[at + c] += w * data[from + c];
      }
    }
  };
}

/** A layer turned, moved and leaned; what comes from beyond its edges is empty. */
export function placed(l: Layer, p: Place): Layer {
  const { width, height } = l;
  const out: Layer = { width, height, data: new Float32Array(l.data.length), alpha: new Float32Array(l.alpha.length) };
  const colour = sampler(l.data, width, height, 3, false);
  const alpha = sampler(l.alpha, width, height, 1, false);
  const [cos, sin] = [Math.cos(-p.angle), Math.sin(-p.angle)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const dy = y + 0.5 - p.about.y;
      const dx = x + 0.5 - p.about.x - p.dx - p.lean * dy;
      const sx = p.about.x + dx * cos - dy * sin;
      const sy = p.about.y + dx * sin + dy * cos;
      const i = y * width + x;
      alpha(sx, sy, out.alpha, i);
      if (out.alpha[i] > 1e-5) colour(sx, sy, out.data, i * 3);
      out.alpha[i] = Math.min(1, Math.max(0, out.alpha[i]));
    }
  return out;
}

/** A window of `width` × `height` cut from a larger picture, its corner at (x, y) in fractions of a pixel; edges are repeated. */
export function cutAt(
  data: Float32Array,
  from: { width: number; height: number },
  x: number,
  y: number,
  width: number,
  height: number,
  channels: number,
) {
  // the fraction is the same everywhere, so rows and columns are weighed one after the other
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  const weights = (f: number) => [-1, 0, 1, 2].map((i) => cubic(f - i));
  const [kx, ky] = [weights(x - ix), weights(y - iy)];
  const clamp = (v: number, size: number) => Math.min(size - 1, Math.max(0, v));
  const row = width * channels;
  const mid = new Float32Array(row * (height + 3));
  // samples of a line beside each other, its edges repeated: each is then a sum of neighbours
  const line = new Float32Array((width + 3) * channels);
  for (let j = 0; j < height + 3; j++) {
    const from0 = clamp(iy + j - 1, from.height) * from.width;
    for (let i = 0; i < width + 3; i++) {
      const at = (from0 + clamp(ix + i - 1, from.width)) * channels;
      for (let c = 0; c < channels; c++) line[i * channels + c] = data[at + c];
    }
    weighed(mid, j * row, row, line, 0, channels, kx);
  }
  const out = new Float32Array(row * height);
  for (let j = 0; j < height; j++) weighed(out, j * row, row, mid, j * row, row, ky);
  return out;
}

/** Each of `count` samples as a sum of four that lie `step` apart, rounded to single precision after each. */
function weighed(out: Float32Array, to: number, count: number, data: Float32Array, from: number, step: number, k: readonly number[]) {
  const [k0, k1, k2, k3] = k;
  const f = Math.fround;
  for (let i = 0, at = from; i < count; i++, at++)
    out[to + i] = f(f(f(k0 * data[at]) + k1 * data[at + step]) + k2 * data[at + 2 * step]) + k3 * data[at + 3 * step];
}

/** One channel of another size, by Keys' cubic. */
export function scaledPlane(data: Float32Array, from: { width: number; height: number }, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  const sample = sampler(data, from.width, from.height, 1, true);
  const [kx, ky] = [from.width / width, from.height / height];
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) sample((x + 0.5) * kx, (y + 0.5) * ky, out, y * width + x);
  return out;
}

/** A layer of another size; empty places are not looked at twice. */
export function scaledLayer(l: Layer, width: number, height: number): Layer {
  const out: Layer = { width, height, data: new Float32Array(width * height * 3), alpha: scaledPlane(l.alpha, l, width, height) };
  const sample = sampler(l.data, l.width, l.height, 3, true);
  const [kx, ky] = [l.width / width, l.height / height];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      out.alpha[i] = Math.min(1, Math.max(0, out.alpha[i]));
      if (out.alpha[i] > 1e-5) sample((x + 0.5) * kx, (y + 0.5) * ky, out.data, i * 3);
    }
  return out;
}
