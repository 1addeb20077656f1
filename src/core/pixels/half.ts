import { createFrame, type Frame, type Plane } from "./frame";

/** A frame at half its size, each plane by means of 2 × 2 samples, halves up; an odd last row or column is averaged with itself. Same format. */
export function halfFrame(frame: Frame): Frame {
  const out = createFrame((frame.width + 1) >> 1, (frame.height + 1) >> 1, frame.format);
  out.planes.forEach((to, p) => halfPlane(frame.planes[p], to));
  return out;
}

function halfPlane({ width, height, data }: Plane, to: Plane): void {
  const out = to.data;
  for (let y = 0, o = 0; y < to.height; y++) {
    const a = Math.min(2 * y, height - 1) * width;
    const b = Math.min(2 * y + 1, height - 1) * width;
    const pairs = Math.min(to.width, width >> 1);
    for (let x = 0, i = 0; x < pairs; x++, i += 2) out[o++] = (data[a + i] + data[a + i + 1] + data[b + i] + data[b + i + 1] + 2) >> 2;
    // chroma of an odd picture may have a column that lies beyond it
    for (let x = pairs; x < to.width; x++) out[o++] = (data[a + width - 1] + data[b + width - 1] + 1) >> 1;
  }
}
