import { goBackSchema } from "../../wire/shot";
import { cacheRequestSchema } from "../../wire/media";
import type { Parts } from "../compose";
import { askToGoBack, copies } from "../keeping/copies";
import { end } from "../life";
import type { Route } from "./route";

/** The room that decoded frames take, and the kept copies of the database. */
export const keepingRoutes = ({ store, settings, renders, paths }: Parts): Route[] => [
  ["GET", /^\/cache$/, () => store.use()],
  [
    "POST",
    /^\/cache$/,
    async ({ body }) => {
      const q = cacheRequestSchema.parse(body);
      if (q.empty) await store.empty();
      if (q.limit !== undefined) {
        await settings.set({ cache: q.limit });
        await store.resize(q.limit);
        renders.cacheLimit = q.limit;
      }
      return store.use();
    },
  ],
  ["GET", /^\/copies$/, async () => ({ copies: await copies(paths), trouble: null })],
  [
    "POST",
    /^\/copies\/back$/,
    async ({ body }) => {
      await askToGoBack(paths, goBackSchema.parse(body).name);
      setTimeout(() => void end(0), 100); // the launcher starts us again, and the copy is put in place before anything is opened
      return {};
    },
  ],
];
