import { cutRequestSchema, orderRequestSchema } from "../../wire/shot";
import type { Cutting } from "../library/cutting";
import type { Takes } from "../library/takes";
import type { Route } from "./route";

/** Cutting shots, joining them, and the order of numbered stills. */
export const cutRoutes = (cutting: Cutting, takes: Takes, reordered: (takeId: string) => Promise<void>): Route[] => [
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
      await takes.order(id, q.reversed, q.rate, () => reordered(id));
      return {};
    },
  ],
];
