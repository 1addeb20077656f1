import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { copyFrame, createFrame, type Frame } from "../pixels/frame";
import { random } from "../random";
import { valueAt } from "../time/keyed";
import { bring, inverseOf, laidTogether } from "./build";
import { backgroundOf, type Cells, mostOften } from "./cells";
import { chooseFrames } from "./choose";
import { colourOf, plainFrame } from "./colour";
import { type Homography, mapped, type Place } from "../follow/homography";
import { cameraPlace, cameraTrack } from "./follow";
import { pictureKey, pictureSpec } from "./keys";
import { broughtIntoLine, layPicture } from "./line";
import { gridOf, grown, hysteresis, pieces } from "./regions";
import { box, DOWN as H, ACROSS as W, shot } from "../../../testkit/cell-shot";

const YUV = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false } as const;
describe("regions", () => {
  it("grow to squares, fall into pieces, and keep what hangs on to something sure", () => {
    const data = new Uint8Array(10 * 6);
    data[2 * 10 + 2] = data[4 * 10 + 8] = 1;
    const g = { width: 10, height: 6, data };
    expect(pieces(g).length).toBe(2);
    expect(grown(g, 1).data.reduce((a, b) => a + b, 0)).toBe(18);
    expect(pieces(grown(g, 3)).length).toBe(1);
    const values = Float32Array.from(data, (_, i) => (i < 5 ? 3 : i === 5 ? 9 : i > 40 ? 3 : 0));
    expect(Array.from(hysteresis(values, 10, 6, 2, 8).data.slice(0, 7))).toEqual([1, 1, 1, 1, 1, 1, 0]);
  });

  it("hold the cells whose middle lies in an outline", () => {
    const g = gridOf([[8, 4], [24, 4], [24, 12], [8, 12]], 10, 6, 4); // prettier-ignore
    expect(pieces(g).map((p) => p.length)).toEqual([8]);
  });
});

describe("what is there most often", () => {
  it("is the middle of the shortest half", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 255, noNaN: true }), { minLength: 4, maxLength: 40 }), (v) => {
        const sorted = Float64Array.from(v).sort();
        const k = Math.max(2, Math.ceil(sorted.length / 2));
        const shortest = Math.min(...Array.from({ length: sorted.length - k + 1 }, (_, i) => sorted[i + k - 1] - sorted[i]));
        const got = mostOften(sorted, sorted.length, 0.5);
        expect(got.width).toBeCloseTo(shortest, 9);
      }),
    );
  });

  it("is the ground behind something that passes", () => {
    const { frames, ground } = shot(30, (f, x, y) => (box(x, y, 2 * f, 10, 2 * f + 12, 30) ? 220 : null));
    const b = backgroundOf(frames);
    for (let i = 0; i < ground.length; i++) expect(Math.abs(b.planes[0][i] - ground[i])).toBeLessThan(1);
  });
});

