import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { catmullRom } from "../pixels/resample";
import { random } from "../random";
import { invert, transform } from "./fft";
import { type Gray, median, nth } from "./gray";
import { phaseCorrelate, windowed } from "./phase";
import { referenceOf, register } from "./register";

/** A made-up texture that can be asked for at any point: random values on three lattices, joined smoothly (Catmull–Rom). */
function scene(seed: number) {
  const N = 128;
  const rnd = random(seed);
  const lattices = [3, 7, 17].map((size) => ({ size, values: Float64Array.from({ length: N * N }, rnd) }));
  const one = (v: Float64Array, x: number, y: number) => {
    const [ix, iy] = [Math.floor(x), Math.floor(y)];
    const [wx, wy] = [catmullRom(x - ix), catmullRom(y - iy)];
    let s = 0;
    for (let j = 0; j < 4; j++) for (let i = 0; i < 4; i++) s += wy[j] * wx[i] * v[((iy + j + N) % N) * N + ((ix + i + N) % N)];
    return s;
  };
  return (x: number, y: number) => lattices.reduce((s, l) => s + 60 * (one(l.values, (x + 300) / l.size, (y + 300) / l.size) - 0.5), 120);
}

function picture(at: (x: number, y: number) => number, width: number, height: number, noise = 0, seed = 1): Gray {
  const rnd = random(seed);
  const normal = () => Math.sqrt(-2 * Math.log(rnd() + 1e-12)) * Math.cos(2 * Math.PI * rnd());
  const data = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) data[i] = at(x + 0.5, y + 0.5) + (noise ? noise * normal() : 0);
  return { width, height, data };
}

describe("the Fourier transform", () => {
  it("gives what the definition gives", () => {
    const [w, h] = [8, 4];
    const rnd = random(3);
    const re = Float64Array.from({ length: w * h }, () => rnd());
    const got = transform({ width: w, height: h, re: re.slice(), im: new Float64Array(w * h) });
    for (let v = 0; v < h; v++)
      for (let u = 0; u < w; u++) {
        let [a, b] = [0, 0];
        for (let y = 0; y < h; y++)
          for (let x = 0; x < w; x++) {
            const t = -2 * Math.PI * ((u * x) / w + (v * y) / h);
            a += re[y * w + x] * Math.cos(t);
            b += re[y * w + x] * Math.sin(t);
          }
        expect(got.re[v * w + u]).toBeCloseTo(a, 9);
        expect(got.im[v * w + u]).toBeCloseTo(b, 9);
      }
  });

  it("comes back by its inverse, and refuses other sizes", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 64, maxLength: 64 }), (v) => {
        const s = invert(transform({ width: 16, height: 4, re: Float64Array.from(v), im: new Float64Array(64) }));
        v.forEach((x, i) => expect(s.re[i]).toBeCloseTo(x, 10));
      }),
    );
    expect(() => transform({ width: 6, height: 4, re: new Float64Array(24), im: new Float64Array(24) })).toThrow(/power of two/);
  });
});

describe("the k-th smallest value", () => {
  it("is what sorting gives", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 1, maxLength: 60 }), (v) => {
        const sorted = v.toSorted((a, b) => a - b);
        expect(nth(v.slice(), Math.floor(v.length / 3))).toBe(sorted[Math.floor(v.length / 3)]);
        expect(median(v.slice())).toBe(sorted[(v.length - 1) >> 1]);
      }),
    );
  });
});

describe("phase correlation (Kuglin & Hines 1975)", () => {
  it("finds whole and broken shifts of a picture that is asked for at other points", () => {
    const at = scene(5);
    const a = windowed(picture(at, 128, 96));
    for (const [dx, dy] of [
      [3, -5],
      [0.5, 0.25],
      [-7.3, 2.6],
    ]) {
      const got = phaseCorrelate(a, windowed(picture((x, y) => at(x - dx, y - dy), 128, 96)));
      expect(Math.hypot(got.dx - dx, got.dy - dy)).toBeLessThan(0.35);
    }
  });
});

