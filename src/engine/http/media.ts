import { basename, dirname, join } from "node:path";
import { addStillsSchema, mediaQuerySchema, placeTakeSchema, useMediaSchema } from "../../wire/media";
import type { Parts } from "../compose";
import { MediaError } from "../media/media-error";
import type { MediaFolders } from "../media/folders";
import { isPattern, matchingStills } from "../media/sequence";
import { productionFor } from "../usecases/production";
import type { Route } from "./route";

/** Files below a media folder: one film, or the stills that a name with # means. */
async function chosen(folders: MediaFolders, root: number, path: string): Promise<string[]> {
  if (!isPattern(path)) return [await folders.inside(root, path)];
  const stills = await matchingStills(join(await folders.inside(root, dirname(path)), basename(path)));
  for (const s of stills) await folders.inside(root, join(dirname(path), basename(s)));
  return stills;
}

/** Footage that is used where it lies, numbered stills, and originals that have moved. */
export const mediaRoutes = ({ folders, takes, originals, library }: Parts): Route[] => [
  ["GET", /^\/media$/, () => Promise.resolve({ roots: folders.roots.map((r) => basename(r)) })],
  [
    "GET",
    /^\/media\/list$/,
    ({ query }) => {
      const q = mediaQuerySchema.parse(Object.fromEntries(query));
      return folders.list(q.root, q.path);
    },
  ],
  [
    "POST",
    /^\/media\/use$/,
    async ({ body }) => {
      const q = useMediaSchema.parse(body);
      const production = await productionFor(library, q.productionId);
      const paths = await chosen(folders, q.root, q.path);
      if (paths.length === 1 && !isPattern(q.path)) return takes.add(production, basename(paths[0]), paths[0], true);
      if (!q.rate) throw new MediaError("Numbered stills need a rate: say how many of them make a second.");
      return takes.addStills(production, basename(q.path), { paths }, q.rate);
    },
  ],
  [
    "POST",
    /^\/takes\/([\w-]+)\/place$/,
    async ({ params: [id], body }) => {
      const q = placeTakeSchema.parse(body);
      await originals.place(id, await chosen(folders, q.root, q.path));
      return {};
    },
  ],
  [
    "POST",
    /^\/stills$/,
    async ({ body }) => {
      const q = addStillsSchema.parse(body);
      return takes.addStills(await productionFor(library, q.productionId), q.name, { folder: q.folder }, q.rate);
    },
  ],
];
