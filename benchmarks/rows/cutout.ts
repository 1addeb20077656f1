import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { frames } from "../../demo/make/decode";
import { cutOut, overTake } from "../../src/engine/analysis/cut-out";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { openCvGrabCut } from "../../testkit/opencv-grab-cut";
import { median, root, type Row } from "../measure";

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

/** The hall's boom cut out by one loop, against its matte, beside OpenCV's `grabCut` that is given the true box on every frame. */
export async function cutout(): Promise<Row[]> {
  const film = join(root, "demo/takes/hall.mp4");
  const index = await ingest(film);
  const { width, height } = index.info;
  const store = new FrameStore(mkdtempSync(join(tmpdir(), "umber-bench-")), 4e9);
  const times: number[] = [];
  let last = 0;
  // from one frame to the next: the plate, and going back to the first, take longer and are left out by the median
  const progress = () => {
    const now = performance.now();
    times.push(now - last);
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
  return [
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
