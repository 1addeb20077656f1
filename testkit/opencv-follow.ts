import type { Place } from "../src/core/follow/homography";
import type { Gray } from "../src/core/motion/gray";
import { openCv } from "./opencv";

interface Mat {
  data: Uint8Array;
  data32F: Float32Array;
  data64F: Float64Array;
  rows: number;
  roi: (r: unknown) => Mat;
  delete: () => void;
}
/** What is used of the OpenCV build for JavaScript to follow a region: the outside judges of tracks. */
interface Follow {
  Mat: { new (): Mat; new (rows: number, cols: number, type: number): Mat };
  Rect: new (x: number, y: number, w: number, h: number) => unknown;
  Size: new (w: number, h: number) => unknown;
  TermCriteria: new (kind: number, count: number, epsilon: number) => unknown;
  goodFeaturesToTrack: (image: Mat, corners: Mat, most: number, quality: number, apart: number, mask: Mat) => void;
  calcOpticalFlowPyrLK: (a: Mat, b: Mat, from: Mat, to: Mat, status: Mat, error: Mat, window: unknown, levels: number) => void;
  estimateAffine2D: (from: Mat, to: Mat) => Mat;
  matchTemplate: (image: Mat, template: Mat, out: Mat, how: number) => void;
  minMaxLoc: (m: Mat) => { maxLoc: { x: number; y: number } };
  findTransformECC: (template: Mat, image: Mat, warp: Mat, motion: number, criteria: unknown, mask: Mat, smooth: number) => number;
  CV_8UC1: number;
  CV_32F: number;
  CV_32FC2: number;
  TM_CCOEFF_NORMED: number;
  MOTION_AFFINE: number;
}

export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Follows a box from the first of some pictures through the others. @param point of it, whose places are told */
export type Judge = (pictures: readonly Gray[], box: Box, point: Place) => Place[];

/** OpenCV's ways of following, each as its manual has it. */
export async function openCvFollow(): Promise<Record<"pyramidal LK" | "matchTemplate" | "ECC", Judge>> {
  const cv = (await openCv()) as unknown as Follow;
  const matOf = (g: Gray) => {
    const m = new cv.Mat(g.height, g.width, cv.CV_8UC1);
    for (let i = 0; i < m.data.length; i++) m.data[i] = Math.min(255, Math.max(0, Math.round(g.data[i])));
    return m;
  };
  return {
    "pyramidal LK"(pictures, box, point) {
      let before = matOf(pictures[0]);
      const mask = new cv.Mat(pictures[0].height, pictures[0].width, cv.CV_8UC1);
      mask.data.fill(0);
      for (let y = box.y; y < box.y + box.h; y++) mask.data.fill(255, y * pictures[0].width + box.x, y * pictures[0].width + box.x + box.w);
      const first = new cv.Mat();
      cv.goodFeaturesToTrack(before, first, 60, 0.01, 5, mask);
      let start = Array.from({ length: first.rows }, (_, i): Place => [first.data32F[2 * i], first.data32F[2 * i + 1]]);
      let now = start.slice();
      const points = (list: Place[]) => {
        const m = new cv.Mat(list.length, 1, cv.CV_32FC2);
        m.data32F.set(list.flat());
        return m;
      };
      return pictures.slice(1).map((g) => {
        const next = matOf(g);
        const [from, to, status, error] = [points(now), new cv.Mat(), new cv.Mat(), new cv.Mat()];
        cv.calcOpticalFlowPyrLK(before, next, from, to, status, error, new cv.Size(21, 21), 3);
        const kept = now.map((_, i) => i).filter((i) => status.data[i]);
        start = kept.map((i) => start[i]);
        now = kept.map((i): Place => [to.data32F[2 * i], to.data32F[2 * i + 1]]);
        const [a, b] = [points(start), points(now)];
        const m = cv.estimateAffine2D(a, b);
        const v = m.data64F;
        // its points count from the middle of the first pixel
        const [x, y] = point.map((c) => c - 0.5);
        const at: Place = [v[0] * x + v[1] * y + v[2] + 0.5, v[3] * x + v[4] * y + v[5] + 0.5];
        for (const t of [before, from, to, status, error, a, b, m]) t.delete();
        before = next;
        return at;
      });
    },
    matchTemplate(pictures, box, [cx, cy]) {
      const whole = matOf(pictures[0]);
      const template = whole.roi(new cv.Rect(box.x, box.y, box.w, box.h));
      return pictures.slice(1).map((g) => {
        const image = matOf(g);
        const out = new cv.Mat();
        cv.matchTemplate(image, template, out, cv.TM_CCOEFF_NORMED);
        const { x, y } = cv.minMaxLoc(out).maxLoc;
        for (const t of [image, out]) t.delete();
        return [cx + x - box.x, cy + y - box.y];
      });
    },
    ECC(pictures, box, point) {
      const whole = matOf(pictures[0]);
      const template = whole.roi(new cv.Rect(box.x, box.y, box.w, box.h));
      const warp = new cv.Mat(2, 3, cv.CV_32F);
      warp.data32F.set([1, 0, box.x, 0, 1, box.y]);
      const criteria = new cv.TermCriteria(3, 100, 1e-5);
      const none = new cv.Mat();
      return pictures.slice(1).map((g) => {
        const image = matOf(g);
        cv.findTransformECC(template, image, warp, cv.MOTION_AFFINE, criteria, none, 5);
        const v = warp.data32F;
        const [x, y] = [point[0] - box.x - 0.5, point[1] - box.y - 0.5];
        image.delete();
        return [v[0] * x + v[1] * y + v[2] + 0.5, v[3] * x + v[4] * y + v[5] + 0.5];
      });
    },
  };
}
