import { readIndex, writeWhole } from "../media/index-file";
import { surveyTake } from "./survey";
import type { Watch } from "./watch";

/** What a process of its own can measure. Files are named by their paths. */
export type AnalysisSpec = { kind: "survey"; index: string; out: string };

export async function runAnalysis(spec: AnalysisSpec, watch: Watch): Promise<unknown> {
  switch (spec.kind) {
    case "survey":
      await writeWhole(spec.out, JSON.stringify(await surveyTake(await readIndex(spec.index), watch)));
      return {};
  }
}
