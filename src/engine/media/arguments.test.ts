import { spawnSync } from "node:child_process";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PRIMARIES, TRANSFERS } from "../../core/pixels/colour";
import { type Arguments, aspect, chain, ff, file, joined, numbered, pair, spelled, timecode, UnsafeArgument, word } from "./arguments";

const HOSTILE = ["bt709,metadata=print:file=/tmp/x", "a:b", "a;b", "a b", "a'b", "[a]", "-y", "", "a\n", "x".repeat(200), "%d", "http://x/y", "a/b"];

describe("what ffmpeg is told", () => {
  it("is split where the text has blanks, and nowhere else", () => {
    const inner = ff`-r ${pair([24000, 1001])}`;
    expect(spelled(ff`-s ${pair([64, 48], "x")} -vf scale=${64}:${48.5},format=${word("yuv420p")} ${inner} ${file("/a b/c'd.mp4")}`)).toEqual([
      ...["-s", "64x48", "-vf", "scale=64:48.500000,format=yuv420p", "-r", "24000/1001", "file:/a b/c'd.mp4"],
    ]);
    expect(spelled(joined(ff``, ff`-metadata timecode=${timecode("01:00:00;02")}`, ff`-i ${numbered("/a%b", 8, ".png")}`))).toEqual([
      ...["-metadata", "timecode=01:00:00;02", "-i", "/a%%b/%08d.png"],
    ]);
    expect(spelled(chain([ff`setsar=${aspect("4:3")}`, ff`format=gray`]))).toEqual(["setsar=4/3,format=gray"]);
    expect(spelled(chain([]))).toEqual([]);
  });
  it.each(HOSTILE)("refuses “%s” as a name, a shape, a timecode and an ending", (v) => {
    for (const make of [() => word(v), () => aspect(v), () => timecode(v), () => numbered("/a", 4, v)]) expect(make).toThrow(UnsafeArgument);
  });
  it("refuses numbers that are none, lists made elsewhere, and files within something", () => {
    expect(() => ff`scale=${NaN}`).toThrow(UnsafeArgument);
    expect(() => ff`scale=${1 / 0}`).toThrow(UnsafeArgument);
    expect(() => pair([0, 1])).toThrow(UnsafeArgument);
    expect(() => spelled(["-f", "x"] as unknown as Arguments)).toThrow(UnsafeArgument);
    expect(() => ff`${["-f"] as unknown as Arguments}`).toThrow(UnsafeArgument);
    expect(() => ff`movie=${file("/a")},null`).toThrow(UnsafeArgument);
    expect(() => ff`x,movie=${file("/a")}`).toThrow(UnsafeArgument);
    expect(() => ff`${ff`null`}[out]`).toThrow(UnsafeArgument);
    expect(spelled(chain([ff`null`, ff`null`], word("out")))).toEqual(["null,null[out]"]);
    expect(() => ff`-vf ${"a,b" as ReturnType<typeof word>}`).toThrow(UnsafeArgument);
  });
  it("never lets a name become more than one argument, or mean something to a filter (property)", () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.string({ unit: "binary" }), fc.constantFrom(...HOSTILE)), (s) => {
        let w;
        try {
          w = word(s);
        } catch (e) {
          return e instanceof UnsafeArgument;
        }
        const [a, ...rest] = spelled(ff`setparams=color_trc=${w}`);
        return rest.length === 0 && a === `setparams=color_trc=${s}` && !/[,;:'[\]\\\s/]/.test(s);
      }),
      { numRuns: 2000 },
    );
  });
  // judge: ffmpeg itself
  it("every colour tag of the recipe is one that ffmpeg's filters know", () => {
    const tags = [...PRIMARIES.map((p) => `color_primaries=${word(p)}`), ...TRANSFERS.map((t) => `color_trc=${word(t)}`)];
    const graph = tags.map((t) => `setparams=${t}`).join(",");
    const r = spawnSync("ffmpeg", ["-v", "error", "-f", "lavfi", "-i", "color=s=32x32:d=0.04", "-vf", graph, "-f", "null", "-"], {
      encoding: "utf8",
    });
    expect([r.status, r.stderr]).toEqual([0, ""]);
  });
});