describe("registration", () => {
  const [w, h] = [480, 270];
  const still = scene(11);
  const reference = referenceOf(picture(still, w, h, 1, 2));

  it("finds shifts to 0.05 px under noise, though a fifth of the picture moves otherwise", () => {
    const rnd = random(9);
    for (let k = 0; k < 8; k++) {
      const [dx, dy] = [(rnd() - 0.5) * 14, (rnd() - 0.5) * 14];
      const [mx, my] = [rnd() * 200, rnd() * 100];
      const other = scene(100 + k);
      const inside = (x: number, y: number) => x > mx && x < mx + 200 && y > my && y < my + 130;
      const a = register(
        reference,
        picture((x, y) => (inside(x, y) ? other(x, y) : still(x - dx, y - dy)), w, h, 1, 20 + k),
      );
      expect(a).not.toBeNull();
      expect(Math.hypot(a!.dx - dx, a!.dy - dy)).toBeLessThan(0.05);
    }
  });

  it("finds a small turn and scale about the picture's centre", () => {
    const [angle, scale, dx, dy] = [0.35, 1.004, 1.5, -0.7];
    const r = (angle * Math.PI) / 180;
    const [c, s] = [Math.cos(r) / scale, Math.sin(r) / scale];
    // where the reference's point that is seen at (x, y) was
    const back = (x: number, y: number): [number, number] => {
      const [px, py] = [x - w / 2 - dx, y - h / 2 - dy];
      return [w / 2 + c * px + s * py, h / 2 - s * px + c * py];
    };
    const a = register(
      reference,
      picture((x, y) => still(...back(x, y)), w, h, 1, 5),
    )!;
    expect(a.angle).toBeCloseTo(angle, 2);
    expect(a.scale).toBeCloseTo(scale, 3);
    expect(Math.hypot(a.dx - dx, a.dy - dy)).toBeLessThan(0.05);
  });

  it("finds turns, scales and shifts far from where it begins, to 0.05 px (0.12 at the corners), and never says nonsense", () => {
    const corners = [[0, 0], [w, 0], [0, h], [w, h]]; // prettier-ignore
    const place = (a: { dx: number; dy: number; angle: number; scale: number }, [x, y]: number[]) => {
      const r = (a.angle * Math.PI) / 180;
      const [px, py] = [x - w / 2, y - h / 2];
      return [w / 2 + a.scale * (Math.cos(r) * px - Math.sin(r) * py) + a.dx, h / 2 + a.scale * (Math.sin(r) * px + Math.cos(r) * py) + a.dy];
    };
    let found = 0;
    const cases = [-3, -1, 2].flatMap((angle) => [0.985, 1, 1.02].flatMap((scale) => [0, 18].map((dx) => ({ angle, scale, dx, dy: -dx / 3 }))));
    for (const [i, truth] of cases.entries()) {
      const r = (truth.angle * Math.PI) / 180;
      const [c, s] = [Math.cos(r) / truth.scale, Math.sin(r) / truth.scale];
      const back = (x: number, y: number) => {
        const [px, py] = [x - w / 2 - truth.dx, y - h / 2 - truth.dy];
        return still(w / 2 + c * px + s * py, h / 2 - s * px + c * py);
      };
      const a = register(reference, picture(back, w, h, 1, 200 + i));
      if (!a) continue; // too far: nothing, and not something else
      found++;
      for (const p of corners) expect(Math.hypot(place(a, p)[0] - place(truth, p)[0], place(a, p)[1] - place(truth, p)[1])).toBeLessThan(0.12);
      expect(Math.hypot(a.dx - truth.dx, a.dy - truth.dy)).toBeLessThan(0.05);
    }
    expect(found / cases.length).toBeGreaterThan(0.8);
  });

  it("goes on from the frame before to turns of 10° and zooms of a fifth, to 0.12 px at the corners", () => {
    const [px, py] = [-w / 2, -h / 2];
    const corner = (angle: number, scale: number, dx: number, dy: number) => {
      const [c, s] = [scale * Math.cos((angle * Math.PI) / 180), scale * Math.sin((angle * Math.PI) / 180)];
      return [c * px - s * py + dx, s * px + c * py + dy];
    };
    let last: ReturnType<typeof register> = null;
    for (let n = 1; n <= 16; n++) {
      const [angle, scale, dx, dy] = [(-10 * n) / 16, 1 + (0.2 * n) / 16, 3 * Math.sin(n), -2 * Math.cos(n)];
      const r = (angle * Math.PI) / 180;
      const [c, s] = [Math.cos(r) / scale, Math.sin(r) / scale];
      const at = (x: number, y: number) => {
        const [u, v] = [x - w / 2 - dx, y - h / 2 - dy];
        return still(w / 2 + c * u + s * v, h / 2 - s * u + c * v);
      };
      last = register(reference, picture(at, w, h, 1, 400 + n), last ?? undefined);
      const [is, truly] = [corner(last!.angle, last!.scale, last!.dx, last!.dy), corner(angle, scale, dx, dy)];
      expect(Math.hypot(is[0] - truly[0], is[1] - truly[1])).toBeLessThan(0.12);
    }
  });

  it("is not moved by other light, and says when there is nothing in common", () => {
    const a = register(
      reference,
      picture((x, y) => 30 + 0.8 * still(x - 2.25, y + 1.5), w, h, 1, 7),
    )!;
    expect(Math.hypot(a.dx - 2.25, a.dy + 1.5)).toBeLessThan(0.05);
    for (let seed = 60; seed < 66; seed++) expect([seed, register(reference, picture(scene(seed), w, h, 1, seed))]).toEqual([seed, null]);
    expect(
      register(
        reference,
        picture(() => 90, w, h, 2, 9),
      ),
    ).toBeNull();
  });
});

