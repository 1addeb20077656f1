import { join } from "node:path";
import type { Rect } from "../../src/core/pixels/frame";
import { ff, file, root } from "../measure";
import type { Picture } from "./truth";

/** The box that ffmpeg's filter fills from its border; it must lie inside the picture. */
export function delogo(take: string, box: Rect, width: number, height: number, from: number, to: number): string {
  const x = Math.max(1, box.x0);
  const y = Math.max(1, box.y0);
  const w = Math.min(width - 1, box.x1) - x;
  const h = Math.min(height - 1, box.y1) - y;
  const out = file("delogo.mkv");
  ff(
    "-i",
    join(root, "demo/takes", `${take}.mp4`),
    "-vf",
    `delogo=x=${x}:y=${y}:w=${w}:h=${h}:enable='between(n,${from},${to})'`,
    "-c:v",
    "ffv1",
    "-an",
    out,
  );
  return out;
}

interface Cv {
  Mat: new () => { data: Uint8Array; delete: () => void };
  matFromArray: (rows: number, cols: number, type: number, data: ArrayLike<number>) => { delete: () => void };
  inpaint: (src: unknown, mask: unknown, dst: unknown, radius: number, how: number) => void;
  CV_8UC1: number;
  CV_8UC3: number;
  INPAINT_TELEA: number;
}
let cv: Promise<Cv> | null = null;
async function openCv(): Promise<Cv> {
  const module = ((await import("@techstark/opencv-js")) as unknown as { default: Cv & { onRuntimeInitialized?: () => void } }).default;
  if (!module.Mat) await new Promise<void>((ready) => (module.onRuntimeInitialized = ready));
  // the library would be taken for a promise of itself
  return { ...module, then: undefined } as Cv;
}

/** OpenCV's `inpaint` (Telea 2004, radius 3) of one frame over a mask, on Y′CbCr as three channels; chroma at every second place. */
export async function inpaint(take: Picture, mask: Uint8Array): Promise<Picture> {
  const c = await (cv ??= openCv());
  const { width, height } = take;
  const n = width * height;
  const at = (i: number) => (Math.floor(i / width) >> 1) * (width >> 1) + ((i % width) >> 1);
  const three = new Uint8Array(n * 3);
  for (let i = 0; i < n; i++) three.set([take.y[i], take.cb[at(i)], take.cr[at(i)]], i * 3);
  const src = c.matFromArray(height, width, c.CV_8UC3, three);
  const where = c.matFromArray(
    height,
    width,
    c.CV_8UC1,
    mask.map((m) => (m ? 255 : 0)),
  );
  const dst = new c.Mat();
  c.inpaint(src, where, dst, 3, c.INPAINT_TELEA);
  const out: Picture = { width, height, y: new Float32Array(n), cb: take.cb.slice(), cr: take.cr.slice() };
  for (let i = 0; i < n; i++) {
    out.y[i] = dst.data[i * 3];
    if (mask[i]) {
      out.cb[at(i)] = dst.data[i * 3 + 1];
      out.cr[at(i)] = dst.data[i * 3 + 2];
    }
  }
  for (const m of [src, where, dst]) m.delete();
  return out;
}
