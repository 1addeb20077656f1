import { dirname } from "node:path";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { against, ff, file, p95, repeated, type Row } from "../measure";
import { FRAMES, TAKE } from "../take";

export async function reading(): Promise<Row[]> {
  const [ours, judge] = await against(
    () => ingest(TAKE, { quickFolder: dirname(TAKE) }),
    () => ff("-i", TAKE, "-f", "null", "-"),
  );
  return [
    {
      what: "Ingest 1080p: index and quick frames",
      ours: `${(FRAMES / ours).toFixed(0)} fps (${(judge / ours).toFixed(2)} ×)`,
      reach: "≥ 0.5 ×",
      judge: `ffmpeg decode ${(FRAMES / judge).toFixed(0)} fps`,
      ok: judge / ours >= 0.5,
    },
  ];
}

export async function exactFrame(): Promise<Row[]> {
  const index = await ingest(TAKE);
  const store = new FrameStore(file("store"), 4e9);
  for (let k = 0; k < 2; k++) await store.block("t", index, k);
  const ms = 1000 * p95(await repeated(100, (i) => store.frame("t", index, (i * 37) % 96)));
  return [{ what: "Exact frame, 1080p, decoded already: engine, p95", ours: `${ms.toFixed(1)} ms`, reach: "< 25 ms", judge: "–", ok: ms < 25 }];
}
