import { bytesOf, createFrame, type Frame } from "../src/core/pixels/frame";
import type { PatchLayer } from "../src/core/document/layer";
import type { Recipe } from "../src/core/document/recipe";
import { random } from "../src/core/random";
import { ffmpeg } from "./ffmpeg";
import { normals } from "./normals";
import { YUV420 } from "./pictures";

export const [WIDE, HIGH, LONG] = [192, 128, 48];
/** First and last frame in which a bar hangs into the picture, and where it is then: left, top, right, bottom. */
export const BAR = { in: 16, out: 29, box: [88, 0, 104, 56] } as const;

/** What happens on a made-up stage beside the bar. */
export interface Stage {
  /** σ of its noise, codes. */
  noise?: number;
  /** The light of a frame. */
  gain?: (n: number) => number;
  /** Where somebody stands who passes, left edge; null: not there. */
  walker?: (n: number) => number | null;
  /** Somebody who sits there all the time and sways: by how many pixels, and how high the middle of the head is. */
  head?: { y: number; sway: (n: number) => number };
  /** By how many codes the ground heaves, slowly: as water does. */
  alive?: number;
  /** How high black bars are above and below, pixels. */
  bars?: number;
  /** Whether the bar is there at all. */
  bar?: (n: number) => boolean;
}

/** A wall with soft stains and some boxes, the same for all stages: luma and both chroma planes at luma size. */
const WALL = (() => {
  const rnd = random(7);
  const boxes = Array.from({ length: 30 }, () => ({
    x: rnd() * WIDE,
    y: rnd() * HIGH,
    w: 6 + 20 * rnd(),
    h: 4 + 14 * rnd(),
    v: 30 * rnd() - 15,
    u: 16 * rnd() - 8,
  }));
  return Array.from({ length: WIDE * HIGH }, (_, i): [number, number, number] => {
    const [x, y] = [i % WIDE, Math.floor(i / WIDE)];
    let [v, u] = [110 + 20 * Math.sin(x / 19) * Math.cos(y / 15), 0];
    for (const b of boxes) if (x >= b.x && x < b.x + b.w && y >= b.y && y < b.y + b.h) [v, u] = [v + b.v, u + b.u];
    return [v, 128 + u, 128 - u / 2];
  });
})();

/** A frame of a stage. */
export function stageFrame(
  n: number,
  { noise = 0.5, gain = () => 1, walker = () => null, head, alive = 0, bars = 0, bar = (k) => k >= BAR.in && k <= BAR.out }: Stage = {},
): Frame {
  const out = createFrame(WIDE, HIGH, YUV420);
  const normal = normals(1000 + n);
  const left = walker(n);
  const [bx0, by0, bx1, by1] = BAR.box;
  const sway = 2 * Math.sin(n);
  const at = (x: number, y: number): readonly [number, number, number] => {
    if (y < bars || y >= HIGH - bars) return [16, 128, 128];
    if (bar(n) && x >= bx0 + sway && x < bx1 + sway && y >= by0 && y < by1) return [40, 126, 130];
    if (left !== null && x >= left && x < left + 18 && y >= 40 && y < 120) return [180, 110, 150];
    if (head) {
      const [hx, hy] = [(x - 96 - head.sway(n)) / 34, (y - head.y) / 30];
      // hair and a face: stripes that go with the head
      if (hx * hx + hy * hy < 1) return [90 + 40 * Math.sin(9 * hx) * Math.cos(11 * hy), 112, 148];
    }
    const [v, u, w] = WALL[y * WIDE + x];
    return [v + alive * (Math.sin(x / 7 + n * 0.9) + Math.sin(y / 5 - n * 0.7)), u, w];
  };
  const [luma, cb, cr] = out.planes;
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i++)
      luma.data[i] = Math.max(
        0,
        Math.min(255, Math.round(16 + gain(n) * (at(x, y)[0] - 16) + (y < bars || y >= HIGH - bars ? 0 : noise * normal()))),
      );
  for (let y = 0, i = 0; y < cb.height; y++)
    for (let x = 0; x < cb.width; x++, i++) {
      const p = at(2 * x, 2 * y);
      const own = 2 * y < bars || 2 * y >= HIGH - bars ? 0 : 0.5 * noise;
      cb.data[i] = Math.round(p[1] + own * normal());
      cr.data[i] = Math.round(p[2] + own * normal());
    }
  return out;
}

/** Writes a stage as a film. @param args how it is coded, and to where */
export function writeStage(stage: Stage, ...args: string[]): void {
  const frames = Array.from({ length: LONG }, (_, n) => bytesOf(stageFrame(n, stage)));
  ffmpeg(["-y", "-f", "rawvideo", "-pix_fmt", "yuv420p", "-s", `${WIDE}x${HIGH}`, "-r", "24", "-i", "-", ...args], Buffer.concat(frames));
}

/** The bar taken away as it should be: a held frame through a box that is wider by 8 px, changed as is wanted. */
export function mended(change: Partial<PatchLayer> = {}, room = 8): Recipe {
  const [x0, , x1, y1] = BAR.box;
  const mask: PatchLayer["mask"] = {
    shapes: [{ kind: "box", op: "add", center: [(x0 + x1) / 2, (y1 + room) / 2 - 10], size: [x1 - x0 + 2 * room, y1 + room + 20], angle: 0 }],
    feather: 3,
  };
  const layer = { id: "p", kind: "patch", in: BAR.in, out: BAR.out, source: { take: "a", hold: 8 }, mask, ...change } as PatchLayer;
  return {
    format: "umber-moth/recipe",
    version: 1,
    takes: { a: { path: "a.mkv" } },
    shot: { take: "a", in: 0, out: LONG - 1 },
    plates: {},
    intruders: [{ id: "bar", name: "Bar", layers: [layer] }],
  };
}
