import { CUTOUT_METHOD } from "../../core/cutout/cutout-data";
import type { Parts } from "../compose";
import { madeOf } from "../library/measured";
import { MediaError } from "../media/media-error";
import type { Answers } from "./answer";
import { wholeTake, withinTake } from "./whole-shot";

/** Cutting things out of takes. */
export const cutOutAnswers = ({ runner, tasks, measured, ...parts }: Parts): Pick<Answers, "cutOut"> => ({
  async cutOut({ params: { id }, body: { take: key, task, ...ask } }) {
    const take = await wholeTake(parts, id, key);
    const spec = withinTake(take, ask);
    if (ask.corrected) await measured.lay([ask.corrected.data]);
    const { packed, seen } = await tasks.run(task, (watch) => runner.run("cutOut", { take: take.id, ...spec }, watch));
    if (!seen.length)
      throw new MediaError("Nothing was found within the outline that differs from the ground: draw it closer, or on a frame where the thing moves.");
    const data = Buffer.from(packed, "base64");
    const of = madeOf(take, spec);
    return {
      data: await measured.put({ kind: "cutout", method: CUTOUT_METHOD, of }, data),
      in: seen[0],
      out: seen[seen.length - 1],
      seen: seen.length,
    };
  },
});
