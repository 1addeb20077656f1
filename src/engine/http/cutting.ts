import { rm } from "node:fs/promises";
import type { Parts } from "../compose";
import type { Answers } from "./answer";

/** Cutting shots, joining them, and the order of numbered stills. */
export const cutAnswers = ({ cutting, takes, surveys, paths, store }: Parts): Pick<Answers, "cut" | "neighbour" | "join" | "orderStills"> => ({
  cut: async ({ params: { id }, body }) => ({ ids: await cutting.cut(id, body.frames) }),
  neighbour: ({ params: { id } }) => cutting.neighbour(id),
  async join({ params: { id } }) {
    await cutting.join(id);
    return {};
  },
  async orderStills({ params: { id }, body }) {
    await takes.order(id, body.reversed, body.rate, async () => {
      surveys.stop(id);
      await rm(paths.survey(id), { force: true });
      await store.forget(id);
    });
    return {};
  },
});
