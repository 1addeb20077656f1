import { rm } from "node:fs/promises";
import { cutRequestSchema, orderRequestSchema } from "../../wire/shot";
import type { Parts } from "../compose";
import type { Route } from "./route";

/** Cutting shots, joining them, and the order of numbered stills. */
export const cutRoutes = ({ cutting, takes, surveys, paths, store }: Parts): Route[] => [
  ["POST", /^\/shots\/([\w-]+)\/cut$/, async ({ params: [id], body }) => ({ ids: await cutting.cut(id, cutRequestSchema.parse(body).frames) })],
  ["GET", /^\/shots\/([\w-]+)\/join$/, ({ params: [id] }) => cutting.neighbour(id)],
  [
    "POST",
    /^\/shots\/([\w-]+)\/join$/,
    async ({ params: [id] }) => {
      await cutting.join(id);
      return {};
    },
  ],
  [
    "POST",
    /^\/takes\/([\w-]+)\/order$/,
    async ({ params: [id], body }) => {
      const q = orderRequestSchema.parse(body);
      await takes.order(id, q.reversed, q.rate, async () => {
        surveys.stop(id);
        await rm(paths.survey(id), { force: true });
        await store.forget(id);
      });
      return {};
    },
  ],
];
