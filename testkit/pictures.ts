import type { Recipe } from "../src/core/document/recipe";
import { createFrame, type Frame, maxCode, type PixelFormat, planeShift } from "../src/core/pixels/frame";
import { random } from "../src/core/random";

export const YUV420: PixelFormat = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false };
export const YUV444: PixelFormat = { ...YUV420, subX: 0, subY: 0 };

/** A picture of seeded noise. */
export function noise(width: number, height: number, format: PixelFormat, seed: number): Frame {
  const f = createFrame(width, height, format);
  const rnd = random(seed);
  for (const p of f.planes) for (let i = 0; i < p.data.length; i++) p.data[i] = Math.floor(rnd() * (maxCode(format) + 1));
  return f;
}

/** A recipe with the given layers over a take of `frames` frames. */
export function recipeWith(layers: Recipe["intruders"][number]["layers"], more: Partial<Recipe> = {}): Recipe {
  return {
    format: "umber-moth/recipe",
    version: 1,
    takes: { a: { path: "a.mkv" } },
    shot: { take: "a", in: 0, out: 9 },
    plates: { p: { from: { take: "a", frame: 0 }, touches: [] } },
    intruders: [{ id: "i", name: "thing", layers }],
    ...more,
  };
}

/** A window of a picture; even edges. */
export function part(f: Frame, x0: number, y0: number, width: number, height: number): Frame {
  const out = createFrame(width, height, f.format);
  out.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(f.format, p);
    for (let y = 0; y < plane.height; y++) {
      const from = (y + (y0 >> sy)) * f.planes[p].width + (x0 >> sx);
      plane.data.set(f.planes[p].data.subarray(from, from + plane.width), y * plane.width);
    }
  });
  return out;
}
