import { describe, expect, it } from "vitest";
import { part } from "../../../testkit/pictures";
import { HIGH, LONG, Street, WIDE } from "../../../testkit/street";
import { createFrame } from "../pixels/frame";
import { gridOf, grown } from "../plate/regions";
import { Colours } from "./colours";
import { heightOf, widthOf } from "./cut";
import { Cutter } from "./cutter";
import { edgeAlpha } from "./edge";
import { Ground } from "./ground";
import { learnPassing } from "./passing";

/** How much of what is the boom in a window or was cut out is both. */
function shared(street: Street, n: number, at: readonly [number, number], size: readonly [number, number], cut: ReturnType<Cutter["next"]>): number {
  const alpha = edgeAlpha(cut);
  const w = widthOf(cut.rect);
  let [both, either] = [0, 0];
  for (let y = 0; y < size[1]; y++)
    for (let x = 0; x < size[0]; x++) {
      const truly = street.covers(n, x + at[0], y + at[1]) > 0.5;
      const [u, v] = [x - cut.rect.x0, y - cut.rect.y0];
      const mine = u >= 0 && v >= 0 && u < w && v < heightOf(cut.rect) && alpha[v * w + u] > 127;
      if (truly && mine) both++;
      if (truly || mine) either++;
    }
  return both / either;
}

describe("a camera that moves", () => {
  it("sees the plate where it stands: the boom is followed as before one that stands still, to what comes in at the border", () => {
    const street = new Street(3);
    const size = [WIDE - 40, HIGH - 24] as const;
    const corner = (n: number) => [20 + 2 * Math.round(8 * Math.sin(n / 3)), 12 + 2 * Math.round(5 * Math.cos(n / 2))] as const;
    const at = 10;
    const home = corner(at);
    const seen = (n: number) => part(street.frame(n), ...corner(n), ...size);
    // what lay at a place of the plate is found as far to the left and up as the camera went to the right and down
    const lies = (n: number) => ({ dx: home[0] - corner(n)[0], dy: home[1] - corner(n)[1], angle: 0, scale: 1, agree: 1 });
    const list = [0, 3, 7, 10, 13, 16, 19];
    const plate = part(street.frame(99, { noise: 0, boom: false, walkers: false }), ...home, ...size);
    const ground = new Ground(plate, false, list.map(seen), list.map(lies));
    const others = new Colours();
    for (const n of list) learnPassing(others, ground, seen(n), lies(n));
    const loop = street.loop(at).map(([x, y]) => [x - home[0], y - home[1]]);
    const found: number[] = [];
    for (const way of [1, -1]) {
      const cutter = new Cutter(ground, loop, others);
      for (let n = at; n >= 0 && n < LONG; n += way) found.push(shared(street, n, corner(n), size, cutter.next(seen(n), lies(n))));
    }
    expect(found.reduce((a, b) => a + b) / found.length).toBeGreaterThan(0.9);
    expect(Math.min(...found)).toBeGreaterThan(0.75);
  });
  it("that turned and came nearer sees it by as much: nothing differs where nothing stands", () => {
    const street = new Street(4);
    const plate = street.frame(99, { noise: 0, boom: false, walkers: false });
    const lies = { dx: 0, dy: 0, angle: 180, scale: 1, agree: 1 };
    const turned = createFrame(WIDE, HIGH, plate.format);
    turned.planes.forEach((p, k) => p.data.set(plate.planes[k].data.slice().reverse()));
    const { z, known } = new Ground(plate, false, [turned], [lies]).look(turned, { x0: 0, y0: 0, x1: WIDE, y1: HIGH }, lies);
    expect(known).toBeNull();
    expect(z.every((v) => v < 1.5)).toBe(true);
  });
});

describe("a thing that is there on all frames", () => {
  it.each([3, 8])("is told by its colours and those about it, and its rim by colours alone (street %i)", (seed) => {
    const street = new Street(seed);
    const at = 10;
    const frame = street.frame(at);
    const outline = street.loop(at);
    const form = gridOf(outline, WIDE, HIGH, 1);
    const ground = new Ground(frame, false, [frame], undefined, grown(form, 12).data);
    const cut = new Cutter(ground, outline, new Colours()).next(frame);
    const alpha = edgeAlpha(cut);
    let [both, either, off, rim] = [0, 0, 0, 0];
    for (let i = 0; i < alpha.length; i++) {
      const [x, y] = [i % WIDE, Math.floor(i / WIDE)];
      // its pole goes on beyond the loop, where the plate shows it as the ground
      if (!form.data[i]) continue;
      const truly = street.covers(at, x, y);
      if (truly > 0.5 && alpha[i] > 127) both++;
      if (truly > 0.5 || alpha[i] > 127) either++;
      if (truly > 0.02 && truly < 0.98) {
        off += Math.abs(truly - alpha[i] / 255);
        rim++;
      }
    }
    expect(both / either).toBeGreaterThan(0.85);
    expect(off / rim).toBeLessThan(0.2);
  });
});
