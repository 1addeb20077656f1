import type { Survey } from "../../../core/survey/survey";
import { surveyTake } from "../../analysis/survey";
import { readIndex, writeWhole } from "../../media/index-file";
import type { Kind } from "../kind";

/** Measures a take, and keeps what was found beside its index. */
export const survey: Kind<{ take: string }, Survey> = {
  lane: "later",
  failed: "Measuring failed",
  async run({ take }, { paths }, watch) {
    const found = await surveyTake(await readIndex(paths.index(take)), watch);
    await writeWhole(paths.survey(take), JSON.stringify(found));
    return found;
  },
};
