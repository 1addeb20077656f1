/** A process of its own for one job of any kind: it never holds up the engine, and ends when the engine does. */
import { UserError } from "../../core/user-error";
import { FrameStore } from "../media/frame-store";
import { said } from "../media/media-error";
import { whenOrphaned } from "../orphan";
import { dataPaths } from "../paths";
import type { Kind } from "./kind";
import { KINDS, type KindName } from "./kinds";
import { type FromJob, REPORT_MS, type ToJob, toJobSchema } from "./protocol";

const send = (m: FromJob) => new Promise<void>((r) => (process.send ? process.send(m, undefined, undefined, () => r()) : r()));
const stop = new AbortController();
whenOrphaned(() => process.exit(1));
const told = await new Promise<Extract<ToJob, { say: "begin" }>>((begin) => {
  process.on("message", (m) => {
    const heard = toJobSchema.parse(m);
    if (heard.say === "begin") begin(heard);
    else stop.abort();
  });
});

const kind = KINDS[told.kind as KindName] as Kind<unknown, unknown>;
try {
  const paths = dataPaths(told.data);
  let last = 0;
  const progress = (done: number, total: number) => {
    if (done !== total && Date.now() - last < REPORT_MS) return;
    last = Date.now();
    void send({ say: "progress", done, total });
  };
  const value = await kind.run(told.spec, { paths, store: new FrameStore(paths.cache, told.cacheLimit) }, { progress, signal: stop.signal });
  await send({ say: "result", value });
  process.exit(0);
} catch (e) {
  const stopped = e instanceof UserError && e.code === "stopped";
  await send({ say: "failed", error: said(e, kind.failed), stopped });
  if (!(e instanceof UserError && (stopped || e.code === "unsupported"))) process.stderr.write(`${e instanceof Error ? e.stack : String(e)}\n`);
  process.exit(1);
}
