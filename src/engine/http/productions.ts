import { newProductionSchema } from "../../wire/shot";
import type { Parts } from "../compose";
import { removeWhole } from "../usecases/removing";
import type { Route } from "./route";

/** The first page: productions with their takes and shots, notices, and what goes. */
export const productionRoutes = (parts: Parts): Route[] => {
  const { removal, library, notices, exposed, tell } = parts;
  return [
    ["GET", /^\/(take|production)s\/([\w-]+)\/dependents$/, ({ params: [what, id] }) => removal.dependents(what as "take", id)],
    [
      "POST",
      /^\/(take|production)s\/([\w-]+)\/remove$/,
      async ({ params: [what, id] }) => {
        await removeWhole(parts, what as "take", id);
        return {};
      },
    ],
    ["GET", /^\/state$/, async () => ({ productions: await library.productions(), notices: notices.all(), exposed })],
    [
      "POST",
      /^\/notices\/([\w-]+)\/away$/,
      ({ params: [id] }) => {
        notices.putAway(id);
        return Promise.resolve({});
      },
    ],
    [
      "POST",
      /^\/productions$/,
      async ({ body }) => {
        const id = await library.addProduction(newProductionSchema.parse(body).name);
        tell({ type: "productions" });
        return { id };
      },
    ],
  ];
};
