import { BLOCK } from "../../wire/layout";
import type { Parts } from "../compose";
import { NotFound, NotYet } from "../db/documents";
import { productionFor } from "../usecases/production";
import type { Answers } from "./answer";

type Names = "addTake" | "take" | "noteTake" | "turnTake" | "makeBlock" | "checkQuick";

/** Takes: brought in, noted, turned, their frames made ready. */
export const takeAnswers = ({ takes, library, store, tell }: Parts): Pick<Answers, Names> => ({
  addTake: async ({ body }) => takes.add(await productionFor(library, body.productionId), body.name, body.path, false),
  take: async ({ params: { id } }) => library.toTake(await library.takeRow(id)),
  async noteTake({ params: { id }, body }) {
    await library.takeRow(id);
    const take = await library.setTake(id, body);
    tell({ type: "take", take });
    return take;
  },
  turnTake: ({ params: { id }, body }) => takes.turn(id, body.turned),
  async makeBlock({ params: { id, k } }) {
    const block = Number(k);
    const index = await takes.index(id).catch(() => {
      throw new NotFound("This take is not read yet.");
    });
    const g = takes.reading(id);
    // a block that is not read to its end is not made: it would stay short
    if (g && (block + 1) * BLOCK > g.times.length)
      throw new NotYet(`These frames are not read yet: ${g.times.length} of about ${g.info.frames} are.`);
    if (block * BLOCK >= index.info.frames) throw new NotFound(`The take has only frames 0 to ${index.info.frames - 1}.`);
    await store.block(id, index, block);
    return {};
  },
  async checkQuick({ params: { id } }) {
    await takes.checkQuick(id);
    return {};
  },
});
