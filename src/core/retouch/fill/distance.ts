/** For each pixel how far the nearest pixel of `flags` that is `of` lies, 0 at such pixels, by the chamfer 3–4 measure (Borgefors 1986); pixels. */
export function distanceTo(flags: Uint8Array, width: number, height: number, of: 0 | 1): Float32Array {
  const far = 3 * (width + height);
  const d = new Float32Array(width * height);
  for (let i = 0; i < d.length; i++) d[i] = flags[i] === of ? 0 : far;
  const pass = (y0: number, y1: number, x0: number, x1: number, s: number) => {
    for (let y = y0; y !== y1; y += s)
      for (let x = x0; x !== x1; x += s) {
        const i = y * width + x;
        let v = d[i];
        const [px, nx] = [x - s, x + s];
        const row = i - s * width;
        const rows = y - s >= 0 && y - s < height;
        if (px >= 0 && px < width) v = Math.min(v, d[i - s] + 3);
        if (rows) {
          v = Math.min(v, d[row] + 3);
          if (px >= 0 && px < width) v = Math.min(v, d[row - s] + 4);
          if (nx >= 0 && nx < width) v = Math.min(v, d[row + s] + 4);
        }
        d[i] = v;
      }
  };
  pass(0, height, 0, width, 1);
  pass(height - 1, -1, width - 1, -1, -1);
  return d.map((v) => v / 3);
}
