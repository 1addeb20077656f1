import type { Parts } from "../compose";
import { removeWhole } from "../usecases/removing";
import type { Answers } from "./answer";

type Names = "state" | "addProduction" | "putNoticeAway" | "takeDependents" | "productionDependents" | "removeTake" | "removeProduction";

/** The first page: productions with their takes and shots, notices, and what goes. */
export function productionAnswers(parts: Parts): Pick<Answers, Names> {
  const { removal, library, notices, exposed, tell } = parts;
  const remove = async (what: "take" | "production", id: string) => {
    await removeWhole(parts, what, id);
    return {};
  };
  return {
    state: async () => ({ productions: await library.productions(), notices: [...notices.all()], exposed }),
    async addProduction({ body }) {
      const id = await library.addProduction(body.name);
      tell({ type: "productions" });
      return { id };
    },
    putNoticeAway({ params: { id } }) {
      notices.putAway(id);
      return Promise.resolve({});
    },
    takeDependents: ({ params: { id } }) => removal.dependents("take", id),
    productionDependents: ({ params: { id } }) => removal.dependents("production", id),
    removeTake: ({ params: { id } }) => remove("take", id),
    removeProduction: ({ params: { id } }) => remove("production", id),
  };
}
