import { composeFrame } from "./src/core/compose/compose";
import { noise, YUV420 } from "./tests/support/pictures";
import { toRgba8 } from "./src/core/pixels/toRgb";
import { maskMatte } from "./src/core/shape/mask";
import { planeAlpha } from "./src/core/shape/chroma";
import { signedDistance } from "./src/core/shape/distance";
import { boundaryOf } from "./src/core/shape/boundary";
import { shapePolygon } from "./src/core/shape/mask";
const ellipse = (x: number, y: number, r: number) => ({ shapes: [{ kind: "ellipse", op: "add", center: { keys: [{ f: 0, v: [x - 60, y] }, { f: 48, v: [x, y + 10] }, { f: 95, v: [x + 60, y] }] }, radii: { keys: [{ f: 0, v: [r, r * 0.7] }, { f: 95, v: [r * 1.2, r * 0.8] }] } }], feather: 24 });
const layer = (id: string, mask: object) => ({ id, kind: "patch", in: 0, out: 95, source: { plate: "p" }, mask });
const masks = [ellipse(700, 150, 120), ellipse(400, 300, 100), ellipse(900, 480, 140)] as any[];
const three = masks.map((m, i) => layer("l" + i, m));
const r: any = { format: "umber-moth/recipe", version: 1, takes: { a: {} }, shot: { take: "a", in: 0, out: 95 }, plates: { p: { from: { take: "a", frame: 20 }, touches: [] } }, intruders: [{ id: "i", name: "", layers: three }] };
const below = noise(1280, 720, YUV420, 1), plate = noise(1280, 720, YUV420, 2);
const colour = { matrix: "bt709", range: "limited", siting: "left", primaries: "bt709", transfer: "bt709" } as any;
for (const quick of [false, true]) {
  const canvas = { width: 1280, height: 720, scale: 1, siting: "left" as const, quick };
  const cache = new WeakMap();
  for (let k = 0; k < 3; k++) {
    let [tc, tr] = [0, 0];
    for (let n = 0; n < 48; n++) {
      let t = performance.now();
      const f = composeFrame(r, n, below, { take: () => below, plate: () => plate }, canvas, cache);
      tc += performance.now() - t;
      t = performance.now();
      toRgba8(f, colour, { x0: 0, y0: 0, x1: 1280, y1: 720 }, new Uint8ClampedArray(1280 * 720 * 4), "nearest");
      tr += performance.now() - t;
    }
    console.log(quick, "compose", (tc / 48).toFixed(1), "rgba", (tr / 48).toFixed(1));
  }
}
const soft = (m: any) => ({ shapes: [{ ...m.shapes[0], feather: 24 }] });
const clock = (what: string, f: (n: number) => void) => { for (let i = 0; i < 20; i++) f(i); const t = performance.now(); for (let n = 0; n < 48; n++) f(n); console.log(what, ((performance.now() - t) / 48).toFixed(2)); };
clock("3 mattes quick", (n) => masks.forEach((m) => maskMatte(soft(m), n, 1280, 720)));
const mt = masks.map((m) => maskMatte(soft(m), 9, 1280, 720));
clock("3 chroma", () => mt.forEach((m) => planeAlpha(m, YUV420, 1, "left", 1280, 720)));
clock("3 polygons", (n) => masks.forEach((m) => shapePolygon(m.shapes[0], n)));
clock("3 boundaries", (n) => masks.forEach((m) => boundaryOf(shapePolygon(m.shapes[0], n))));
clock("3 distances", (n) => masks.forEach((m, i) => signedDistance(boundaryOf(shapePolygon(m.shapes[0], n)), mt[i], 13)));
