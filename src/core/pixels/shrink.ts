import { createFrame, type Frame } from "./frame";

/**
 * A frame reduced to `width` × `height` by area averaging on each plane: what previews at a smaller scale are
 * made from. Enlarging repeats samples. Same format; values are rounded.
 */
export function shrinkFrame(frame: Frame, width: number, height: number): Frame {
  if (width === frame.width && height === frame.height) return frame;
  const out = createFrame(width, height, frame.format);
  out.planes.forEach((dst, p) => {
    const src = frame.planes[p];
    const spansX = spans(src.width, dst.width);
    const spansY = spans(src.height, dst.height);
    for (let y = 0; y < dst.height; y++) {
      const sy = spansY[y];
      for (let x = 0; x < dst.width; x++) {
        const sx = spansX[x];
        let sum = 0;
        let weight = 0;
        for (const [j, wy] of sy)
          for (const [i, wx] of sx) {
            sum += src.data[j * src.width + i] * wx * wy;
            weight += wx * wy;
          }
        dst.data[y * dst.width + x] = Math.floor(sum / weight + 0.5);
      }
    }
  });
  return out;
}

/** For each of `to` cells, the source samples it covers with their shares. */
function spans(from: number, to: number): [number, number][][] {
  const k = from / to;
  return Array.from({ length: to }, (_, c) => {
    const a = c * k;
    const b = Math.min(from, a + k);
    const list: [number, number][] = [];
    for (let i = Math.floor(a); i < b; i++) list.push([i, Math.min(b, i + 1) - Math.max(a, i)]);
    return list;
  });
}
