/** A process of its own for one analysis: measuring never holds up the engine, and ends when the engine does. */
import { type AnalysisSpec, runAnalysis } from "../analysis/tasks";
import { AnalysisStopped } from "../analysis/watch";
import { said } from "../media/media-error";

export type AnalysisMessage = { done: number; total: number } | { result: unknown } | { error: string; stopped: boolean };

const send = (m: AnalysisMessage) => new Promise<void>((r) => (process.send ? process.send(m, undefined, undefined, () => r()) : r()));
const stop = new AbortController();
process.on("disconnect", () => process.exit(1));
const spec = await new Promise<AnalysisSpec>((told) => {
  process.on("message", (m) => (m === "stop" ? stop.abort() : told(m as AnalysisSpec)));
});

try {
  let last = 0;
  const result = await runAnalysis(spec, {
    signal: stop.signal,
    progress: (done, total) => {
      if (Date.now() - last < 150) return;
      last = Date.now();
      void send({ done, total });
    },
  });
  await send({ result });
  process.exit(0);
} catch (e) {
  await send({ error: said(e, "Measuring failed"), stopped: e instanceof AnalysisStopped });
  if (!(e instanceof AnalysisStopped)) process.stderr.write(`${e instanceof Error ? e.stack : String(e)}\n`);
  process.exit(1);
}
