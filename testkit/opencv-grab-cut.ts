import { openCv } from "./opencv";

interface Mat {
  data: Uint8Array;
  delete: () => void;
}
interface GrabCut {
  Mat: { new (): Mat; new (rows: number, cols: number, type: number): Mat };
  Rect: new (x: number, y: number, w: number, h: number) => unknown;
  grabCut: (image: Mat, mask: Mat, rect: unknown, ground: Mat, thing: Mat, rounds: number, how: number) => void;
  CV_8UC1: number;
  CV_8UC3: number;
  GC_INIT_WITH_RECT: number;
}

/** OpenCV's `grabCut` (Rother, Kolmogorov & Blake 2004) of what a box surrounds, by five rounds: 1 where the thing is. @param rgb interleaved */
export async function openCvGrabCut(): Promise<
  (rgb: Uint8Array, width: number, height: number, box: [number, number, number, number]) => Uint8Array
> {
  const cv = (await openCv()) as unknown as GrabCut;
  return (rgb, width, height, box) => {
    const image = new cv.Mat(height, width, cv.CV_8UC3);
    image.data.set(rgb);
    const mask = new cv.Mat(height, width, cv.CV_8UC1);
    const [ground, thing] = [new cv.Mat(), new cv.Mat()];
    cv.grabCut(image, mask, new cv.Rect(...box), ground, thing, 5, cv.GC_INIT_WITH_RECT);
    const out = Uint8Array.from(mask.data, (v) => v & 1);
    for (const m of [image, mask, ground, thing]) m.delete();
    return out;
  };
}