describe("a plate from many", () => {
  const off = (c: { label: Uint16Array }, frames: Cells[], ground: Float32Array) =>
    ground.filter((v, i) => Math.abs(frames[c.label[i]].planes[0][i] - v) > 2).length;

  it("takes every area from a frame in which it is clean", () => {
    const { frames, ground } = shot(24, (f, x, y) => (box(x, y, 2 * f, 8, 2 * f + 16, 32) ? 220 : null));
    const c = chooseFrames({ frames });
    expect(off(c, frames, ground)).toBe(0);
    expect(c.never.some(Boolean)).toBe(false);
    // as few frames as serve
    expect(new Set(c.label).size).toBeLessThan(6);
  });

  it("does so though something rests before it for more than half the time", () => {
    const { frames, ground } = shot(30, (f, x, y) => (f >= 12 && box(x, y, 20, 12, 36, 30) ? 200 : null));
    const c = chooseFrames({ frames });
    expect(off(c, frames, ground)).toBe(0);
    // and says that one should look twice
    expect(c.doubt[20 * W + 28]).toBe(1);
    expect(c.doubt[2 * W + 2]).toBe(0);
  });

  it("lists what is kept out in every frame as never clean, and takes nothing from what is kept out in some", () => {
    const { frames, ground } = shot(20, (f, x, y) => (f < 13 && box(x, y, 20, 12, 30, 24) ? 200 : null));
    const grid = (on: boolean) => ({
      width: W,
      height: H,
      data: Uint8Array.from({ length: W * H }, (_, i) => (on && box(i % W, Math.floor(i / W), 19, 11, 31, 25) ? 1 : 0)),
    });
    const c = chooseFrames({ frames, keepOut: frames.map((_, f) => (f < 13 ? grid(true) : null)) });
    expect(off(c, frames, ground)).toBe(0);
    const none = chooseFrames({ frames, keepOut: frames.map(() => grid(true)) });
    expect(none.never[18 * W + 25]).toBe(1);
    expect(none.never[2 * W + 2]).toBe(0);
  });

  it("copies samples where one frame serves, and mixes only across seams", () => {
    const made = [50, 90].map((v) => {
      const f = createFrame(24, 16, YUV);
      f.planes.forEach((p) => p.data.fill(v));
      return f;
    });
    const label = Uint16Array.from({ length: 6 * 4 }, (_, i) => (i % 6 < 3 ? 0 : 1));
    const c = { width: 6, height: 4, cell: 4, label } as Parameters<typeof laidTogether>[0];
    const light = [0, 1, 2].map(() => ({ gain: 1, offset: 0 }));
    const flat = { dx: 0, dy: 0, angle: 0, scale: 1, agree: 1 };
    const out = laidTogether(c, made[0], (l) => bring(made[l], flat, light, "left", false));
    const row = Array.from(out.planes[0].data.slice(0, 24));
    expect(row.slice(0, 10).every((v) => v === 50)).toBe(true);
    expect(row.slice(14).every((v) => v === 90)).toBe(true);
    expect(row.slice(10, 14)).toEqual([55, 65, 75, 85]);
  });
});

/** A frame of seeded values. */
function noisy(seed: number): Frame {
  const rnd = random(seed);
  const f = createFrame(32, 24, YUV);
  f.planes.forEach((p) => p.data.forEach((_, i) => (p.data[i] = 40 + 160 * rnd())));
  return f;
}

describe("bringing into line", () => {
  it("takes whole shifts by copying and puts gain and offset on each plane", () => {
    const f = noisy(1);
    const line = { x: 2, y: -2, scale: 1, angle: 0, light: [[1, 0], [1, 0], [1, 0]] as [number, number][] }; // prettier-ignore
    const out = broughtIntoLine(f, line, "left");
    expect(out.planes[0].data[5 * 32 + 9]).toBe(f.planes[0].data[7 * 32 + 7]);
    const lit = broughtIntoLine(f, { ...line, x: 0, y: 0, light: [[1.1, -1.6], [1, 0], [1, 0]] }, "left"); // prettier-ignore
    f.planes[0].data.forEach((v, i) => expect(lit.planes[0].data[i]).toBe(Math.min(255, Math.floor(1.1 * v - 1.6 + 0.5))));
    expect(lit.planes[1].data).toEqual(f.planes[1].data);
  });

  it("is undone by the inverse of an alignment", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: 0.9, max: 1.1, noNaN: true }),
        (dx, dy, angle, scale) => {
          const i = inverseOf({ dx, dy, angle, scale, agree: 1 });
          const turn = (a: number, s: number, x: number, y: number) => {
            const r = (a * Math.PI) / 180;
            return [s * (Math.cos(r) * x - Math.sin(r) * y), s * (Math.sin(r) * x + Math.cos(r) * y)];
          };
          const [qx, qy] = turn(angle, scale, 3, 7);
          const [bx, by] = turn(i.angle, i.scale, qx + dx, qy + dy);
          expect(bx + i.x).toBeCloseTo(3, 9);
          expect(by + i.y).toBeCloseTo(7, 9);
        },
      ),
    );
  });
});

