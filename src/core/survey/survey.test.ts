import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { surveyOf } from "../../../testkit/survey";
import { lightBetween } from "../match/light";
import { createFrame, type Frame, type Plane } from "../pixels/frame";
import { random } from "../random";
import { BarMeter } from "./bars";
import { combing } from "./combing";
import { findCuts } from "./cuts";
import { lightCurve } from "./daylight";
import { NoiseMeter } from "./noise";
import { lightWords, sentences } from "./sentences";
import { stillnessOf } from "./stillness";
import { firstSurvey } from "./survey";

const YUV = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false } as const;
const clip = (v: number) => Math.min(255, Math.max(0, Math.round(v)));

describe("light between two pictures", () => {
  it("is the gain that was put on, though a third of the places show something else", () => {
    const rnd = random(4);
    const normal = normals(5);
    for (const [gain, offset] of [
      [0.9, 0],
      [1.11, 0],
      [1, 0.6],
    ]) {
      const before = Array.from({ length: 900 }, () => 20 + 200 * rnd());
      const after = before.map((v, i) => (i % 3 === 0 ? 255 * rnd() : 16 + gain * (v - 16) + offset + 0.4 * normal()));
      const l = lightBetween(before, after, 16);
      expect(Math.abs(l.gain + l.offset / 110 - gain - offset / 110)).toBeLessThan(0.006);
    }
  });

  it("leaves equal pictures alone", () => {
    const v = Array.from({ length: 200 }, (_, i) => 20 + i);
    expect(lightBetween(v, v, 16)).toEqual({ gain: 1, offset: 0 });
  });
});

describe("drift and flicker", () => {
  const curve = (gain: (n: number) => number) => lightCurve(Array.from({ length: 60 }, (_, n) => [{ gain: gain(n), offset: 0 }]));
  it("are told apart", () => {
    const drift = curve((n) => 1 + (0.1 * n) / 59);
    expect(drift.drift).toBeGreaterThan(0.08);
    expect(drift.flicker).toBeLessThan(0.01);
    const rnd = random(8);
    const flicker = curve(() => 1 + 0.08 * (rnd() - 0.5));
    // twice the standard deviation of a uniform ±4 %: 2·0.08/√12
    expect(flicker.flicker).toBeGreaterThan(0.035);
    expect(flicker.flicker).toBeLessThan(0.06);
    expect(flicker.drift).toBeLessThan(0.025);
  });
});

describe("light in parts of the picture", () => {
  const [w, h] = [40, 24];
  const rnd = random(6);
  const ground = Float32Array.from({ length: w * h }, () => 60 + 120 * rnd());
  const told = (of: (x: number, y: number, n: number) => number) => {
    const frames = Array.from({ length: 48 }, (_, n) => {
      const noise = normals(n);
      return Float32Array.from(ground, (v, i) => 16 + (v - 16) * of(i % w, Math.floor(i / w), n) + 0.2 * noise());
    });
    const planes = (y: Float32Array) => [y, y.map(() => 128), y.map(() => 128)];
    return firstSurvey(
      frames.map((y) => ({ across: w, planes: planes(y) })),
      [],
      false,
    );
  };
  it("is told where that of the whole hardly moves: shadows that travel, corners that breathe", () => {
    const travels = told((x, _, n) => 1 + 0.1 * Math.sin((2 * Math.PI * (x + n * 1.3)) / w));
    expect(travels.light.drift).toBeLessThan(0.02);
    expect(travels.light.uneven).toBeGreaterThan(0.06);
    expect(lightWords(travels)).toMatch(/in parts of the picture by \d+\.\d %/);
    const breathes = told((x, y, n) => 1 - 0.12 * (1 + Math.sin(n / 7)) * (((x - w / 2) / w) ** 2 + ((y - h / 2) / w) ** 2));
    expect(breathes.light.uneven).toBeGreaterThan(0.015);
  });
  it("is none where all of it moves alike, nor where somebody passes", () => {
    expect(told((_, __, n) => 1 + 0.2 * Math.sin(n / 9)).light.uneven).toBeLessThan(0.004);
    expect(told((_, __, n) => 1 + (n % 2 ? 0.05 : -0.05)).light.uneven).toBeLessThan(0.004);
    // a fifth as wide as the picture, with folds of his own
    const passes = told((x, y, n) => (Math.abs(x - n + 4) < 4 && y > 6 ? 0.5 + 0.3 * Math.sin(2 * (x - n) + y) : 1));
    expect(passes.light.uneven).toBeLessThan(0.015);
    expect(lightWords(passes)).toBe("The light holds: a held plate keeps matching.");
  });
});

