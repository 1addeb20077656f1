import type { Gray } from "../motion/gray";
import { grayOf } from "../motion/gray";
import type { Frame } from "../pixels/frame";

/** The brightness of a frame, codes of 8 bits: its luma, or of R′G′B′ the mean. */
export function lumaOf(f: Frame): Gray {
  const { bits, model } = f.format;
  if (model !== "rgb") return grayOf(f.planes[0], bits);
  const { width, height } = f.planes[0];
  const [a, b, c] = f.planes.map((p) => grayOf(p, bits).data);
  const data = new Float32Array(width * height);
  for (let i = 0; i < data.length; i++) data[i] = (a[i] + b[i] + c[i]) / 3;
  return { width, height, data };
}
