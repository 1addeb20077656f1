import { execFileSync } from "node:child_process";
import { join } from "node:path";
import type { PatchLayer } from "../../src/core/document/layer";
import type { Recipe } from "../../src/core/document/recipe";
import { bytesOf } from "../../src/core/pixels/frame";
import { Street } from "../../testkit/street";
import type { Case } from "./wrong";

/** A made-up street, its boom there from one frame to another, and how its film is written. */
export interface StreetTake {
  name: string;
  seed: number;
  noise: number;
  args: string[];
  end: string;
  /** By how much its light is brighter at the end than at the beginning. */
  light?: number;
}

const SIZE = { wide: 640, high: 360 };
const FRAMES = 80;
/** First and last frame of the boom. */
export const BOOM = { in: 28, out: 55 };
const ROOM = 5;

export const STREETS: StreetTake[] = [
  { name: "street 1", seed: 1, noise: 2, args: ["-c:v", "libx264", "-crf", "20"], end: "mp4" },
  { name: "street 2", seed: 2, noise: 1, args: ["-c:v", "libx264", "-crf", "26"], end: "mp4" },
  { name: "street 3", seed: 3, noise: 3, args: ["-c:v", "mpeg4", "-b:v", "1500k"], end: "avi" },
  { name: "street 4", seed: 4, noise: 2, args: ["-c:v", "libx264", "-crf", "18"], end: "mp4", light: 0.06 },
  { name: "street 5", seed: 5, noise: 0.6, args: ["-c:v", "libx264", "-b:v", "700k"], end: "mp4" },
  { name: "street 6", seed: 6, noise: 4, args: ["-c:v", "ffv1"], end: "mkv" },
];

/** Writes a street's film, and another without the boom. */
export function makeStreet(s: StreetTake, folder: string): { film: string; clean: string } {
  const name = s.name.replaceAll(" ", "-");
  const [film, clean] = [join(folder, `${name}.${s.end}`), join(folder, `${name}-clean.${s.end}`)];
  const street = new Street(s.seed, SIZE, true);
  for (const [to, without] of [
    [film, false],
    [clean, true],
  ] as const) {
    const frames: Buffer[] = [];
    for (let n = 0; n < FRAMES; n++) {
      const frame = street.frame(n, { noise: s.noise, boom: !without && n >= BOOM.in && n <= BOOM.out });
      const gain = 1 + ((s.light ?? 0) * n) / FRAMES;
      const y = frame.planes[0].data;
      for (let i = 0; i < y.length; i++) y[i] = Math.min(255, Math.round(16 + gain * (y[i] - 16)));
      frames.push(Buffer.from(bytesOf(frame)));
    }
    const input = ["-f", "rawvideo", "-pix_fmt", "yuv420p", "-s", `${SIZE.wide}x${SIZE.high}`, "-r", "24", "-i", "-"];
    execFileSync("ffmpeg", ["-v", "error", "-y", ...input, ...s.args, "-pix_fmt", "yuv420p", to], { input: Buffer.concat(frames) });
  }
  return { film, clean };
}

/** The boom taken off a street: its form and that of its shadow, a key on every frame, over a held frame. */
export function streetRecipe(s: StreetTake, film: string): Recipe {
  const street = new Street(s.seed, SIZE, true);
  const list = Array.from({ length: BOOM.out - BOOM.in + 1 }, (_, k) => BOOM.in + k);
  const shape = (shadow: boolean) => ({
    kind: "path" as const,
    op: "add" as const,
    points: { keys: list.map((f) => ({ f, v: street.form(f, ROOM, shadow) })) },
  });
  const layer: PatchLayer = {
    id: "p",
    kind: "patch",
    in: BOOM.in,
    out: BOOM.out,
    source: { take: "a", hold: BOOM.in - 6 },
    mask: { shapes: [shape(false), shape(true)], feather: 3 },
  };
  return {
    format: "umber-moth/recipe",
    version: 1,
    name: s.name,
    takes: { a: { path: film } },
    shot: { take: "a", in: 0, out: FRAMES - 1 },
    plates: {},
    intruders: [{ id: "boom", name: "Boom", layers: [layer] }],
  };
}

/** What is right and wrong on a street beside what is so everywhere: the walkers below are bitten, another take shows all that passes. */
export function streetCases(good: Recipe, clean: string): Case[] {
  const [i] = good.intruders;
  const layer = i.layers[0] as PatchLayer;
  const mask = layer.mask as Exclude<PatchLayer["mask"], { use: string }>;
  const withLayer = (l: Partial<PatchLayer>): Recipe => ({ ...good, intruders: [{ ...i, layers: [{ ...layer, ...l } as PatchLayer] }] });
  const box = { kind: "box" as const, op: "add" as const, center: [320, 290] as [number, number], size: [200, 120] as [number, number], angle: 0 };
  return [
    { name: "bites", kinds: ["bite"], recipe: withLayer({ mask: { ...mask, shapes: [...mask.shapes, box] } }) },
    {
      name: "good from another take, over walkers",
      kinds: [],
      recipe: {
        ...withLayer({ source: { take: "b", slip: 0 }, light: undefined, grain: undefined, mask: { ...mask, shapes: [...mask.shapes, box] } }),
        takes: { ...good.takes, b: { path: clean } },
      },
    },
  ];
}