describe("cuts", () => {
  const thumb = (seed: number, n: number, gain = 1) => {
    const rnd = random(seed);
    return { values: Float32Array.from({ length: 400 }, (_, i) => clip(gain * (40 + 160 * rnd()) + 3 * Math.sin(i + n))) };
  };
  it("are found, and a flash, a flicker and a thing that leaves are none", () => {
    const take = [...Array.from({ length: 20 }, (_, n) => thumb(1, n)), ...Array.from({ length: 15 }, (_, n) => thumb(2, n))];
    expect(findCuts(take)).toEqual([20]);
    const flash = take.slice(0, 20);
    flash[9] = { values: flash[9].values.map(() => 250) };
    expect(findCuts(flash)).toEqual([]);
    expect(findCuts(Array.from({ length: 20 }, (_, n) => thumb(1, n, n % 2 ? 1.1 : 0.95)))).toEqual([]);
    const leaves = Array.from({ length: 20 }, (_, n) => {
      const t = thumb(1, n);
      if (n < 12) for (let i = 100; i < 260; i++) t.values[i] = 230;
      return t;
    });
    expect(findCuts(leaves)).toEqual([]);
  });
});

describe("noise", () => {
  it("is what was put in, and how alike neighbours are", () => {
    const [w, h] = [160, 96];
    for (const soft of [false, true]) {
      const meter = new NoiseMeter();
      const normal = normals(soft ? 2 : 1);
      const make = (): Plane => {
        const raw = Float32Array.from({ length: w * h }, normal);
        const data = new Uint8Array(w * h);
        for (let i = 0; i < data.length; i++) {
          const v = soft ? (raw[i] + raw[(i + 1) % raw.length]) / Math.SQRT2 : raw[i];
          data[i] = clip(100 + 4 * v);
        }
        return { width: w, height: h, data };
      };
      let before = make();
      for (let n = 0; n < 6; n++) {
        const now = make();
        meter.add(before, now, 8);
        before = now;
      }
      const g = meter.result();
      expect(Math.abs(g.sigma / 4 - 1)).toBeLessThan(0.06);
      expect(Math.abs(g.correlation[0] - (soft ? 0.5 : 0))).toBeLessThan(0.08);
    }
  });

  it.each([0.6, 1.3, 4])("of σ %d is found though something moves in half of the picture and more", (sigma) => {
    const [w, h] = [320, 192];
    const normal = normals(5);
    for (const share of [0, 0.3, 0.6]) {
      const meter = new NoiseMeter();
      // slopes of any height and direction over the lower part, other ones in every frame
      const rnd = random(9);
      const make = (): Plane => {
        const slopes = Array.from({ length: (w / 8) * (h / 8) }, () => [rnd() * 24 - 12, rnd() * 24 - 12, rnd() * 16 - 8]);
        const data = new Uint8Array(w * h);
        for (let y = 0; y < h; y++)
          for (let x = 0; x < w; x++) {
            const [sx, sy, lift] = slopes[Math.floor(y / 8) * (w / 8) + Math.floor(x / 8)];
            const wave = y >= h * (1 - share) ? (sx * (x % 8) + sy * (y % 8)) / 8 + lift : 0;
            data[y * w + x] = clip(100 + wave + sigma * normal());
          }
        return { width: w, height: h, data };
      };
      for (let n = 1; n < 9; n++) meter.add(make(), make(), 8);
      // a code value is a step of its own: its rounding adds a twelfth
      expect(Math.abs(meter.result().sigma / Math.sqrt(sigma ** 2 + 1 / 12) - 1), `${share} moves`).toBeLessThan(0.13);
    }
  });
});

describe("bars", () => {
  it("are measured with their soft edge, and a dark picture has none", () => {
    const [w, h] = [120, 80];
    const meter = new BarMeter();
    const rnd = random(6);
    for (let n = 0; n < 3; n++) {
      const data = new Uint8Array(w * h);
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) data[y * w + x] = y < 9 || y >= h - 6 ? 16 + 2 * rnd() : y === 9 ? 60 : 70 + 100 * rnd();
      meter.add({ width: w, height: h, data }, 8);
    }
    expect(meter.result(16)).toMatchObject({ left: 0, top: 10, right: 0, bottom: 6, soft: 1 });
    const dark = new BarMeter();
    dark.add({ width: w, height: h, data: new Uint8Array(w * h).fill(18) }, 8);
    expect(dark.result(16)).toMatchObject({ left: 0, top: 0, right: 0, bottom: 0 });
  });
});

describe("combing", () => {
  const [w, h] = [200, 100];
  const block = (at: number, line: (y: number) => boolean = () => true, old?: Uint8Array): Uint8Array => {
    const data = old?.slice() ?? new Uint8Array(w * h).fill(60);
    for (let y = 0; y < h; y++) if (line(y)) for (let x = 0; x < w; x++) data[y * w + x] = x > at && x < at + 60 && y > 20 && y < 80 ? 180 : 60;
    return data;
  };
  it("tells woven fields from whole frames", () => {
    const plane = (data: Uint8Array) => ({ width: w, height: h, data });
    const woven = block(50, (y) => y % 2 === 1, block(40));
    expect(combing(plane(block(30)), plane(woven), 8).share).toBeGreaterThan(0.3);
    expect(combing(plane(block(30)), plane(block(50)), 8).share).toBeLessThan(0.02);
  });
});

