import { describe, expect, it } from "vitest";
import type { Recipe } from "../../core/document/recipe";
import type { Still } from "../../core/pixels/still";
import { random } from "../../core/random";
import { mergedPicture, openRaster } from "../media/openraster";
import { joinedRecipe } from "../library/cutting";
import { comparedWith } from "../library/returned";
import { unzipSync } from "fflate";

const [W, H] = [12, 8];

/** R′G′B′ of 16 bits as it was written, and as a program gives it back. */
function written(): Uint16Array {
  const rnd = random(3);
  return Uint16Array.from({ length: 3 * W * H }, () => 65535 * rnd());
}
const back = (data: Uint8Array | Uint16Array, channels: 3 | 4, width = W): Still => ({
  width,
  height: H,
  channels,
  bits: data instanceof Uint16Array ? 16 : 8,
  data,
});

describe("a plate that came back", () => {
  const was = written();
  const eight = Uint8Array.from(was, (v) => Math.round(v / 257));

  it("has changed nowhere when it is what was written, in 16 bits and rounded to 8", () => {
    expect(comparedWith(was, W, H, back(was, 3), "p.png")).toMatchObject({ changed: 0, box: null });
    expect(comparedWith(was, W, H, back(eight, 3), "p.png")).toMatchObject({ changed: 0, box: null });
  });

  it("has full α where a sample differs and none elsewhere", () => {
    for (const data of [was.slice(), eight.slice()]) {
      for (const i of [2 * W + 3, 4 * W + 7]) data[3 * i + 1] ^= 1;
      const r = comparedWith(was, W, H, back(data, 3), "p.png");
      expect(r.changed).toBe(2);
      expect(r.box).toEqual({ x0: 3, y0: 2, x1: 8, y1: 5 });
      const alphas = r.rgba.filter((_, i) => i % 4 === 3);
      expect(alphas.filter((a) => a === 65535)).toHaveLength(2);
      expect(alphas.filter((a) => a === 0)).toHaveLength(W * H - 2);
    }
  });

  it("leaves the plate where the other program made holes", () => {
    const data = new Uint16Array(4 * W * H);
    for (let i = 0; i < W * H; i++) data.set([1, 2, 3, i === 5 ? 65535 : 0], 4 * i);
    expect(comparedWith(was, W, H, back(data, 4), "p.png")).toMatchObject({ changed: 1, box: { x0: 5, y0: 0, x1: 6, y1: 1 } });
  });

  it("is refused in another size, in one sentence", () => {
    expect(() => comparedWith(was, W, H, back(was, 3, W - 1), "p.png")).toThrow(
      "“p.png” came back as 11×8, and the plate is 12×8: save it in its own size.",
    );
  });
});

describe("an OpenRaster file", () => {
  const picture = Uint8Array.from([1, 2, 3]);
  const file = openRaster(W, H, [{ name: "Upper & <outer>", png: picture }, { name: "Lower", png: picture, shown: false }], Uint8Array.from([9, 8]), picture); // prettier-ignore

  it("begins with its type, stored as it is, as the format asks for", () => {
    // a zip's first entry: signature, … method 0, … name, content (APPNOTE 6.3, from memory)
    const text = new TextDecoder("latin1").decode(file.subarray(0, 64));
    expect(text.startsWith("PK\u0003\u0004")).toBe(true);
    expect(file[8] | (file[9] << 8)).toBe(0);
    expect(text.slice(30)).toMatch(/^mimetypeimage\/openraster/);
  });

  it("lists its layers from the top, with names that are no markup", () => {
    const files = unzipSync(file);
    expect(Object.keys(files).sort()).toEqual([
      "Thumbnails/thumbnail.png",
      "data/layer0.png",
      "data/layer1.png",
      "mergedimage.png",
      "mimetype",
      "stack.xml",
    ]);
    const stack = new TextDecoder().decode(files["stack.xml"]);
    expect(stack).toContain(`w="${W}" h="${H}"`);
    expect(stack.indexOf("layer0")).toBeLessThan(stack.indexOf("layer1"));
    expect(stack).toContain("Upper &#38; &#60;outer&#62;");
    expect(stack).toMatch(/layer1\.png"[^>]*visibility="hidden"/);
  });

  it("gives its merged picture, and says what is wrong with what is none", () => {
    expect(mergedPicture(file, "a.ora")).toEqual(Uint8Array.from([9, 8]));
    expect(() => mergedPicture(Uint8Array.from([1, 2, 3, 4]), "a.ora")).toThrow("“a.ora” is no whole OpenRaster file");
    expect(() => mergedPicture(file.subarray(0, file.length - 30), "a.ora")).toThrow("“a.ora” is no whole OpenRaster file");
  });
});

describe("two shots joined", () => {
  const shot = (more: Partial<Recipe>): Recipe => ({
    format: "umber-moth/recipe",
    version: 1,
    takes: { a: { asset: "t" } },
    shot: { take: "a", in: 0, out: 9 },
    plates: {},
    intruders: [],
    ...more,
  });
  const layer = (id: string) => ({ id, kind: "patch" as const, in: 0, out: 9, source: { take: "a", hold: 0 }, mask: { shapes: [] } });

  it("keep what both have once, and what only one has", () => {
    const a = shot({
      plates: { p: { from: { take: "a", frame: 1 }, touches: [] } },
      intruders: [{ id: "i", name: "Boom", layers: [layer("l")] }],
    });
    const b = shot({
      shot: { take: "a", in: 10, out: 30 },
      plates: { p: { from: { take: "a", frame: 2 }, touches: [] }, q: { from: { take: "a", frame: 20 }, touches: [] } },
      masks: { m: { shapes: [] } },
      intruders: [
        { id: "i", name: "Boom, later", layers: [layer("l"), layer("n")] },
        { id: "j", name: "Stand", layers: [] },
      ],
    });
    const r = joinedRecipe(a, b);
    expect(r.shot).toEqual({ take: "a", in: 0, out: 30 });
    expect(r.plates.p.from.frame).toBe(1);
    expect(Object.keys(r.plates).sort()).toEqual(["p", "q"]);
    expect(r.masks).toEqual({ m: { shapes: [] } });
    expect(r.intruders.map((i) => [i.name, i.layers.map((l) => l.id)])).toEqual([["Boom", ["l", "n"]], ["Stand", []]]); // prettier-ignore
    // what was given is as it was
    expect(a.intruders[0].layers).toHaveLength(1);
  });
});