describe("what sways before a ground that stands", () => {
  const [w, h] = [480, 270];
  const thing = scene(31);
  /** A ground out of focus, or nearly plain, that moves by (gx, gy); before it, sharp, a thing in the middle that moves by (tx, ty). */
  const view = (contrast: number, gx: number, gy: number, tx: number, ty: number, share: number, seed: number) =>
    picture(
      (x, y) => {
        const [u, v] = [x - tx, y - ty];
        if (Math.abs(u - w / 2) < share * w && Math.abs(v - h / 2) < 0.42 * h) return thing(u, v);
        const [p, q] = [x - gx, y - gy];
        return 110 + contrast * (Math.sin(p / 31) + Math.cos(q / 27) + Math.sin((p + q) / 43));
      },
      w,
      h,
      1,
      seed,
    );
  it("is not called the camera, before a soft ground as before a nearly plain one", () => {
    for (const contrast of [22, 1.5])
      for (const share of [0.12, 0.2]) {
        const reference = referenceOf(view(contrast, 0, 0, 0, 0, share, 1));
        for (const [i, [tx, ty]] of [
          [0.3, 0.1],
          [-0.8, 0.5],
          [2.5, -1],
        ].entries()) {
          // prettier-ignore
          const a = register(reference, view(contrast, 0, 0, tx, ty, share, 40 + i));
          if (a) expect([contrast, share, tx, Math.hypot(a.dx, a.dy) < 0.12]).toEqual([contrast, share, tx, true]);
        }
      }
  });
  it("a camera that does move is followed, by a sharp thing and a soft ground alike", () => {
    const reference = referenceOf(view(22, 0, 0, 0, 0, 0.3, 1));
    for (const [i, [dx, dy]] of [
      [0.3, 0.1],
      [-0.8, 0.5],
      [2.5, -1],
    ].entries()) {
      // prettier-ignore
      const a = register(reference, view(22, dx, dy, dx, dy, 0.3, 60 + i))!;
      expect(Math.hypot(a.dx - dx, a.dy - dy)).toBeLessThan(0.06);
    }
  });
});
