import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { ffmpeg } from "../../../testkit/ffmpeg";
import { noise, YUV420, YUV444 } from "../../../testkit/pictures";
import { bytesOf, type Frame, frameFromBytes } from "../pixels/frame";
import { readCube } from "./cube";
import { frameInLook } from "./frame";
import { lookOf } from "./look";

const colour = { matrix: "bt709", range: "limited", siting: "left", primaries: "bt709", transfer: "bt709" } as const;
const cube = (of: (r: number, g: number, b: number) => number[]) => {
  const at = (i: number) => i / 8;
  const lines: string[] = [];
  for (let b = 0; b < 9; b++) for (let g = 0; g < 9; g++) for (let r = 0; r < 9; r++) lines.push(of(at(r), at(g), at(b)).map((v) => v.toFixed(6)).join(" ")); // prettier-ignore
  return `LUT_3D_SIZE 9\n${lines.join("\n")}\n`;
};
const same = lookOf(readCube(cube((r, g, b) => [r, g, b])));
const bent = lookOf(readCube(cube((r, g, b) => [r ** 1.3, 0.8 * g + 0.1 * b, 1 - (1 - b) ** 1.2])));
/** Colours that R′G′B′ has too: of others a look would cut something. */
const mild = (w: number, h: number, format: typeof YUV444): Frame => {
  const f = noise(w, h, format, 5);
  f.planes.forEach((p, k) => p.data.forEach((v, i) => (p.data[i] = k ? 118 + (v % 20) : 70 + (v % 100))));
  return f;
};
const farthest = (a: Frame, b: Frame) => Math.max(...a.planes.flatMap((p, k) => [...p.data].map((v, i) => Math.abs(v - b.planes[k].data[i]))));

describe("a frame in a look", () => {
  it("that changes nothing, or of which nothing is laid, is the same frame, to the sample where chroma has all of its samples", () => {
    const f = mild(48, 32, YUV444);
    expect(farthest(frameInLook(f, colour, same, 1), f)).toBe(0);
    expect(farthest(frameInLook(f, colour, bent, 0), f)).toBe(0);
  });
  it("keeps its layout; even areas come out as by the table whatever the layout", () => {
    const even = (format: typeof YUV444) => {
      const f = mild(16, 16, format);
      f.planes.forEach((p, k) => p.data.fill([120, 110, 140][k]));
      return f;
    };
    const [a, b] = [YUV444, YUV420].map((format) => frameInLook(even(format), colour, bent, 1));
    expect(b.format).toEqual(YUV420);
    a.planes.forEach((p, k) => expect([...new Set(b.planes[k].data)]).toEqual([p.data[0]]));
    expect(a.planes[0].data[0]).not.toBe(120);
  });
  it("is within a code of what ffmpeg's lut3d makes of it in 16 bits", () => {
    const folder = mkdtempSync(join(tmpdir(), "umber-look-"));
    writeFileSync(
      `${folder}/t.cube`,
      cube((r, g, b) => [r ** 1.3, 0.8 * g + 0.1 * b, 1 - (1 - b) ** 1.2]),
    );
    const [w, h] = [64, 48];
    const f = mild(w, h, YUV444);
    const scaled = "flags=accurate_rnd+full_chroma_int+full_chroma_inp+bitexact";
    const through = `scale=in_color_matrix=bt709:in_range=tv:${scaled},format=gbrp16le,lut3d=file=${folder}/t.cube:interp=tetrahedral,scale=out_color_matrix=bt709:out_range=tv:${scaled},format=yuv444p`;
    const theirs = ffmpeg(["-f", "rawvideo", "-pix_fmt", "yuv444p", "-s", `${w}x${h}`, "-i", "pipe:0", "-vf", through, "-f", "rawvideo", "pipe:1"], bytesOf(f)); // prettier-ignore
    rmSync(folder, { recursive: true, force: true });
    expect(farthest(frameInLook(f, colour, bent, 1), frameFromBytes(new Uint8Array(theirs), w, h, YUV444))).toBeLessThanOrEqual(1);
  });
});
