import { existsSync } from "node:fs";
import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import { bytesOf } from "../../../core/pixels/frame";
import type { PatchVerdict } from "../../../core/proof/finding";
import { cutoutBytes, readCutout } from "../../../recipe/cutout-file";
import type { FrameStore } from "../../media/frame-store";
import { Stopped, type Watch } from "../../watch";
import { type Measured, measure } from "./measure";

/** What a thread that measures patches is made with: nothing but data. */
export interface LaneSetup {
  spec: Measured;
  /** Cut-outs as they are kept. */
  cutouts: readonly (readonly [string, Uint8Array])[];
  which: readonly number[];
}

/** Cut-outs are read where they are used, so they go to a thread as they are kept. */
export function forThread(spec: Measured, which: readonly number[]): LaneSetup {
  const { cutouts, ...pictures } = spec.pictures;
  return { spec: { ...spec, pictures }, cutouts: [...(cutouts ?? [])].map(([hash, data]) => [hash, cutoutBytes(data)]), which };
}

/** What a thread was given to measure. */
export const inThread = ({ spec, cutouts }: LaneSetup): Measured => ({
  ...spec,
  pictures: { ...spec.pictures, cutouts: new Map(cutouts.map(([hash, bytes]) => [hash, readCutout(bytes)])) },
});

/** What such a thread says: that it wants a frame, or soon will; how far it is; and what it found, or why it could not. */
export type LaneSays =
  | { say: "frame"; id: number; take: string; n: number; alone: boolean }
  | { say: "expect"; take: string; n: number }
  | { say: "step"; done: number; total: number }
  | { say: "found"; verdicts: [number, PatchVerdict][] }
  | { say: "failed"; error: string };

/** A frame that it asked for. Whatever goes wrong with one ends the thread. */
export interface LaneGiven {
  id: number;
  bytes: Uint8Array;
}

/** The built thread; where the program runs from its sources there is none. */
const SCRIPT = fileURLToPath(new URL("./proof-worker.mjs", import.meta.url));
/** Each thread holds pictures and mattes of its own. */
const MOST_LANES = 4;

/** Measures patches as `measure` does, shared out to a thread a core: what is found does not depend on that. */
export async function measureInLanes(spec: Measured, which: readonly number[], store: FrameStore, watch: Watch): Promise<Map<number, PatchVerdict>> {
  if (!which.length) return new Map();
  const lanes = existsSync(SCRIPT) ? Math.min(MOST_LANES, availableParallelism(), which.length) : 1;
  if (lanes < 2) return measure(spec, which, store, watch);
  const steps = new Map<number, { done: number; total: number }>();
  const ended = new AbortController();
  const told = (lane: number) => (done: number, total: number) => {
    steps.set(lane, { done, total });
    const sum = (of: "done" | "total") => [...steps.values()].reduce((s, v) => s + v[of], 0);
    watch.progress?.(sum("done"), sum("total"));
  };
  const signal = watch.signal ? AbortSignal.any([watch.signal, ended.signal]) : ended.signal;
  try {
    const found = await Promise.all(shared(spec, which, lanes).map((w, k) => byThread(forThread(spec, w), store, { progress: told(k), signal })));
    return new Map(found.flat());
  } finally {
    ended.abort();
  }
}

/** Patches shared out: the greatest first, each to the lane that has least to do. */
export function shared({ all }: Pick<Measured, "all">, which: readonly number[], lanes: number): number[][] {
  const work = (i: number) => {
    const { rect, layer } = all[i];
    return (rect.x1 - rect.x0) * (rect.y1 - rect.y0) * (layer.out - layer.in + 1);
  };
  const out = Array.from({ length: lanes }, () => ({ which: [] as number[], work: 0 }));
  for (const i of which.toSorted((a, b) => work(b) - work(a))) {
    const least = out.reduce((a, b) => (b.work < a.work ? b : a));
    least.which.push(i);
    least.work += work(i);
  }
  return out.map((o) => o.which);
}

function byThread(setup: LaneSetup, store: FrameStore, { progress, signal }: Required<Watch>): Promise<[number, PatchVerdict][]> {
  const worker = new Worker(SCRIPT, { workerData: setup });
  const taken = (key: string) => setup.spec.takes[key];
  return new Promise<[number, PatchVerdict][]>((resolve, reject) => {
    const give = async ({ id, take, n, alone }: Extract<LaneSays, { say: "frame" }>) => {
      const t = taken(take);
      const bytes = bytesOf(await store.frame(t.id, t.index, n, alone));
      worker.postMessage({ id, bytes } satisfies LaneGiven, [bytes.buffer as ArrayBuffer]);
    };
    worker.on("message", (m: LaneSays) => {
      if (m.say === "frame") give(m).catch(reject);
      else if (m.say === "expect") store.expect(taken(m.take).id, taken(m.take).index, m.n);
      else if (m.say === "step") progress(m.done, m.total);
      else if (m.say === "found") resolve(m.verdicts);
      else reject(new Error(m.error));
    });
    worker.on("error", reject);
    worker.on("exit", () => reject(new Error("A thread that measured ended.")));
    const stop = () => reject(new Stopped());
    if (signal.aborted) stop();
    else signal.addEventListener("abort", stop, { once: true });
  }).finally(() => worker.terminate());
}
