import { NAME_HEADER } from "../../wire/layout";
import { editRequestSchema, stillQuerySchema } from "../../wire/shot";
import type { Parts } from "../compose";
import type { Route } from "./route";

/** Shots: their documents, edits, and single pictures of them. */
export const shotRoutes = ({ shots, originals, documents, takes, filling, log, tell }: Parts): Route[] => [
  [
    "GET",
    /^\/shots\/([\w-]+)$/,
    async ({ params: [id] }) => {
      const before = await shots.document(id);
      for (const t of Object.values(before.takes)) await originals.check(t.id);
      const doc = await shots.document(id);
      const take = doc.takes[doc.recipe.shot.take];
      if (take.state === "ready") void filling.begin(take.id, doc.recipe.shot.in, doc.recipe.shot.out).catch((e: unknown) => log.warn(e));
      return doc;
    },
  ],
  ["GET", /^\/shots\/([\w-]+)\/recipe$/, ({ params: [id] }) => shots.exported(id)],
  [
    "POST",
    /^\/shots\/([\w-]+)\/edits$/,
    async ({ params: [id], body }) => {
      const answer = await documents.edit(id, editRequestSchema.parse(body));
      tell({ type: "shot", id, rev: answer.rev });
      return answer;
    },
  ],
  [
    "GET",
    /^\/shots\/([\w-]+)\/still$/,
    async ({ params: [id], query, res }) => {
      const q = stillQuerySchema.parse(Object.fromEntries(query));
      await takes.whole(Object.values((await documents.read(id)).recipe.takes).map((t) => t.asset!));
      const { png, name } = await shots.still(id, q.what, q.frame, q.layer ?? q.plate);
      res.writeHead(200, { "content-type": "image/png", [NAME_HEADER]: encodeURIComponent(name) }).end(png);
      return undefined;
    },
  ],
];
