import { measuredOf } from "../../recipe/assets";
import { takeIds } from "../../recipe/query";
import type { Parts } from "../compose";
import type { Answers } from "./answer";

type Names = "renders" | "render" | "rendered" | "stopJob" | "jobAgain";

/** What is written, is being written and was written. */
export const renderAnswers = ({ renders, library, documents, takes, originals, shots, plates, measured }: Parts): Pick<Answers, Names> => ({
  renders: ({ params: { id } }) => renders.list(id),
  async render({ params: { id }, body }) {
    const row = await library.shotRow(id);
    const { rev, recipe } = await documents.read(id);
    const ids = takeIds(recipe);
    await takes.whole(ids);
    await originals.demand(ids);
    for (const t of ids) await takes.onDisk(t);
    const files = await shots.takeFiles(recipe);
    await measured.lay([...measuredOf(recipe), ...(body.look ? [body.look.data] : [])]);
    return renders.add(id, row.name, rev, recipe, files, await plates.names(recipe, files), body);
  },
  rendered: ({ params: { id } }) => renders.get(id),
  async stopJob({ params: { id } }) {
    await renders.stop(id);
    return {};
  },
  async jobAgain({ params: { id } }) {
    // what is known of its takes may have been lost meanwhile: then it is read again first
    const reads = await renders.readBy(id);
    await takes.whole(reads.takes);
    for (const t of reads.takes) await takes.onDisk(t);
    await measured.lay(reads.measured);
    return renders.again(id);
  },
});
