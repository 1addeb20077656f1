import { createRequire } from "node:module";

interface Mat {
  data: Uint8Array;
  data32F: Float32Array;
  rows: number;
  cols: number;
  delete: () => void;
}
/** What is used of the OpenCV build for JavaScript: the outside judge of fills and seams. */
export interface OpenCv {
  Mat: { new (): Mat; new (rows: number, cols: number, type: number): Mat };
  Point: new (x: number, y: number) => unknown;
  inpaint: (src: Mat, mask: Mat, dst: Mat, radius: number, how: number) => void;
  seamlessClone?: (src: Mat, dst: Mat, mask: Mat, at: unknown, out: Mat, how: number) => void;
  CV_8UC1: number;
  CV_8UC3: number;
  INPAINT_TELEA: number;
  INPAINT_NS: number;
  NORMAL_CLONE: number;
  onRuntimeInitialized?: () => void;
}

/** Opens it; it takes a second. */
export async function openCv(): Promise<OpenCv> {
  const cv = createRequire(import.meta.url)("@techstark/opencv-js") as OpenCv;
  if (!cv.Mat) await new Promise<void>((ready) => (cv.onRuntimeInitialized = ready));
  // the library would be taken for a promise of itself
  return { ...cv, then: undefined } as OpenCv;
}

/** A hole in an interleaved picture of three channels filled by OpenCV's `inpaint`. */
export function inpainted(cv: OpenCv, rgb: ArrayLike<number>, hole: Uint8Array, width: number, height: number, how: number): Float32Array {
  const src = new cv.Mat(height, width, cv.CV_8UC3);
  const mask = new cv.Mat(height, width, cv.CV_8UC1);
  const dst = new cv.Mat();
  for (let i = 0; i < src.data.length; i++) src.data[i] = rgb[i];
  for (let i = 0; i < hole.length; i++) mask.data[i] = hole[i] ? 255 : 0;
  cv.inpaint(src, mask, dst, 3, how);
  const out = Float32Array.from(dst.data);
  for (const m of [src, mask, dst]) m.delete();
  return out;
}
