import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, describe, expect, it } from "vitest";
import { ffmpeg } from "../../../testkit/ffmpeg";
import { readCube } from "./cube";
import { lookHarder } from "./harder";
import { layLook, lookOf } from "./look";

const folder = mkdtempSync(join(tmpdir(), "umber-look-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A table that bends and mixes the colours, as text. */
function cube(
  size: number,
  more = "",
  of = (r: number, g: number, b: number) => [r ** 1.4 * 0.8 + 0.2 * g, 0.9 * g + 0.1 * b * b, 1 - (1 - b) ** 1.6],
) {
  const at = (i: number) => i / (size - 1);
  const lines: string[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++)
        lines.push(
          of(at(r), at(g), at(b))
            .map((v) => v.toFixed(6))
            .join(" "),
        );
  return `# made up\nTITLE "Old tobacco"\nLUT_3D_SIZE ${size}\n${more}\n${lines.join("\n")}\n`;
}
const curve = (size: number) =>
  `LUT_1D_SIZE ${size}\n${Array.from({ length: size }, (_, i) => [0.7, 1, 1.5].map((e) => ((i / (size - 1)) ** e).toFixed(6)).join("\t")).join("\r\n")}`;

/** Pixels of all kinds of colours, RGBA. */
const pixels = () => {
  const out = new Uint8ClampedArray(64 * 64 * 4);
  for (let i = 0; i < 64 * 64; i++) out.set([(i * 37) & 255, (i * 101 + (i >> 6)) & 255, (i * 13 + 7 * (i >> 5)) & 255, 255], 4 * i);
  return out;
};

describe("a table of colours", () => {
  it.each([
    ["of three dimensions, 17 a side", cube(17), "lut3d=interp=tetrahedral"],
    ["of three dimensions, 65 a side, of a wider domain", cube(65, "DOMAIN_MAX 2 2 2\n"), "lut3d=interp=tetrahedral"],
    ["of one dimension", curve(256), "lut1d=interp=linear"],
  ])("%s: makes of colours what ffmpeg makes of them, to the rounding", (name, text, filter) => {
    const file = join(folder, `${name.length}.cube`);
    writeFileSync(file, text);
    const mine = pixels();
    const raw = join(folder, "in.rgb48");
    const own = pixels();
    // its 8-bit path cuts what ours rounds, so it is asked in 16 bits
    const deep = Uint16Array.from({ length: 3 * 64 * 64 }, (_, i) => 257 * own[4 * Math.floor(i / 3) + (i % 3)]);
    writeFileSync(raw, new Uint8Array(deep.buffer));
    layLook(mine, lookOf(readCube(text)), 1);
    const theirs = ffmpeg(["-f", "rawvideo", "-pix_fmt", "rgb48le", "-s", "64x64", "-i", raw, "-vf", `${filter}:file=${file}`, "-f", "rawvideo", "-pix_fmt", "rgb48le", "pipe:1"]); // prettier-ignore
    let worst = 0;
    for (let i = 0; i < 64 * 64; i++)
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(mine[4 * i + c] - theirs.readUInt16LE(2 * (3 * i + c)) / 257));
    expect(worst).toBeLessThan(0.6);
    expect(Math.max(...mine.map((v, i) => Math.abs(v - own[i])))).toBeGreaterThan(20);
  });

  it("that changes nothing changes nothing; of half a strength half of it is done (property)", () => {
    const same = lookOf(readCube(cube(9, "", (r, g, b) => [r, g, b])));
    const other = lookOf(readCube(cube(9)));
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 3, maxLength: 3 }), ([r, g, b]) => {
        const put = (look: typeof same, strength: number) => {
          const p = Uint8ClampedArray.of(r, g, b, 9);
          layLook(p, look, strength);
          return [...p];
        };
        expect(put(same, 1)).toEqual([r, g, b, 9]);
        expect(put(other, 0)).toEqual([r, g, b, 9]);
        const [whole, half] = [put(other, 1), put(other, 0.5)];
        [r, g, b].forEach((v, c) => expect(Math.abs(half[c] - (v + whole[c]) / 2)).toBeLessThanOrEqual(1));
      }),
    );
  });

  it("is refused in a sentence that names the line, where it is none", () => {
    for (const [text, says] of [
      ["", /no size/],
      ["0 0 0", /line 1 comes before its size/],
      ["LUT_3D_SIZE 99", /line 1 says a side of 99, and whole numbers from 2 to 65 are allowed/],
      ["LUT_3D_SIZE 2\n0 0", /in line 2 3 numbers should stand where “0 0” does/],
      ["LUT_1D_SIZE 2\n0 0 0", /1 of the 2 lines/],
      ["LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1", /line 4 is one more than the 2/],
      ["LUT_1D_SIZE 2\nLUT_3D_SIZE 2", /a second time/],
      ["DOMAIN_MIN 1 1 1\nLUT_1D_SIZE 2\n0 0 0\n1 1 1", /its domain ends before it begins/],
      ["hello world", /line 1 comes before its size/],
    ] as [string, RegExp][])
      expect(() => readCube(text)).toThrow(says);
    expect(readCube(`\uFEFF${cube(2)}`).title).toBe("Old tobacco");
  });
});

describe("looking harder", () => {
  const grey = (v: (x: number, y: number) => number) => {
    const p = new Uint8ClampedArray(32 * 32 * 4).fill(255);
    for (let i = 0; i < 32 * 32; i++) for (let c = 0; c < 3; c++) p[4 * i + c] = v(i % 32, i >> 5);
    return p;
  };
  it("a step of two codes becomes one of eight in contrast; a tint of two codes is five times as strong; light that is even has no detail", () => {
    const step = grey((x) => (x < 16 ? 100 : 102));
    lookHarder(step, 32, "contrast");
    expect([step[4 * 15], step[4 * 16]]).toEqual([124, 132]);
    const tint = grey(() => 100);
    for (let i = 0; i < tint.length; i += 4) tint[i + 2] = 110;
    lookHarder(tint, 32, "colour");
    // luma is 0.0722 · 10 above 100: red and green lie below it, blue above
    expect([...tint.subarray(0, 3)]).toEqual([97, 97, 147]);
    const spot = grey((x, y) => (x === 20 && y === 20 ? 104 : 100));
    lookHarder(spot, 32, "detail");
    expect(spot[0]).toBe(128);
    expect(spot[4 * (20 * 32 + 20)]).toBeGreaterThan(155);
  });
  it("a faint step is seen in dark and in bright places of one picture alike, and nothing there is cut off", () => {
    const [w, h] = [240, 40];
    const p = new Uint8ClampedArray(w * h * 4).fill(255);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) for (let c = 0; c < 3; c++) p[4 * (y * w + x) + c] = (x < 120 ? 20 : 235) + (y < 20 ? 0 : 2);
    lookHarder(p, w, "contrast");
    for (const x of [60, 180]) {
      const [above, below] = [p[4 * (19 * w + x)], p[4 * (20 * w + x)]];
      expect(below - above).toBe(8);
      expect(above > 20 && below < 235).toBe(true);
    }
  });
});
