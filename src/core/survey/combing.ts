import type { Plane } from "../pixels/frame";

/**
 * Share of moving pixels at which a line differs from both its neighbours in the same direction while those two agree:
 * what two fields of different moments look like when they are woven into one frame. 0–1; 0 where nothing moves.
 */
export function combing(before: Plane, now: Plane, bits: number): { share: number; moving: number } {
  const { width, height, data } = now;
  const k = 1 / (1 << (bits - 8));
  const old = before.data;
  let [moving, combed] = [0, 0];
  for (let y = 2; y + 2 < height; y += 3)
    for (let x = 0; x < width; x += 2) {
      const i = y * width + x;
      if (Math.abs(data[i] - old[i]) * k < 10) continue;
      moving++;
      const up = (data[i] - data[i - width]) * k;
      const down = (data[i] - data[i + width]) * k;
      if (up * down < 64) continue;
      if (Math.abs(data[i - width] - data[i + width]) * k < Math.min(Math.abs(up), Math.abs(down)) / 2) combed++;
    }
  return { share: moving ? combed / moving : 0, moving };
}
