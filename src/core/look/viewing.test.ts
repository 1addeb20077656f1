import { describe, expect, it } from "vitest";
import { layLook, lookOf } from "./look";
import { hlgToScene, lightToPq, PEAK, pqToLight, rolledOff, toBt709, viewingOf, viewingSays, viewingTable, WHITE } from "./viewing";

const pq = { transfer: "smpte2084", primaries: "bt2020" } as const;
const hlg = { transfer: "arib-std-b67", primaries: "bt2020" } as const;

describe("light of PQ and HLG", () => {
  // BT.2408-7 table 1: signal levels of grey card, diffuse white and a perfect reflector (from memory)
  it.each([[26, 0.38], [203, 0.58], [1000, 0.75], [100, 0.508], [10_000, 1]])("PQ: %d cd/m² lies at %d", (light, code) => {
    expect(Math.abs(lightToPq(light) - code)).toBeLessThan(0.005);
  }); // prettier-ignore
  it("PQ: there and back is the same over all its range", () => {
    let worst = 0;
    for (let i = 1; i <= 1000; i++) worst = Math.max(worst, Math.abs(lightToPq(pqToLight(i / 1000)) - i / 1000));
    expect(worst).toBeLessThan(1e-9);
    expect([pqToLight(0), pqToLight(-0.1)]).toEqual([0, 0]);
  });
  it("HLG: a twelfth of the light lies at one half, all of it at one (BT.2100-2 table 5); diffuse white at 0.75 shows 203 cd/m² (BT.2408-7)", () => {
    expect(hlgToScene(0.5)).toBeCloseTo(1 / 12, 6);
    expect(hlgToScene(1)).toBeCloseTo(1, 5);
    const scene = hlgToScene(0.75);
    expect(Math.abs(1000 * scene ** 1.2 - 203)).toBeLessThan(1.5);
  });
});

describe("primaries", () => {
  it("of BT.2020 become those of BT.709 by the matrix of BT.2087-0, of P3-D65 by its own (both from memory)", () => {
    const close = (m: readonly (readonly number[])[], wanted: number[][]) =>
      m.forEach((row, i) => row.forEach((v, k) => expect(Math.abs(v - wanted[i][k])).toBeLessThan(0.0006)));
    close(toBt709("bt2020")!, [[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]]); // prettier-ignore
    close(toBt709("smpte432")!, [[1.2249, -0.2247, 0], [-0.042, 1.0419, 0], [-0.0197, -0.0786, 1.0979]]); // prettier-ignore
    expect([toBt709("bt709"), toBt709("film")]).toEqual([null, null]);
  });
});

describe("highlights", () => {
  it("dark and middle tones stay, the peak becomes the screen's white, and nothing turns back on the way", () => {
    for (const l of [0.01, 1, 20, 60]) expect(rolledOff(l)).toBeCloseTo(l, 6);
    expect(rolledOff(PEAK)).toBeCloseTo(WHITE, 3);
    expect(rolledOff(4000)).toBeCloseTo(WHITE, 3);
    let turns = 0;
    for (let l = 1; l < 1100; l++) if (rolledOff(l + 1) < rolledOff(l) - 1e-9) turns++;
    expect(turns).toBe(0);
  });
});

describe("a take on this screen", () => {
  it("black stays black, grey stays grey, a grey card of PQ and HLG comes out alike", () => {
    for (const colour of [pq, hlg]) {
      const shown = viewingOf(colour)!;
      expect(shown([0, 0, 0])).toEqual([0, 0, 0]);
      const [r, g, b] = shown([0.5, 0.5, 0.5]);
      expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(1e-3);
    }
    // 38 % of either, 26 cd/m² (BT.2408-7 table 1): 18 % of white and less, by 1/2.4
    const [a, c] = [viewingOf(pq)!([0.38, 0.38, 0.38])[0], viewingOf(hlg)!([0.38, 0.38, 0.38])[0]];
    expect(Math.abs(a - (26 / 203) ** (1 / 2.4))).toBeLessThan(0.01);
    expect(Math.abs(a - c)).toBeLessThan(0.01);
  });
  it("logarithms become light again: half way down 100 : 1 is a tenth of it (H.273)", () => {
    const log = { transfer: "log100", primaries: "bt709" } as const;
    expect(viewingOf(log)!([0.5, 1, 0])[0]).toBeCloseTo(1.099 * 0.1 ** 0.45 - 0.099, 6);
    expect(viewingOf(log)!([0.5, 1, 0])[1]).toBeCloseTo(1, 6);
    expect(viewingOf({ transfer: "log316", primaries: "bt709" })!([0.6, 1, 0])[0]).toBeCloseTo(1.099 * 0.1 ** 0.45 - 0.099, 6);
  });
  it.each([pq, hlg])("$transfer: its table says what the chain says, to two codes of 8 bits but in few dark and glaring colours", (colour) => {
    const [shown, table] = [viewingOf(colour)!, lookOf(viewingTable(colour)!)];
    let [sum, far, count] = [0, 0, 0];
    for (let r = 3; r < 256; r += 21)
      for (let g = 3; g < 256; g += 21)
        for (let b = 3; b < 256; b += 21) {
          const pixel = Uint8ClampedArray.of(r, g, b, 255);
          layLook(pixel, table, 1);
          shown([r / 255, g / 255, b / 255]).forEach((v, c) => {
            const off = Math.abs(pixel[c] - 255 * v);
            sum += off;
            if (off > 2) far++;
            count++;
          });
        }
    expect(sum / count).toBeLessThan(0.3);
    expect(far / count).toBeLessThan(0.02);
  });
  it("says how, and has nothing to say of others", () => {
    expect(viewingSays(pq)).toBe("PQ, white at 203 cd/m², highlights to 1000 rolled off, its primaries brought to BT.709, as BT.1886");
    expect(viewingSays({ transfer: "bt709", primaries: "bt2020" })).toBeNull();
    expect(viewingOf({ transfer: "bt709", primaries: "bt2020" })).toBeNull();
  });
});