describe("a picture laid over a plate", () => {
  it("changes nothing at α = 0, bit for bit, and is itself at α = 1", () => {
    const below = noisy(2);
    const with_ = (a: number): Frame => {
      const f = createFrame(32, 24, { ...YUV, alpha: true });
      noisy(3).planes.forEach((p, i) => f.planes[i].data.set(p.data));
      f.planes[3].data.fill(a);
      return f;
    };
    const none = copyFrame(below);
    layPicture(none, with_(0), "left");
    expect(none).toEqual(below);
    const all = copyFrame(below);
    layPicture(all, with_(255), "left");
    expect(all.planes.map((p) => p.data)).toEqual(noisy(3).planes.map((p) => p.data));
    expect(() => layPicture(copyFrame(below), createFrame(30, 24, YUV), "left")).toThrow(/30×24 cannot be laid over a plate of 32×24/);
  });
});

describe("a plain colour", () => {
  it("is the slope of its surroundings, and flat where they are", () => {
    const f = createFrame(64, 48, YUV);
    const rnd = random(4);
    for (let y = 0; y < 48; y++) for (let x = 0; x < 64; x++) f.planes[0].data[y * 64 + x] = 60 + 0.9 * x + 0.5 * y + 2 * (rnd() - 0.5);
    f.planes[1].data.fill(120);
    f.planes[2].data.fill(140);
    // a thing in the middle that the colour is not taken from
    for (let y = 20; y < 30; y++) for (let x = 24; x < 40; x++) f.planes[0].data[y * 64 + x] = 240;
    const c = colourOf(f, (x, y) => !(x > 22 && x < 42 && y > 18 && y < 32))!;
    expect(c.planes[0][1]).toBeCloseTo(0.9, 1);
    expect(c.planes[0][2]).toBeCloseTo(0.5, 1);
    expect(c.planes[1]).toEqual([120, 0, 0]);
    const out = plainFrame(c, 64, 48, YUV);
    let off = 0;
    for (let y = 20; y < 30; y++) for (let x = 24; x < 40; x++) off += out.planes[0].data[y * 64 + x] - (59.5 + 0.9 * x + 0.5 * y);
    expect(Math.abs(off / 160)).toBeLessThan(0.6);
    expect(out.planes[1].data.every((v) => v === 120)).toBe(true);
    expect(colourOf(f, () => false)).toBeNull();
  });
});

describe("following the camera", () => {
  it("is keyed where a straight line would be off, and nowhere by more than 0.02 px", () => {
    const perFrame = Array.from({ length: 60 }, (_, n) => [3 * Math.sin(n / 20), 0.02 * n, 0, 1]);
    const place = cameraPlace(perFrame, 10, 5, 55);
    for (let n = 5; n <= 55; n++) {
      expect(Math.abs(valueAt(place.x!, n) - (perFrame[n][0] - perFrame[10][0]))).toBeLessThan(0.021);
      expect(Math.abs(valueAt(place.y!, n) - (perFrame[n][1] - perFrame[10][1]))).toBeLessThan(0.021);
    }
    expect((place.x as { keys: unknown[] }).keys.length).toBeLessThan(20);
    expect(place.angle).toBeUndefined();
  });
});

describe("what the camera does, as a track", () => {
  const size = { width: 1280, height: 720 };
  const perFrame = Array.from({ length: 40 }, (_, n) => [3 * Math.sin(n / 9), 0.05 * n, 0.02 * Math.sin(n / 7), 1 + 0.0004 * Math.cos(n / 5)]);
  it("leads from frame to frame as the survey says that each lies against the first", () => {
    const at = 12;
    const { frames, model } = cameraTrack(perFrame, at, size, []);
    expect([model, frames.length, frames[0].f]).toEqual(["similarity", 40, 0]);
    const lies = ([dx, dy, angle, scale]: number[], [x, y]: readonly number[]) => {
      const [u, v] = [x - 640, y - 360];
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
      return [640 + dx + scale * (c * u - s * v), 360 + dy + scale * (s * u + c * v)];
    };
    let worst = 0;
    for (const t of frames)
      for (const p of [[0, 0], [1280, 0], [300, 700], [640, 360]] as const) {
        const q = mapped((t as { matrix: Homography }).matrix, lies(perFrame[at], p) as Place)!;
        const wanted = lies(perFrame[t.f], p);
        worst = Math.max(worst, Math.hypot(q[0] - wanted[0], q[1] - wanted[1]));
      } // prettier-ignore
    expect(worst).toBeLessThan(1e-9);
    expect((frames[at] as { matrix: Homography }).matrix).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });
  it("keeps to its own scene, and is a shift where nothing turns", () => {
    const plain = perFrame.map(([x, y]) => [x, y, 0, 1]);
    const { frames, model } = cameraTrack(plain, 12, size, [5, 30]);
    expect([model, frames[0].f, frames.at(-1)!.f]).toEqual(["shift", 5, 29]);
  });
});

