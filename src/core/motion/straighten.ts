import type { Gray } from "./gray";
import type { Alignment } from "./register";

/** Turn (degrees) and enlargement from which what is looked for no longer looks like itself. */
const TURNED = 2;
const SCALED = 0.04;

/** Whether a picture lies so far turned or enlarged that it has to be brought back before anything is looked for in it. */
export const isFar = ({ angle, scale }: Alignment): boolean => Math.abs(angle) > TURNED || Math.abs(scale - 1) > SCALED;

const turnOf = ({ angle, scale }: Alignment): [number, number] => {
  const r = (angle * Math.PI) / 180;
  return [scale * Math.cos(r), scale * Math.sin(r)];
};

/** A picture brought back to where its reference lies, as `by` says that it lies against that; linear between samples, the border goes on. */
export function straightened({ width, height, data }: Gray, by: Alignment): Gray & { data: Float32Array } {
  const out = new Float32Array(width * height);
  const [c, s] = turnOf(by);
  const [cx, cy] = [width / 2, height / 2];
  for (let y = 0, o = 0; y < height; y++) {
    const v = y + 0.5 - cy;
    for (let x = 0; x < width; x++, o++) {
      const u = x + 0.5 - cx;
      const px = Math.max(0, Math.min(width - 1.001, cx + c * u - s * v + by.dx - 0.5));
      const py = Math.max(0, Math.min(height - 1.001, cy + s * u + c * v + by.dy - 0.5));
      const i = Math.floor(px);
      const j = Math.floor(py);
      const a = px - i;
      const b = py - j;
      const at = j * width + i;
      out[o] = (1 - b) * ((1 - a) * data[at] + a * data[at + 1]) + b * ((1 - a) * data[at + width] + a * data[at + width + 1]);
    }
  }
  return { width, height, data: out };
}

/** How a picture lies that was brought back by `by` and then was found to lie at `rest`. */
export function composed(by: Alignment, rest: Alignment): Alignment {
  const [c, s] = turnOf(by);
  return {
    dx: by.dx + c * rest.dx - s * rest.dy,
    dy: by.dy + s * rest.dx + c * rest.dy,
    angle: by.angle + rest.angle,
    scale: by.scale * rest.scale,
    agree: rest.agree,
  };
}
