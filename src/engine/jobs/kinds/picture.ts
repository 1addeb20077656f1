import { readFile, writeFile } from "node:fs/promises";
import { createHash } from "node:crypto";
import type { Colour } from "../../../core/pixels/colour";
import { bytesOf, type PixelFormat } from "../../../core/pixels/frame";
import { hasAlpha, stillFrame, stillValues } from "../../../core/pixels/still";
import { bytesIn } from "../../media/bytes";
import { readPicture } from "../../media/picture";
import { pictureFile } from "../../render/pictures";
import { type Kind, SINGLE_PICTURE } from "../kind";

/** Reads a picture that is coming in: whether it is one, and what it is. */
export const readIn: Kind<{ from: string }, { asset: string; width: number; height: number; alpha: boolean; notes: string[] }> = {
  ...SINGLE_PICTURE,
  failed: "The picture could not be read",
  async run({ from }, { paths }) {
    const file = paths.arriving(from);
    const { still, notes } = await readPicture(file);
    const asset = createHash("sha256")
      .update(await readFile(file))
      .digest("hex");
    return { asset, width: still.width, height: still.height, alpha: hasAlpha(still), notes };
  },
};

interface OnPlanes {
  asset: string;
  /** On the planes of a take, or as a mask: one value 0–1 a pixel, 64-bit floats. */
  as: { format: PixelFormat; colour: Colour } | { use: "alpha" | "brightness"; matrix: Colour["matrix"] };
  /** The name of its samples among what is coming in. */
  to: string;
}

/** The samples of a picture that was brought in. */
export const onPlanes: Kind<OnPlanes, { width: number; height: number; format: PixelFormat | null }> = {
  ...SINGLE_PICTURE,
  failed: "The picture could not be read",
  async run({ asset, as, to }, { paths }) {
    const { still } = await readPicture(await pictureFile(paths, asset));
    if ("use" in as) {
      const { width, height, data } = stillValues(still, as.use, as.matrix, "the picture");
      await writeFile(paths.arriving(to), bytesIn(data));
      return { width, height, format: null };
    }
    const frame = stillFrame(still, as.format, as.colour);
    await writeFile(paths.arriving(to), bytesOf(frame));
    return { width: frame.width, height: frame.height, format: frame.format };
  },
};
