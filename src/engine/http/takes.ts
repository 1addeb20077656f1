import { BLOCK } from "../../wire/layout";
import { addTakeSchema } from "../../wire/shot";
import { takeNoteSchema, takeTurnSchema } from "../../wire/take";
import type { Parts } from "../compose";
import { NotFound, NotYet } from "../db/documents";
import { productionFor } from "../usecases/production";
import type { Route } from "./route";

/** Takes: brought in, noted, turned, their frames made ready. */
export const takeRoutes = ({ takes, library, store, tell }: Parts): Route[] => [
  [
    "POST",
    /^\/takes$/,
    async ({ body }) => {
      const q = addTakeSchema.parse(body);
      return takes.add(await productionFor(library, q.productionId), q.name, q.path, false);
    },
  ],
  ["GET", /^\/takes\/([\w-]+)$/, async ({ params: [id] }) => library.toTake(await library.takeRow(id))],
  [
    "POST",
    /^\/takes\/([\w-]+)\/note$/,
    async ({ params: [id], body }) => {
      await library.takeRow(id);
      const take = await library.setTake(id, takeNoteSchema.parse(body));
      tell({ type: "take", take });
      return take;
    },
  ],
  ["POST", /^\/takes\/([\w-]+)\/turn$/, ({ params: [id], body }) => takes.turn(id, takeTurnSchema.parse(body).turned)],
  [
    "POST",
    /^\/takes\/([\w-]+)\/blocks\/(\d+)$/,
    async ({ params: [id, k] }) => {
      const index = await takes.index(id).catch(() => {
        throw new NotFound("This take is not read yet.");
      });
      const g = takes.reading(id);
      // a block that is not read to its end is not made: it would stay short
      if (g && (Number(k) + 1) * BLOCK > g.times.length)
        throw new NotYet(`These frames are not read yet: ${g.times.length} of about ${g.info.frames} are.`);
      if (Number(k) * BLOCK >= index.info.frames) throw new NotFound(`The take has only frames 0 to ${index.info.frames - 1}.`);
      await store.block(id, index, Number(k));
      return {};
    },
  ],
  [
    "POST",
    /^\/takes\/([\w-]+)\/quick$/,
    async ({ params: [id] }) => {
      await takes.checkQuick(id);
      return {};
    },
  ],
];
