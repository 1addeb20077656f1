import { join } from "node:path";
import { frames } from "../demo/make/decode";
import { SOFT } from "../demo/make/camera";
import { blur } from "../demo/make/image";
import { boxMean } from "../src/core/match/box-mean";
import { bt709 } from "../src/core/look/viewing";
import { root } from "./measure";
import { Truth } from "./truth/truth";

/** Pixels about within which what covers all tells the colour of the thing; below so much difference to the ground no share is told. */
const AROUND = 5;
const APART = 0.06;

/** BT.709's transfer back: code 0–1 to light 0–1 (ITU-R BT.709-6, item 1.2). */
const light = (v: number): number => (v < 0.081 ? v / 4.5 : ((v + 0.099) / 1.099) ** (1 / 0.45));

/**
 * The share by which a pixel's code lies between those of the ground and of a thing that covers a part of it: light mixes, codes do not.
 * @param coverage 0–1 @param thing,ground codes 0–1, not the same
 */
export function shareAsCoded(coverage: number, thing: number, ground: number): number {
  const mixed = bt709(coverage * light(thing) + (1 - coverage) * light(ground));
  return Math.min(1, Math.max(0, (mixed - ground) / (thing - ground)));
}

/**
 * The shares that the codes of a film show of true coverage, 0–255: a lens softens rims, and light mixes where codes do not, so that a
 * dark thing that covers half of a pixel before bright ground shows as a third. A patch is laid over codes, and so are mattes measured.
 * @param coverage of each frame as it was traced @param list the frames
 */
export function sharesAsCoded(take: string, list: number[], coverage: readonly Uint8Array[], width: number, height: number): Uint8Array[] {
  const { clean } = new Truth(take).facts;
  const seen = frames(join(root, `demo/takes/${take}.mp4`), list, "gray", width * height);
  const ground = frames(join(root, `demo/truth/${take}-clean.mkv`), list, "gray", clean.width * clean.height);
  return coverage.map((c) => {
    const share = blur(
      Float32Array.from(c, (v) => v / 255),
      width,
      height,
      1,
      SOFT * (width / 1280),
    );
    const [film, back] = [seen.next().value as Buffer, ground.next().value as Buffer];
    const whole = Float32Array.from(share, (a) => (a > 0.98 ? 1 : 0));
    const weight = boxMean(whole, width, height, AROUND);
    const colour = boxMean(
      whole.map((v, i) => v * film[i]),
      width,
      height,
      AROUND,
    );
    return Uint8Array.from(share, (a, i) => {
      const [x, y] = [(i % width) - clean.x, Math.floor(i / width) - clean.y];
      const known = x >= 0 && y >= 0 && x < clean.width && y < clean.height && weight[i] > 1e-6;
      if (!known || a <= 0 || a >= 1) return Math.round(255 * a);
      const [f, b] = [colour[i] / weight[i] / 255, back[y * clean.width + x] / 255];
      if (Math.abs(f - b) < APART) return Math.round(255 * a);
      return Math.round(255 * shareAsCoded(a, f, b));
    });
  });
}
