import { takeIds } from "../../recipe/query";
import type { Parts } from "../compose";
import type { Answers } from "./answer";

/** What is still wrong in shots. */
export const proofAnswers = ({ documents, takes, shots, proofs, tasks }: Parts): Pick<Answers, "prove"> => ({
  async prove({ params: { id }, body: { task } }) {
    await takes.whole(takeIds((await documents.read(id)).recipe));
    const spec = await shots.forJob(id);
    return tasks.run(task, (watch) => proofs.of(spec, watch));
  },
});
