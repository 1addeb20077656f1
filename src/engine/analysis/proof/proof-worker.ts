/** A thread that measures some of the patches of a shot; frames are lent by the one that began it. */
import { parentPort, workerData } from "node:worker_threads";
import { frameFromBytes } from "../../../core/pixels/frame";
import { inThread, type LaneGiven, type LaneSays, type LaneSetup } from "./lanes";
import { type Frames, measure } from "./measure";

const setup = workerData as LaneSetup;
const spec = inThread(setup);
const say = (m: LaneSays) => parentPort!.postMessage(m);
const waiting = new Map<number, (bytes: Uint8Array) => void>();
const keyOf = (id: string) => Object.keys(spec.takes).find((k) => spec.takes[k].id === id)!;
let asked = 0;

parentPort!.on("message", ({ id, bytes }: LaneGiven) => {
  waiting.get(id)?.(bytes);
  waiting.delete(id);
});

const lent: Frames = {
  async frame(takeId, { info }, n, alone = false) {
    const id = asked++;
    const bytes = await new Promise<Uint8Array>((done) => {
      waiting.set(id, done);
      say({ say: "frame", id, take: keyOf(takeId), n, alone });
    });
    return frameFromBytes(bytes, info.width, info.height, info.format);
  },
  expect: (takeId, _, n) => say({ say: "expect", take: keyOf(takeId), n }),
};

measure(spec, setup.which, lent, { progress: (done, total) => say({ say: "step", done, total }) }).then(
  (found) => say({ say: "found", verdicts: [...found] }),
  (e: unknown) => say({ say: "failed", error: e instanceof Error ? e.message : String(e) }),
);
