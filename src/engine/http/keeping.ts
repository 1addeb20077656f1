import type { Parts } from "../compose";
import { askToGoBack, copies } from "../keeping/copies";
import { readLog } from "../keeping/log";
import { end } from "../life";
import type { Answers } from "./answer";

/** A moment for the answer to leave before the process ends, in ms. */
export const ANSWER_LEAVES = 100;

type Names = "cache" | "changeCache" | "unnamed" | "clearUnnamed" | "log" | "copies" | "goBack";

/** The room that decoded frames and what nobody uses take, what the program has said, and the kept copies of the database. */
export const keepingAnswers = ({ store, settings, paths, unnamed, version }: Parts): Pick<Answers, Names> => ({
  cache: () => store.use(),
  async changeCache({ body }) {
    if (body.empty) await store.empty();
    if (body.limit !== undefined) {
      await settings.set({ cache: body.limit });
      await store.resize(body.limit);
    }
    return store.use();
  },
  unnamed: () => unnamed.look(),
  async clearUnnamed() {
    await unnamed.clear(true);
    return unnamed.look();
  },
  log: () => readLog(paths, version),
  copies: async () => ({ copies: await copies(paths), trouble: null }),
  async goBack({ body }) {
    await askToGoBack(paths, body.name);
    // the launcher starts us again, and the copy is put in place before anything is opened
    setTimeout(() => void end(0), ANSWER_LEAVES);
    return {};
  },
});
