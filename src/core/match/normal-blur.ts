/** Standard deviations beyond which a normal curve is cut off. */
const CUT = 3;

/** Weights of a normal curve at −r … r, together 1; of σ = 0 a single 1. */
function normalWeights(sigma: number): Float64Array {
  const r = Math.ceil(CUT * sigma);
  const k = Float64Array.from({ length: 2 * r + 1 }, (_, i) => (sigma > 0 ? Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)) : 1));
  const total = k.reduce((a, b) => a + b, 0);
  return k.map((v) => v / total);
}

/** Samples that a blur of σ looks at on either side. */
export const blurReach = (sigma: number): number => Math.ceil(CUT * sigma);

/** A plane blurred by a normal curve, its border repeated. @param across, down σ in samples */
export function normalBlur(data: Float64Array, width: number, height: number, across: number, down = across): Float64Array {
  return alongColumns(alongRows(data, width, height, normalWeights(across)), width, height, normalWeights(down));
}

function alongRows(data: Float64Array, width: number, height: number, k: Float64Array): Float64Array {
  const r = k.length >> 1;
  if (!r) return data;
  const out = new Float64Array(data.length);
  const line = new Float64Array(width + 2 * r);
  for (let y = 0; y < height; y++) {
    const at = y * width;
    line.fill(data[at], 0, r);
    line.set(data.subarray(at, at + width), r);
    line.fill(data[at + width - 1], r + width);
    for (let x = 0; x < width; x++) {
      let s = 0;
      for (let i = 0; i < k.length; i++) s += k[i] * line[x + i];
      out[at + x] = s;
    }
  }
  return out;
}

function alongColumns(data: Float64Array, width: number, height: number, k: Float64Array): Float64Array {
  const r = k.length >> 1;
  if (!r) return data;
  const out = new Float64Array(data.length);
  for (let y = 0; y < height; y++)
    for (let i = 0; i < k.length; i++) {
      const from = Math.min(height - 1, Math.max(0, y + i - r)) * width;
      for (let x = 0, at = y * width; x < width; x++) out[at + x] += k[i] * data[from + x];
    }
  return out;
}
