import { renderRequestSchema } from "../../wire/shot";
import type { Parts } from "../compose";
import type { Route } from "./route";

/** What is written, is being written and was written. */
export const renderRoutes = ({ renders, library, documents, takes, originals, shots, plates }: Parts): Route[] => [
  ["GET", /^\/shots\/([\w-]+)\/renders$/, ({ params: [id] }) => renders.list(id)],
  [
    "POST",
    /^\/shots\/([\w-]+)\/renders$/,
    async ({ params: [id], body }) => {
      const q = renderRequestSchema.parse(body);
      const row = await library.shotRow(id);
      const { rev, recipe } = await documents.read(id);
      const assets = Object.values(recipe.takes).map((t) => t.asset!);
      await takes.whole(assets);
      await originals.demand(assets);
      for (const a of assets) await takes.onDisk(a);
      const files = await shots.takeFiles(recipe);
      return renders.add(id, row.name, rev, recipe, files, await plates.files(recipe, files), q);
    },
  ],
  ["GET", /^\/jobs\/([\w-]+)$/, ({ params: [id] }) => renders.get(id)],
  [
    "POST",
    /^\/jobs\/([\w-]+)\/stop$/,
    async ({ params: [id] }) => {
      await renders.stop(id);
      return {};
    },
  ],
  [
    "POST",
    /^\/jobs\/([\w-]+)\/again$/,
    async ({ params: [id] }) => {
      // what is known of its takes may have been lost meanwhile: then it is read again first
      const reads = await renders.takesOf(id);
      await takes.whole(reads);
      for (const t of reads) await takes.onDisk(t);
      return renders.again(id);
    },
  ],
];
