import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { frames } from "../../demo/make/decode";
import { cutOut, overTake } from "../../src/engine/analysis/cut-out";
import { signedDistance } from "../../src/core/cutout/cut";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { openCvGrabCut } from "../../testkit/opencv-grab-cut";
import { median, root, type Row } from "../measure";
import { sharesAsCoded } from "../true-shares";

const LOOP = [[600, 0], [600, 70], [612, 134], [700, 128], [760, 70], [812, 30], [812, 0]]; // prettier-ignore
const AT = 55;
/** Frames on which all of the boom is seen. */
const SEEN = [40, 45, 50, 55, 60, 64];
/** Room round the boom's box that the judge is given, pixels, and the part of the picture it works on. */
const ROOM = 12;
const PART = { width: 420, height: 240, x: 500 };

const shared = (a: ArrayLike<number>, b: ArrayLike<number>, least: number) => {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i] > least, b[i] > 127];
    if (p && q) both++;
    if (p || q) either++;
  }
  return both / either;
};

/** Pixels from a rim within which α is compared, and from which a contour is looked for. */
const BAND = 2.5;
const FAR = 12;

/** What mattes are beside true ones, along their rims. */
interface Rims {
  /** Pixels by which contours lie off, the median. */
  contour: number;
  /** What α is off by, the mean; and by how much that changes from frame to frame, its root mean square. */
  alpha: number;
  jitter: number;
  /** Shared of what either covers, the least. */
  shared: number;
}

function rimsOf(pairs: readonly { own: Uint8Array; truth: Uint8Array }[], width: number, height: number): Rims {
  const [off, errors]: [number[], number[]] = [[], []];
  let [moves, n, least] = [0, 0, 1];
  let before: { own: Uint8Array; truth: Uint8Array; band: Uint8Array } | null = null;
  for (const { own, truth } of pairs) {
    const [ours, true_] = [own, truth].map((m) => signedDistance(m.map((v) => Number(v > 127)), width, height, FAR)); // prettier-ignore
    const band = new Uint8Array(own.length);
    for (let i = 0; i < own.length; i++) {
      if (Math.abs(true_[i]) < 1) off.push(Math.abs(ours[i] - true_[i]));
      if (Math.abs(true_[i]) > BAND) continue;
      band[i] = 1;
      const error = (own[i] - truth[i]) / 255;
      errors.push(Math.abs(error));
      if (!before?.band[i]) continue;
      moves += (error - (before.own[i] - before.truth[i]) / 255) ** 2;
      n++;
    }
    least = Math.min(least, shared(own, truth, 127));
    before = { own, truth, band };
  }
  return { contour: median(off), alpha: errors.reduce((a, b) => a + b, 0) / errors.length, jitter: Math.sqrt(moves / Math.max(1, n)), shared: least };
}

/** Mattes of a demo take by a loop on one frame, beside the true ones. */
async function rims(take: string, matte: string, at: number, outline: number[][], from: number, to: number): Promise<Rims> {
  const index = await ingest(join(root, `demo/takes/${take}.mp4`));
  const { width, height } = index.info;
  const store = new FrameStore(mkdtempSync(join(tmpdir(), "umber-bench-")), 4e9);
  const found = await cutOut(store, "t", index, { at, outline, from, to }, {});
  const list = Array.from({ length: to - from + 1 }, (_, k) => from + k);
  const coverage = [...frames(join(root, `demo/truth/${matte}.mkv`), list, "gray", width * height)].map((m) => Uint8Array.from(m));
  const shares = sharesAsCoded(take, list, coverage, width, height);
  const pairs = list.map((n, k) => {
    const m = found.find(({ f }) => f === n);
    return { own: m ? overTake(m, width, height) : new Uint8Array(width * height), truth: shares[k] };
  });
  return rimsOf(pairs, width, height);
}

/** Round the red fork-lift on the quay, at frame 71. */
const FORKLIFT = [[760, 160], [1276, 160], [1276, 512], [760, 512]]; // prettier-ignore

