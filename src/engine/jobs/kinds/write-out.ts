import { writeFile } from "node:fs/promises";
import { bytesIn } from "../../media/bytes";
import { toRgb16 } from "../../../core/pixels/toRgb";
import type { PlateFile } from "../../../wire/plate";
import { composer } from "../../render/composer";
import { plateFile } from "../../render/plate-file";
import { type Kind, SINGLE_PICTURE } from "../kind";
import { type OnShot, readOnShot } from "./on-shot";

interface WriteOut extends OnShot {
  plate: string;
  /** The frame that goes with it for orientation. */
  n: number;
  kind: PlateFile;
  /** Names among what is coming in: the picture, and its samples without what came back before (R′G′B′, 16 bits). */
  to: { picture: string; bare: string };
}

/** Writes a plate as a file to be retouched elsewhere. @returns its size in pixels */
export const writeOut: Kind<WriteOut, { width: number; height: number }> = {
  ...SINGLE_PICTURE,
  failed: "The plate could not be written out",
  async run({ recipe, plate: which, n, kind, to, ...rest }, place) {
    const { takes, pictures } = await readOnShot({ recipe, ...rest }, place);
    const shot = takes[recipe.shot.take];
    const { colour } = shot.index.info;
    const evaluated = async (p: (typeof recipe.plates)[string]) => {
      const work = composer({ ...recipe, plates: { ...recipe.plates, [which]: p } }, takes, place.store, pictures);
      await work.loadPlate(which);
      return work.pictures.plate(which);
    };
    const { returned: _, ...without } = recipe.plates[which];
    const plate = await evaluated(recipe.plates[which]);
    const base = await evaluated({ ...without, touches: [] });
    const frame = await place.store.frame(shot.id, shot.index, n);
    await writeFile(place.paths.arriving(to.picture), await plateFile(kind, { plate, base, frame, frameNumber: n, colour }));
    await writeFile(place.paths.arriving(to.bare), bytesIn(toRgb16(await evaluated(without), colour)));
    return { width: plate.width, height: plate.height };
  },
};
