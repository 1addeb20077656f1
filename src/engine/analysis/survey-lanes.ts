import { existsSync } from "node:fs";
import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import type { Plane } from "../../core/pixels/frame";
import { type CellPlanes, type FrameFacts, type PairOfFrames, SurveyLane } from "../../core/survey/lane";
import type { NoiseTally } from "../../core/survey/noise";

/** What a lane is made with. */
export interface LaneSetup {
  bits: number;
  full: boolean;
}

/** What a lane in a thread of its own is asked. Samples lie in shared memory; only cells are copied. */
export type LaneCall =
  | { say: "begin"; luma: Plane; cells: CellPlanes }
  | { say: "measure"; before: Plane; now: Plane; cells: CellPlanes }
  | { say: "pair"; earlier: Plane; later: Plane; pair: PairOfFrames }
  | { say: "tallies" };

export interface LaneAnswer {
  id: number;
  value?: FrameFacts | [number, NoiseTally][] | void;
  error?: string;
}

/** A lane of a survey, wherever it works. Calls are carried out in their order. */
export interface Lane {
  begin(luma: Plane, cells: CellPlanes): Promise<FrameFacts>;
  measure(before: Plane, now: Plane, cells: CellPlanes): Promise<FrameFacts>;
  pair(earlier: Plane, later: Plane, pair: PairOfFrames): Promise<void>;
  tallies(): Promise<[number, NoiseTally][]>;
  end(): Promise<unknown>;
}

/** The built thread; where the program runs from its sources there is none. */
const SCRIPT = fileURLToPath(new URL("./survey-worker.mjs", import.meta.url));

/** As many lanes as there are cores, in threads; where threads cannot be had, one that works here. */
export function openLanes(setup: LaneSetup): Lane[] {
  if (!existsSync(SCRIPT)) return [laneHere(setup)];
  return Array.from({ length: Math.max(1, Math.min(8, availableParallelism())) }, () => laneInThread(setup));
}

function laneHere({ bits, full }: LaneSetup): Lane {
  const lane = new SurveyLane(bits, full);
  return {
    begin: async (luma, cells) => lane.begin(luma, cells),
    measure: async (before, now, cells) => lane.measure(before, now, cells),
    pair: async (earlier, later, pair) => lane.pair(earlier, later, pair),
    tallies: async () => lane.tallies(),
    end: async () => undefined,
  };
}

function laneInThread(setup: LaneSetup): Lane {
  const worker = new Worker(SCRIPT, { workerData: setup });
  const waiting = new Map<number, { done: (v: LaneAnswer["value"]) => void; failed: (e: Error) => void }>();
  let calls = 0;
  const fail = (e: Error) => {
    for (const w of waiting.values()) w.failed(e);
    waiting.clear();
  };
  worker.on("message", ({ id, value, error }: LaneAnswer) => {
    const w = waiting.get(id);
    waiting.delete(id);
    if (error === undefined) w?.done(value);
    else w?.failed(new Error(error));
  });
  worker.on("error", fail);
  worker.on("exit", () => fail(new Error("A thread that measured ended.")));
  const call = <T>(c: LaneCall) =>
    new Promise<T>((done, failed) => {
      const id = calls++;
      waiting.set(id, { done: (v) => done(v as T), failed });
      worker.postMessage({ ...c, id });
    });
  return {
    begin: (luma, cells) => call({ say: "begin", luma, cells }),
    measure: (before, now, cells) => call({ say: "measure", before, now, cells }),
    pair: (earlier, later, pair) => call({ say: "pair", earlier, later, pair }),
    tallies: () => call({ say: "tallies" }),
    end: () => worker.terminate(),
  };
}
