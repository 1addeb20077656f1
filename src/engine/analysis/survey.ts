import { cellMeans } from "../../core/motion/gray";
import { gridSize } from "../../core/plate/cells";
import type { Plane } from "../../core/pixels/frame";
import { BarMeter } from "../../core/survey/bars";
import { CutFinder } from "../../core/survey/cuts";
import type { CellPlanes, FrameFacts } from "../../core/survey/lane";
import { type FirstSurvey, firstSurvey, type Survey, SurveyAssembly } from "../../core/survey/survey";
import { cellPlanes, keptCells } from "../media/cells";
import { changed } from "../media/decode";
import { isReadThrough } from "../media/listing";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";
import { type Lane, openLanes } from "./survey-lanes";
import { type DecodedFrame, surveyFrames } from "./survey-frames";

/** Bars are looked for in at most so many frames, spread over the take. */
const BAR_FRAMES = 16;
const BARS_EVERY = 5;
/** Frames a lane may have waiting. */
const AHEAD = 2;
/** Cells across by which light is compared. */
const LIGHT_CELLS = 40;

/** Whether samples fill the whole code range. */
const isFull = ({ colour, format }: TakeIndex["info"]) => colour.range === "full" || format.model === "rgb";

/** The cells light is compared by, from the finer ones that are decoded. */
function lightCells(planes: Uint16Array, t: TakeIndex): CellPlanes {
  const { width, height } = gridSize(t.info.width, t.info.height);
  const most = Math.floor(Math.min(width, height) / 4);
  const k = Math.max(1, Math.min(most, Math.round(width / LIGHT_CELLS)));
  const means = [0, 1, 2].map((p) => cellMeans({ width, height, data: planes.subarray(p * width * height, (p + 1) * width * height) }, 16, k));
  return { across: means[0].width, planes: means.map((m) => m.data as Float32Array) };
}

/**
 * What is known of a take that was read through, by the cells that were kept of it then; null where they were not.
 * @param folder the take's own
 */
export async function surveyFirst(t: TakeIndex, folder: string): Promise<FirstSurvey | null> {
  if (!(await keptCells(t, folder))) return null;
  const cells: CellPlanes[] = [];
  for await (const planes of cellPlanes(t, 0, t.info.frames - 1, folder)) cells.push(lightCells(planes, t));
  return firstSurvey(cells, t.cuts, isFull(t.info));
}

interface Held {
  frame: DecodedFrame;
  /** Who still needs its samples. */
  users: number;
}

/**
 * Measures a whole take in one sequential decode, on every core. Of a take that was only listed, cuts are found on the way.
 * @throws NotAsListed where it has another count of pictures than was listed
 */
export async function surveyTake(t: TakeIndex, watch: Watch = {}): Promise<Survey> {
  const { width, height, format, frames } = t.info;
  const full = isFull(t.info);
  const assembly = new SurveyAssembly(width, height);
  const bars = new BarMeter();
  const cuts = isReadThrough(t) ? null : new CutFinder();
  const lanes = openLanes({ bits: format.bits, full });
  const source = surveyFrames(t, watch.signal);
  const work = new Work(assembly, lanes, source.give, (done) => step(watch, done, frames));
  const barsEvery = Math.max(BARS_EVERY, Math.ceil(frames / BAR_FRAMES));
  let n = 0;
  try {
    const taken = async (frame: DecodedFrame, fresh: boolean) => {
      if (n % barsEvery === 0) bars.add(frame.luma, format.bits);
      await work.take(n++, frame, lightCells(frame.cells, t), fresh);
    };
    // frames that wait until it is known whether a shot begins with them
    const queue: DecodedFrame[] = [];
    for await (const frame of source.frames) {
      if (!cuts) {
        await taken(frame, n === 0 || t.cuts.includes(n));
        continue;
      }
      cuts.add({ values: frame.thumb });
      queue.push(frame);
      if (queue.length > CutFinder.ahead) await taken(queue.shift()!, n === 0 || cuts.isCut(n));
    }
    for (const frame of queue) await taken(frame, n === 0 || cuts!.isCut(n));
    if (n !== frames) throw changed(t);
    await work.end();
    const tallies = (await Promise.all(lanes.map((l) => l.tallies()))).flat();
    return assembly.result(tallies, bars, full ? 0 : 16);
  } finally {
    await Promise.all(lanes.map((l) => l.end()));
  }
}

/** Hands frames to the lanes in turn, and what they say to the assembly in order. */
class Work {
  private readonly held = new Map<number, Held>();
  private order: Promise<void> = Promise.resolve();
  private failed: unknown = null;
  private under = 0;
  private wake: () => void = () => undefined;
  private kept: readonly number[] = [];

  constructor(
    private readonly assembly: SurveyAssembly,
    private readonly lanes: Lane[],
    /** Takes the room of a frame's samples back, once nobody needs them. */
    private readonly give: (frame: DecodedFrame) => void,
    private readonly done: (n: number) => void,
  ) {}

  /** The next frame; waits while the lanes have enough to do. */
  async take(n: number, frame: DecodedFrame, cells: CellPlanes, fresh: boolean): Promise<void> {
    while (this.under >= AHEAD * this.lanes.length) await new Promise<void>((r) => (this.wake = r));
    if (this.failed) throw this.failed;
    const before = this.held.get(n - 1);
    // it is needed until it was measured and put together, and by the frame after it
    this.held.set(n, { frame, users: 2 });
    this.under++;
    const lane = this.lanes[n % this.lanes.length];
    let facts: Promise<FrameFacts>;
    if (fresh) {
      const all = this.lanes.map((l) => l.begin(frame.luma, cells));
      facts = Promise.all(all).then(([own]) => own);
    } else facts = lane.measure(before!.frame.luma, frame.luma, cells);
    facts.catch(() => undefined);
    this.order = this.order
      .then(async () => this.put(n, await facts, fresh))
      .catch((e: unknown) => void (this.failed ??= e))
      .finally(() => {
        if (n > 0) this.leave(n - 1);
        this.under--;
        this.wake();
      });
  }

  private put(n: number, facts: FrameFacts, fresh: boolean): void {
    const pair = this.assembly.add(facts, fresh);
    const luma = (k: number): Plane => this.held.get(k)!.frame.luma;
    if (pair) {
      for (const k of [pair.from, pair.to]) this.held.get(k)!.users++;
      const lane = this.lanes[n % this.lanes.length];
      void lane
        .pair(luma(pair.from), luma(pair.to), pair)
        .catch((e: unknown) => void (this.failed ??= e))
        .finally(() => [pair.from, pair.to].forEach((k) => this.leave(k)));
    }
    const now = this.assembly.keeps;
    for (const k of now) if (!this.kept.includes(k)) this.held.get(k)!.users++;
    for (const k of this.kept) if (!now.includes(k)) this.leave(k);
    this.kept = now;
    this.leave(n);
    this.done(n + 1);
  }

  private leave(n: number): void {
    const h = this.held.get(n);
    if (!h || --h.users > 0) return;
    this.held.delete(n);
    this.give(h.frame);
  }

  /** @throws what went wrong in a lane */
  async end(): Promise<void> {
    await this.order;
    if (this.failed) throw this.failed;
  }
}
