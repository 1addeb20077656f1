import { writeFile } from "node:fs/promises";
import { MediaError } from "../../media/media-error";
import { framePng } from "../../media/stills";
import { composer } from "../../render/composer";
import { type Kind, SINGLE_PICTURE } from "../kind";
import { type OnShot, readOnShot } from "./on-shot";

export interface StillJob extends OnShot {
  /** The mended frame, a plate by its key, or one layer alone by its id. */
  what: { frame: true } | { plate: string } | { layer: string };
  n: number;
  /** The name of the PNG among what is coming in. */
  to: string;
}

/** Composes a single picture and writes it as PNG. */
export const still: Kind<StillJob, null> = {
  ...SINGLE_PICTURE,
  failed: "The picture could not be made",
  async run(spec, place) {
    const { takes, pictures } = await readOnShot(spec, place);
    const { colour } = takes[spec.recipe.shot.take].index.info;
    const work = composer(spec.recipe, takes, place.store, pictures);
    const png = async () => {
      if ("frame" in spec.what) return framePng(await work.frame(spec.n), colour);
      if ("plate" in spec.what) {
        await work.loadPlate(spec.what.plate);
        return framePng(work.pictures.plate(spec.what.plate), colour);
      }
      const { layer } = spec.what;
      const alone = (await work.parts(spec.n)).find((p) => p.layer === layer);
      if (!alone) throw new MediaError(`Nothing of this layer shows at frame ${spec.n}: switch it on, or go to one of its frames.`);
      return framePng(alone.picture, colour, alone.alpha);
    };
    await writeFile(place.paths.arriving(spec.to), await png());
    return null;
  },
};
