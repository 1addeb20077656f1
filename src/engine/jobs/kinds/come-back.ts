import { readFile, writeFile } from "node:fs/promises";
import { basename } from "node:path";
import type { PlateFile } from "../../../wire/plate";
import { mergedPicture } from "../../media/openraster";
import { readPicture } from "../../media/picture";
import { rgbaStill } from "../../media/stills";
import { comparedWith, type Returned } from "../../library/returned";
import { outsidePaths } from "../../library/outside-paths";
import { type Kind, SINGLE_PICTURE } from "../kind";

interface ComeBack {
  /** The folder's name among those written out. */
  folder: string;
  kind: PlateFile;
  width: number;
  height: number;
  /** The name of what has changed among what is coming in, as PNG with alpha. */
  to: string;
}

/** Reads a plate that was retouched elsewhere, and finds what has changed; where nothing has, nothing is written. */
export const comeBack: Kind<ComeBack, Pick<Returned, "changed" | "box">> = {
  ...SINGLE_PICTURE,
  failed: "What came back could not be read",
  async run({ folder, kind, width, height, to }, { paths }) {
    const at = outsidePaths(paths, folder);
    const raw = await readFile(at.bare);
    const bare = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
    const path = at.picture(kind);
    let file = path;
    if (kind === "ora") {
      file = at.merged;
      await writeFile(file, mergedPicture(await readFile(path), basename(path)));
    }
    const { changed, box, rgba } = comparedWith(bare, width, height, (await readPicture(file)).still, basename(path));
    if (changed) await writeFile(paths.arriving(to), await rgbaStill(rgba, width, height, 16, "png"));
    return { changed, box };
  },
};
