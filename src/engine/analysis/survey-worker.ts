/** A thread that does the work of one lane of a survey. */
import { parentPort, workerData } from "node:worker_threads";
import { SurveyLane } from "../../core/survey/lane";
import type { LaneAnswer, LaneCall, LaneSetup } from "./survey-lanes";

const { bits, full } = workerData as LaneSetup;
const lane = new SurveyLane(bits, full);

function answer(c: LaneCall): LaneAnswer["value"] {
  switch (c.say) {
    case "begin":
      return lane.begin(c.luma, c.cells);
    case "measure":
      return lane.measure(c.before, c.now, c.cells);
    case "pair":
      return lane.pair(c.earlier, c.later, c.pair);
    case "tallies":
      return lane.tallies();
  }
}

parentPort!.on("message", (c: LaneCall & { id: number }) => {
  try {
    parentPort!.postMessage({ id: c.id, value: answer(c) } satisfies LaneAnswer);
  } catch (e) {
    parentPort!.postMessage({ id: c.id, error: e instanceof Error ? e.message : String(e) } satisfies LaneAnswer);
  }
});
