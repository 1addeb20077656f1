import { execFileSync } from "node:child_process";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { YUV420 } from "../../../testkit/pictures";
import type { Recipe } from "../document/recipe";
import { bytesOf, createFrame, type Frame, frameFromBytes, planeShift } from "../pixels/frame";
import { sitedPlane } from "../pixels/siting";
import { composeFrame } from "./compose";
import { behind, covers, type Framing, framingAt, keptCorners, reframed, unframed } from "./reframe";

const [W, H] = [320, 180];
const canvas = { scale: 1, siting: "left" as const };
type Scene = (x: number, y: number) => number;

/** A picture of a scene, looked at through a framing: each sample where it truly lies. */
function taken(scene: Scene, f: Framing = { x: 0, y: 0, scale: 1, angle: 0 }): Frame {
  const out = createFrame(W, H, YUV420);
  const back = behind(f, W, H);
  for (const [p, plane] of out.planes.entries()) {
    const { sx, sy } = planeShift(YUV420, p);
    const at = sitedPlane(YUV420, p, "left");
    for (let y = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++) {
        const [u, v] = back(x * (1 << sx) + at.x0, y * (1 << sy) + at.y0);
        plane.data[y * plane.width + x] = Math.round(p ? 128 + (scene(u, v) - 128) / 2 : scene(u, v));
      }
  }
  return out;
}

/** Detail in all directions, none finer than a sampled picture can hold, also in chroma. */
const waves: Scene = (x, y) => 120 + 35 * Math.sin(x / 3.1 + y / 9) + 25 * Math.cos(y / 2.7 - x / 14) + 20 * Math.sin((x + y) / 5);

/** Signal to noise of plane `p` against the truth, away from the border, dB. */
function psnr(a: Frame, b: Frame, p: number): number {
  const { width, height, data } = a.planes[p];
  let [sum, n] = [0, 0];
  for (let y = 8; y < height - 8; y++) for (let x = 8; x < width - 8; x++, n++) sum += (data[y * width + x] - b.planes[p].data[y * width + x]) ** 2;
  return 10 * Math.log10((255 * 255) / (sum / n));
}

describe("a picture that is framed anew", () => {
  it.each<[string, Framing]>([
    ["enlarged", { x: 0, y: 0, scale: 1.2, angle: 0 }],
    ["enlarged and moved", { x: 11.3, y: -9.6, scale: 1.15, angle: 0 }],
    ["turned", { x: 3, y: 2, scale: 1.3, angle: 4 }],
  ])("%s: shows the scene where it lies then, each plane at its own place", (_, f) => {
    const truth = taken(waves, f);
    const mine = reframed(taken(waves), f, 0, canvas);
    expect(psnr(mine, truth, 0)).toBeGreaterThan(45);
    expect(psnr(mine, truth, 1)).toBeGreaterThan(40);
  });

  it("is as sharp as ffmpeg's `scale` by Lanczos makes it, or nearer the truth", () => {
    // a crop of whole luma and chroma samples, enlarged to the whole picture
    const [w, h] = [256, 144];
    const scale = W / w;
    const f: Framing = { x: 0, y: 0, scale, angle: 0 };
    const source = taken(waves);
    const raw = ["-f", "rawvideo", "-pix_fmt", "yuv420p", "-s"];
    const filter = `crop=${w}:${h}:${(W - w) / 2}:${(H - h) / 2},scale=${W}:${H}:flags=lanczos+accurate_rnd+full_chroma_int:param0=3`;
    const bytes = execFileSync("ffmpeg", ["-v", "error", ...raw, `${W}x${H}`, "-i", "-", "-vf", filter, "-f", "rawvideo", "-pix_fmt", "yuv420p", "-"], { input: Buffer.from(bytesOf(source)) }); // prettier-ignore
    const theirs = frameFromBytes(new Uint8Array(bytes), W, H, YUV420);
    const truth = taken(waves, f);
    const mine = reframed(source, f, 0, canvas);
    for (const p of [0, 1]) expect(psnr(mine, truth, p)).toBeGreaterThan(psnr(theirs, truth, p) - 0.1);
  });

  it("keeps flat ground flat to the code, whatever it is framed by (property)", () => {
    const flat = taken(() => 97);
    fc.assert(
      fc.property(fc.double({ min: 1.05, max: 3, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (scale, angle) => {
        const out = reframed(flat, { x: 0, y: 0, scale, angle }, 0, canvas);
        return out.planes[0].data.every((v) => v === 97);
      }),
      { numRuns: 12 },
    );
  });

  it("covers all of its frame or is refused, by its frame (property: as its corners say)", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        fc.integer({ min: -90, max: 90 }),
        fc.integer({ min: -8, max: 8 }),
        (scale, x, angle) => {
          const f = { x, y: 0, scale, angle };
          const inside = keptCorners(f, W, H).every(([u, v]) => u > -0.02 && v > -0.02 && u < W + 0.02 && v < H + 0.02);
          return covers(f, W, H) === inside || Math.abs(scale - 1) < 1e-3;
        },
      ),
    );
    expect(() => reframed(taken(waves), { x: 5, y: 0, scale: 1, angle: 0 }, 7, canvas)).toThrow(/frame 7 would have an empty edge/);
  });
});

const recipe = (layers: unknown[]): Recipe =>
  ({ shot: { take: "a", in: 0, out: 9 }, plates: {}, takes: {}, intruders: [{ id: "i", name: "x", layers }] }) as unknown as Recipe;
const one = { id: "r", kind: "reframe", in: 2, out: 6, place: { scale: { keys: [{ f: 2, v: 1 }, { f: 6, v: 1.4 }] } } }; // prettier-ignore

describe("a reframing in a recipe", () => {
  const run = (r: Recipe, n: number) => {
    const below = taken(waves);
    const pictures = { take: () => below, plate: () => below };
    return { below, out: composeFrame({ recipe: r, n, below, pictures, canvas: { width: W, height: H, ...canvas } }) };
  };

  it("acts on its own frames, keyed as it is; all others are returned as they came", () => {
    const r = recipe([one]);
    for (const n of [0, 2, 7]) {
      const { below, out } = run(r, n);
      expect(out).toBe(below);
    }
    expect(run(r, 4).out.planes[0].data).toEqual(reframed(taken(waves), { x: 0, y: 0, scale: 1.2, angle: 0 }, 4, canvas).planes[0].data);
    expect(unframed(r)).toBe(unframed(r));
    expect(framingAt(unframed(r), 4)).toBeNull();
  });

  it("comes last, wherever it is listed", () => {
    const patch = {
      id: "p",
      kind: "patch",
      in: 0,
      out: 9,
      source: { take: "a", hold: 0 },
      place: { x: 40, y: 0 },
      mask: { shapes: [{ kind: "ellipse", op: "add", center: [160, 90], radii: [30, 20] }], feather: 4 },
    };
    const first = run(recipe([one, patch]), 5).out;
    const last = run(recipe([patch, one]), 5).out;
    expect(first.planes[0].data).toEqual(last.planes[0].data);
    const plain = run(recipe([patch]), 5).out;
    expect(first.planes[0].data).toEqual(reframed(plain, framingAt(recipe([one]), 5)!, 5, canvas).planes[0].data);
  });

  it("is one a frame: another is refused in a sentence", () => {
    expect(() => run(recipe([one, { ...one, id: "s", in: 6, out: 9 }]), 6)).toThrow(/Frame 6 is reframed by two layers/);
    expect(() => run(recipe([one, { ...one, id: "s", on: false }]), 6)).not.toThrow();
  });
});