describe("stillness", () => {
  const at = (dx: number, dy = 0) => ({ dx, dy, angle: 0, scale: 1, agree: 1 });
  const verdict = (list: ({ dx: number; dy: number; angle: number; scale: number; agree: number } | null)[]) => stillnessOf(list, 1280, 720);
  it("gives its four verdicts", () => {
    expect(verdict(Array.from({ length: 40 }, (_, n) => at(0.02 * Math.sin(n)))).verdict).toBe("locked");
    const settles = verdict(Array.from({ length: 40 }, (_, n) => at(n < 10 ? n * 0.3 : 3)));
    expect(settles).toMatchObject({ verdict: "settles", settledAt: 10 });
    expect(verdict(Array.from({ length: 40 }, (_, n) => at(0.1 * n)))).toMatchObject({ verdict: "drifts" });
    expect(verdict(Array.from({ length: 40 }, (_, n) => at(4 * n))).verdict).toBe("moves");
    expect(verdict(Array.from({ length: 40 }, (_, n) => (n % 3 ? null : at(0)))).verdict).toBe("moves");
  });
});

describe("a survey", () => {
  const [w, h] = [320, 192];
  const scene = random(3);
  const base = Float32Array.from({ length: w * h }, () => 60 + 120 * scene());
  // soft enough that a tile's place is certain
  for (let k = 0; k < 3; k++) for (let i = 1; i < base.length; i++) base[i] = 0.5 * base[i] + 0.5 * base[i - 1];
  const frame = (n: number, normal: () => number): Frame => {
    const f = createFrame(w, h, YUV);
    for (let i = 0; i < base.length; i++) f.planes[0].data[i] = clip(16 + (1 + 0.002 * n) * (base[i] - 16) + normal());
    f.planes[1].data.fill(128);
    f.planes[2].data.fill(128);
    return f;
  };

  it("says of a locked-off shot whose light rises what holds, and names a repeated frame", () => {
    const normal = normals(4);
    const frames = [frame(0, normal)];
    for (let n = 1; n < 40; n++) frames.push(n === 17 ? frames[16] : frame(n, normal));
    const r = surveyOf(frames);
    expect(r.stillness.verdict).toBe("locked");
    expect(r.duplicates).toEqual([17]);
    expect(r.light.drift).toBeGreaterThan(0.05);
    expect(r.light.perFrame[39][0][0]).toBeCloseTo(1.078, 2);
    expect(r.interlaced.yes).toBe(false);
    const words = sentences(r);
    expect(words.stillness).toMatch(/^The camera stands still/);
    expect(words.light).toMatch(/^The light drifts by [67]\.\d %/);
    expect(words.frames).toMatch(/^Frame 17 only repeats/);
    expect(words.cuts).toMatch(/^No cut/);
  });

  it("judges a take of several shots piece by piece, each against its own first frame", () => {
    const normal = normals(9);
    // a shot that stands, one that drifts to the right, one that stands and flickers
    const other = (shift: number, gain: number): Frame => {
      const f = createFrame(w, h, YUV);
      for (let y = 0, i = 0; y < h; y++)
        for (let x = 0; x < w; x++, i++) f.planes[0].data[i] = clip(16 + gain * (base[y * w + ((x + 90 - shift + w) % w)] - 16) + normal());
      f.planes[1].data.fill(128);
      f.planes[2].data.fill(128);
      return f;
    };
    const shots: ((n: number) => Frame)[] = [() => frame(0, normal), (n) => other(n, 1), (n) => other(40, n % 2 ? 1.03 : 0.97)];
    const r = surveyOf(
      shots.flatMap((make) => Array.from({ length: 15 }, (_, n) => make(n))),
      [15, 30],
    );
    expect(r.pieces!.map((p) => [p.from, p.to, p.verdict])).toEqual([[0, 14, "locked"], [15, 29, "drifts"], [30, 44, "locked"]]); // prettier-ignore
    expect(r.stillness.verdict).toBe("drifts");
    expect(r.stillness.maxShift).toBeCloseTo(14, 0);
    expect(r.stillness.perFrame).toHaveLength(45);
    expect(r.pieces![2].flicker).toBeGreaterThan(0.04);
    expect(r.pieces![0].flicker).toBeLessThan(0.005);
    expect(sentences(r).stillness).toBe("Piece by piece: frames 0–14 stand still; frames 15–29 drift by 14.0 px; frames 30–44 stand still.");
  });
});
