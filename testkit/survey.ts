import { cellMeans } from "../src/core/motion/gray";
import { type Frame, isChroma } from "../src/core/pixels/frame";
import { BarMeter } from "../src/core/survey/bars";
import { type CellPlanes, SurveyLane } from "../src/core/survey/lane";
import { type Survey, SurveyAssembly } from "../src/core/survey/survey";

/** The cells of a frame, some 60 across. */
export function cellsOf(f: Frame): CellPlanes {
  const side = Math.max(8, 2 * Math.round(f.width / 128));
  const means = [0, 1, 2].map((p) => cellMeans(f.planes[p], f.format.bits, side >> (isChroma(f.format, p) ? f.format.subX : 0)));
  return { across: means[0].width, planes: means.map((m) => m.data as Float32Array) };
}

/** The survey of frames that are all at hand; a shot begins with each of `cuts`. Frames may be made one after another. */
export function surveyOf(frames: Iterable<Frame>, cuts: readonly number[] = []): Survey {
  const all = [...frames];
  const [{ width, height, format }] = all;
  const lane = new SurveyLane(format.bits, false);
  const assembly = new SurveyAssembly(width, height);
  const bars = new BarMeter();
  const luma = (n: number) => all[n].planes[0];
  all.forEach((f, n) => {
    const fresh = n === 0 || cuts.includes(n);
    const facts = fresh ? lane.begin(luma(n), cellsOf(f)) : lane.measure(luma(n - 1), luma(n), cellsOf(f));
    const pair = assembly.add(facts, fresh);
    if (pair) lane.pair(luma(pair.from), luma(pair.to), pair);
    if (n % 5 === 0) bars.add(luma(n), format.bits);
  });
  return assembly.result(lane.tallies(), bars, 16);
}
