import type { Rect } from "../../src/core/pixels/frame";
import { inpainted, type OpenCv, openCv } from "../../testkit/opencv";
import { ff, file } from "../measure";
import type { Picture } from "./truth";

/** The box that ffmpeg's filter fills from its border; it must lie inside the picture. */
export function delogo(film: string, box: Rect, width: number, height: number, from: number, to: number): string {
  const x = Math.max(1, box.x0);
  const y = Math.max(1, box.y0);
  const w = Math.min(width - 1, box.x1) - x;
  const h = Math.min(height - 1, box.y1) - y;
  const out = file("delogo.mkv");
  ff("-i", film, "-vf", `delogo=x=${x}:y=${y}:w=${w}:h=${h}:enable='between(n,${from},${to})'`, "-c:v", "ffv1", "-an", out);
  return out;
}

let cv: Promise<OpenCv> | null = null;

/** OpenCV's `inpaint` (Telea 2004, radius 3) of one frame over a mask, on Y′CbCr as three channels; chroma at every second place. */
export async function inpaint(take: Picture, mask: Uint8Array): Promise<Picture> {
  const c = await (cv ??= openCv());
  const { width, height } = take;
  const n = width * height;
  const at = (i: number) => (Math.floor(i / width) >> 1) * (width >> 1) + ((i % width) >> 1);
  const three = new Uint8Array(n * 3);
  for (let i = 0; i < n; i++) three.set([take.y[i], take.cb[at(i)], take.cr[at(i)]], i * 3);
  const filled = inpainted(c, three, mask, width, height, c.INPAINT_TELEA);
  const out: Picture = { width, height, y: new Float32Array(n), cb: take.cb.slice(), cr: take.cr.slice() };
  for (let i = 0; i < n; i++) {
    out.y[i] = filled[i * 3];
    if (mask[i]) {
      out.cb[at(i)] = filled[i * 3 + 1];
      out.cr[at(i)] = filled[i * 3 + 2];
    }
  }
  return out;
}
