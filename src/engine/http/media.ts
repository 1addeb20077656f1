import { basename, dirname, join } from "node:path";
import type { Parts } from "../compose";
import type { MediaFolders } from "../media/folders";
import { MediaError } from "../media/media-error";
import { isPattern, matchingStills } from "../media/sequence";
import { productionFor } from "../usecases/production";
import type { Answers } from "./answer";

/** Files below a media folder: one film, or the stills that a name with # means. */
async function chosen(folders: MediaFolders, root: number, path: string): Promise<string[]> {
  if (!isPattern(path)) return [await folders.inside(root, path)];
  const stills = await matchingStills(join(await folders.inside(root, dirname(path)), basename(path)));
  for (const s of stills) await folders.inside(root, join(dirname(path), basename(s)));
  return stills;
}

type Names = "mediaRoots" | "mediaFolder" | "useMedia" | "placeTake" | "addStills";

/** Footage that is used where it lies, numbered stills, and originals that have moved. */
export const mediaAnswers = ({ folders, takes, originals, library }: Parts): Pick<Answers, Names> => ({
  mediaRoots: () => Promise.resolve({ roots: folders.roots.map((r) => basename(r)) }),
  mediaFolder: ({ query }) => folders.list(query.root, query.path),
  async useMedia({ body }) {
    const production = await productionFor(library, body.productionId);
    const paths = await chosen(folders, body.root, body.path);
    if (paths.length === 1 && !isPattern(body.path)) return takes.add(production, basename(paths[0]), paths[0], true);
    if (!body.rate) throw new MediaError("Numbered stills need a rate: say how many of them make a second.");
    return takes.addStills(production, basename(body.path), { paths }, body.rate);
  },
  async placeTake({ params: { id }, body }) {
    await originals.place(id, await chosen(folders, body.root, body.path));
    return {};
  },
  addStills: async ({ body }) => takes.addStills(await productionFor(library, body.productionId), body.name, { folder: body.folder }, body.rate),
});
