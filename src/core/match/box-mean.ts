/** Means over squares of side 2r + 1, cut at the picture's borders. */
export function boxMean(values: ArrayLike<number>, width: number, height: number, r: number): Float64Array {
  // one kind of numbers whatever comes in: code that reads many kinds is several times slower
  const data = new Float64Array(values);
  const rows = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    const at = y * width;
    let sum = 0;
    for (let x = 0; x < Math.min(r, width); x++) sum += data[at + x];
    const from = Math.min(r + 1, width);
    const to = Math.max(from, width - r);
    for (let x = 0; x < from; x++) {
      if (x + r < width) sum += data[at + x + r];
      rows[at + x] = sum / (Math.min(width - 1, x + r) + 1);
    }
    for (let x = from; x < to; x++) {
      sum += data[at + x + r];
      sum -= data[at + x - r - 1];
      rows[at + x] = sum / (2 * r + 1);
    }
    for (let x = to; x < width; x++) {
      sum -= data[at + x - r - 1];
      rows[at + x] = sum / (width - x + r);
    }
  }
  const out = new Float64Array(width * height);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(r, height); y++) for (let x = 0; x < width; x++) sums[x] += rows[y * width + x];
  for (let y = 0; y < height; y++) {
    const [from, to] = [(y - r - 1) * width, (y + r) * width];
    const one = 1 / (Math.min(height - 1, y + r) - Math.max(0, y - r) + 1);
    const at = y * width;
    if (y + r < height && y - r - 1 >= 0) for (let x = 0; x < width; x++) out[at + x] = (sums[x] += rows[to + x] - rows[from + x]) * one;
    else {
      if (y + r < height) for (let x = 0; x < width; x++) sums[x] += rows[to + x];
      if (y - r - 1 >= 0) for (let x = 0; x < width; x++) sums[x] -= rows[from + x];
      for (let x = 0; x < width; x++) out[at + x] = sums[x] * one;
    }
  }
  return out;
}