describe("a picture's key", () => {
  it("says how to make it", () => {
    const built = { in: 3, out: 9, average: true };
    expect(pictureSpec(pictureKey({ take: "a", built }))).toEqual({ take: "a", built });
    const colour = { x: 1, y: 2, planes: [[1, 2, 3]] as [number, number, number][] };
    expect(pictureSpec(pictureKey({ colour }))).toEqual({ colour });
    expect(pictureSpec(pictureKey({ path: "x.png" }))).toEqual({ file: "x.png" });
  });
});

describe("beyond the border of another take", () => {
  it("there is nothing: α is the share of each pixel that its frame covers, and colours are not repeated into full α", () => {
    const f = noisy(3);
    const light = [[1, 0], [1, 0], [1, 0]] as [number, number][]; // prettier-ignore
    const out = broughtIntoLine(f, { x: 2.25, y: -3, scale: 1, angle: 0, light }, "left");
    expect(out.format.alpha).toBe(true);
    const alpha = out.planes[3].data;
    const at = (x: number, y: number) => alpha[y * 32 + x];
    expect([at(0, 5), at(1, 5), at(2, 5), at(3, 5), at(31, 5)]).toEqual([0, 0, Math.floor(0.75 * 255 + 0.5), 255, 255]);
    expect([at(10, 20), at(10, 21), at(10, 23)]).toEqual([255, 0, 0]);
    expect(broughtIntoLine(f, { x: 0, y: 0, scale: 1, angle: 0, light }, "left").format.alpha).toBe(false);
    // turned and larger: it covers everything
    expect(broughtIntoLine(f, { x: 0, y: 0, scale: 1.6, angle: 8, light }, "left").format.alpha).toBe(false);
    expect(broughtIntoLine(f, { x: 0, y: 0, scale: 1, angle: 8, light }, "left").planes[3].data[0]).toBeLessThan(255);
  });
});

describe("what rests for most of the shot", () => {
  it("is never taken as ground without a mark, however short the ground is seen: three frames running", () => {
    for (const gone of [3, 4, 8]) {
      const count = 48;
      const rests = (f: number, x: number, y: number) => (f < count - gone && box(x, y, 20, 10, 36, 30) ? 150 + ((x * 7 + y * 3) % 11) : null);
      const { frames } = shot(count, rests, 20 + gone);
      const c = chooseFrames({ frames });
      for (let y = 12; y < 28; y++)
        for (let x = 22; x < 34; x++) expect([gone, x, y, c.doubt[y * W + x] + c.never[y * W + x] > 0]).toEqual([gone, x, y, true]);
      // and nothing else is marked
      let far = 0;
      for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) if (!box(x, y, 18, 8, 38, 32)) far += c.doubt[y * W + x];
      expect(far).toBe(0);
    }
  });
  it("what passes without resting is no second state", () => {
    const { frames } = shot(40, (f, x, y) => (box(x, y, 3 * f - 20, 10, 3 * f - 4, 30) ? 90 + 12 * ((x - 3 * f + 400) % 9) : null), 5);
    expect(chooseFrames({ frames }).doubt.reduce((a, b) => a + b, 0)).toBe(0);
  });
});