/** The hall's boom cut out by one loop, against its matte, beside OpenCV's `grabCut` that is given the true box on every frame. */
export async function cutout(): Promise<Row[]> {
  const film = join(root, "demo/takes/hall.mp4");
  const index = await ingest(film);
  const { width, height } = index.info;
  const store = new FrameStore(mkdtempSync(join(tmpdir(), "umber-bench-")), 4e9);
  const times: number[] = [];
  let last = 0;
  // from one frame to the next: the plate, and going back to the first, take longer and are left out by the median
  const progress = (done: number) => {
    const now = performance.now();
    // where the camera stands is asked first, and is nothing done
    if (done) times.push(now - last);
    last = now;
  };
  const found = await cutOut(store, "t", index, { at: AT, outline: LOOP, from: 36, to: 66 }, { progress });
  const grab = await openCvGrabCut();
  const [ours, theirs]: [number[], number[]] = [[], []];
  const pictures = frames(film, SEEN, "rgb24", 3 * width * height);
  let k = 0;
  for (const truth of frames(join(root, "demo/truth/hall-matte-boom.mkv"), SEEN, "gray", width * height)) {
    const m = found.find(({ f }) => f === SEEN[k]);
    k++;
    ours.push(m ? shared(overTake(m, width, height), truth, 127) : 0);
    const rgb = pictures.next().value as Buffer;
    const [part, matte] = [new Uint8Array(3 * PART.width * PART.height), new Uint8Array(PART.width * PART.height)];
    let [x0, y0, x1, y1] = [Infinity, Infinity, 0, 0];
    for (let y = 0, i = 0; y < PART.height; y++)
      for (let x = 0; x < PART.width; x++, i++) {
        const at = y * width + PART.x + x;
        part.set(rgb.subarray(3 * at, 3 * at + 3), 3 * i);
        matte[i] = truth[at];
        if (truth[at] > 127) [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
      }
    const box: [number, number, number, number] = [Math.max(1, x0 - ROOM), Math.max(1, y0 - ROOM), x1 - x0 + 2 * ROOM, y1 - y0 + 2 * ROOM];
    theirs.push(shared(grab(part, PART.width, PART.height, box), matte, 0));
  }
  const ms = median(times);
  const told: [string, Rims][] = [
    ["hall's boom", await rims("hall", "hall-matte-boom", AT, LOOP, 50, 60)],
    ["quay's fork-lift", await rims("quay", "quay-matte-empty", 71, FORKLIFT, 66, 76)],
  ];
  const row = (what: string, ours: number, reach: number, unit = ""): Row => ({ what: `Cut-out, ${what}`, ours: `${ours.toFixed(3)}${unit}`, reach: `< ${reach}${unit}`, judge: "truth", ok: ours < reach }); // prettier-ignore
  return [
    ...told.flatMap(([what, r]) => [
      row(`${what}: contour off, median`, r.contour, 0.5, " px"),
      row(`${what}: α off within ${BAND} px of the rim, mean`, r.alpha, 0.02),
      row(`${what}: that from frame to frame, root mean square`, r.jitter, 0.02),
      {
        what: `Cut-out, ${what}: shared of what either covers, least`,
        ours: r.shared.toFixed(3),
        reach: "> 0.9",
        judge: "truth",
        ok: r.shared > 0.9,
      },
    ]),
    {
      what: `Cut-out, hall's boom by one loop: shared of what either covers, the least of ${SEEN.length} frames`,
      ours: Math.min(...ours).toFixed(3),
      reach: "> 0.8",
      judge: `OpenCV grabCut, given the box on each: ${Math.min(...theirs).toFixed(3)}`,
      ok: Math.min(...ours) > 0.8,
    },
    { what: "Cut-out, one frame of 1280×720", ours: `${ms.toFixed(0)} ms`, reach: "< 150 ms", judge: "–", ok: ms < 150 },
  ];
}
