import type { Survey } from "../../../core/survey/survey";
import { surveyFirst, surveyTake } from "../../analysis/survey";
import { readIndex, writeWhole } from "../../media/index-file";
import type { Kind } from "../kind";

/** Measures a take, and keeps what was found beside its index; what is known at once is kept before. */
export const survey: Kind<{ take: string }, Survey> = {
  lane: "later",
  failed: "Measuring failed",
  async run({ take }, { paths }, watch) {
    const index = await readIndex(paths.index(take));
    const first = await surveyFirst(index, paths.take(take));
    if (first) await writeWhole(paths.firstSurvey(take), JSON.stringify(first));
    watch.progress?.(0, index.info.frames); // whoever waits may ask for it now
    const found = await surveyTake(index, watch);
    await writeWhole(paths.survey(take), JSON.stringify(found));
    return found;
  },
};
