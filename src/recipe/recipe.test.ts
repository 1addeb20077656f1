import fc from "fast-check";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { recipeWith } from "../../testkit/pictures";
import type { Recipe } from "../core/document/recipe";
import { apply, applyChecked, disjoint, edit, type Revision, stacks } from "./edits";
import { parseRecipe, recipeSchema } from "./schema";
import { measuredOf } from "./assets";
import type { PatchLayer } from "../core/document/layer";

const patch = {
  id: "l",
  kind: "patch" as const,
  in: 1,
  out: 5,
  source: { plate: "p" },
  mask: { shapes: [{ kind: "ellipse" as const, op: "add" as const, center: [5, 5], radii: [3, 3] }] },
};
const good = (): Recipe => recipeWith([patch]);
const broken = (change: (r: Recipe) => void) => {
  const r = JSON.parse(JSON.stringify(good())) as Recipe;
  change(r);
  return () => parseRecipe(r);
};

const [HASH, OTHER] = ["0a".repeat(32), "1b".repeat(32)];
const corners = [[1, 1], [9, 1], [9, 9], [1, 9]]; // prettier-ignore

describe("the recipe's schema", () => {
  it("takes every field of version 1", () => {
    const all = {
      format: "umber-moth/recipe",
      version: 1,
      name: "Ticket hall, boom",
      seed: 1,
      takes: {
        a: { path: "hall.mp4", colour: { matrix: "bt709", range: "limited", siting: "left" } },
        b: { path: "frames/####.png", rate: [12, 1] },
      },
      shot: { take: "a", in: 0, out: 95 },
      plates: {
        p: {
          from: { take: "a", frame: 84 },
          touches: [
            {
              id: "t",
              kind: "clone",
              brush: { size: 40, hardness: 0.5, opacity: 1, flow: 1, spacing: 0.1 },
              path: [
                [1, 2],
                [3, 4, 0.5],
              ],
              offset: [4, 5],
              scale: 1.1,
              angle: 3,
              mirror: true,
              fence: [
                [
                  [0, 0],
                  [9, 0],
                  [9, 9],
                ],
              ],
            },
          ],
        },
        q: { from: { path: "clean.png" }, touches: [] },
      },
      masks: {
        m: {
          shapes: [
            {
              kind: "path",
              op: "add",
              points: [
                [0, 0],
                [9, 0, 1, 1, 2, 2],
                [9, 9],
              ],
            },
          ],
        },
      },
      intruders: [
        {
          id: "boom",
          name: "Boom dip",
          on: true,
          layers: [
            {
              id: "boom-1",
              kind: "patch",
              name: "",
              on: true,
              locked: false,
              in: 30,
              out: 70,
              source: {
                take: "a",
                slip: {
                  keys: [
                    { f: 30, v: 0 },
                    { f: 40, v: -3, ease: [0.4, 0, 0.6, 1] },
                  ],
                },
              },
              place: { x: 1.5, y: 0, scale: 1, angle: 0, pivot: [4, 4] },
              mask: {
                shapes: [
                  { kind: "box", op: "cross", center: [3, 3], size: [4, 4], angle: 5, round: 0.5 },
                  { kind: "picture", op: "add", path: "matte.png", use: "alpha" },
                  {
                    kind: "painted",
                    op: "add",
                    strokes: [{ brush: { size: 4, hardness: 1, opacity: 1, flow: 1 }, path: [[1, 1]], erase: true, frames: [3, 4] }],
                  },
                ],
                feather: 4,
                grow: -2,
                invert: true,
              },
              opacity: { keys: [{ f: 30, v: 0, ease: "step" }] },
              fadeIn: 2,
              fadeOut: 3,
            },
            {
              id: "boom-2",
              kind: "patch",
              in: 30,
              out: 70,
              source: { take: "b", from: 2, to: 20, repeat: "bounce", join: 4, alpha: "ignore" },
              mask: { use: "m" },
            },
            { id: "boom-3", kind: "paint", in: 1, out: 2, touches: [] },
            { id: "boom-4", kind: "reframe", in: 1, out: 2, place: { scale: 1.1 } },
            { id: "boom-5", kind: "evenlight", in: 1, out: 2, way: "steady", amount: 0.5, seed: 3, data: HASH },
            {
              id: "boom-6",
              kind: "patch",
              in: 30,
              out: 70,
              source: { plate: "p" },
              tied: { mask: "t", to: "t", from: "u" },
              light: { by: "rim", strength: { keys: [{ f: 3, v: 0 }, { f: 9, v: 1 }] } }, // prettier-ignore
              seam: { strength: 1, reach: 300, detail: 4, over: 1, soft: 2, tone: "patch", fill: "rim", vary: 0.1 },
              grain: { profile: "g", strength: 1.2 },
              mask: {
                shapes: [
                  { kind: "cutout", op: "add", data: HASH, strokes: [{ f: 31, brush: { size: 9, hardness: 1, opacity: 1, flow: 1 }, path: [[1, 2]], erase: true }] }, // prettier-ignore
                  { kind: "box", op: "cut", still: true, center: [9, 9], size: [4, 4] },
                ],
              },
            },
          ],
        },
      ],
      tracks: {
        t: { name: "tape", take: "a", at: 12, region: corners, model: "affine", in: 0, out: 89, data: HASH, set: [{ f: 45, points: corners }] },
        u: { take: "b", at: 3, region: corners, model: "perspective", in: 3, out: 3, data: OTHER },
      },
      profiles: { g: { name: "hall", data: HASH } },
      output: { in: 0, out: 95 },
      proof: { accepted: [{ finding: "leak/boom-1/2/3,4", value: 1.4, why: "never seen at this size" }] },
    };
    Object.assign(all.takes.a, { measured: OTHER });
    const read = parseRecipe(all);
    expect(read).toMatchObject({ name: "Ticket hall, boom", tracks: all.tracks, proof: all.proof });
    expect(measuredOf(read).sort()).toEqual([HASH, OTHER].sort());
  });
  it("holds tracks, ties and grain to what is there, and a track's points to its region", () => {
    const track = { take: "a", at: 2, region: corners, model: "shift", in: 0, out: 5, data: HASH };
    const layer = (more: object) => (r: Recipe) => Object.assign(r.intruders[0].layers[0], more);
    expect(broken(layer({ tied: { to: "t" } }))).toThrow(/tied\.to: found “t”, allowed: a track of the recipe \(none\)/);
    expect(broken(layer({ grain: { profile: "g" } }))).toThrow(/grain\.profile: found “g”, allowed: a grain profile of the recipe/);
    expect(broken(layer({ grain: { profile: "g", strength: 3 } }))).toThrow(/grain\.strength: found 3/);
    expect(broken(layer({ seam: { reach: 0 } }))).toThrow(/seam\.reach: found 0/);
    expect(broken((r) => Object.assign(r, { tracks: { t: { ...track, take: "zz" } } }))).toThrow(/tracks\.t\.take: found “zz”/);
    expect(broken((r) => Object.assign(r, { tracks: { t: { ...track, at: 9 } } }))).toThrow(/tracks\.t\.at: found 9, allowed 0 to 5/);
    expect(broken((r) => Object.assign(r, { tracks: { t: { ...track, data: "../x" } } }))).toThrow(/tracks\.t\.data: found "..\/x", allowed: a hash/);
    const set = [{ f: 3, points: corners.slice(1) }];
    expect(broken((r) => Object.assign(r, { tracks: { t: { ...track, set } } }))).toThrow(/found 3 points at frame 3, allowed 4 as the region has/);
  });
  it("says path, what was found and what is allowed, in one sentence", () => {
    expect(broken((r) => Object.assign(r, { colour: 1 }))).toThrow(/the document: found the unknown field “colour”/);
    expect(broken((r) => Object.assign(r.intruders[0].layers[0], { opactiy: 1 }))).toThrow(
      /intruders\.0\.layers\.0: found the unknown field “opactiy”/,
    );
    expect(broken((r) => Object.assign(r.intruders[0].layers[0], { opacity: 3 }))).toThrow(/intruders\.0\.layers\.0\.opacity: found 3/);
    expect(broken((r) => Object.assign((r.intruders[0].layers[0] as PatchLayer).source, { plate: "zz" }))).toThrow(
      /source\.plate: found “zz”, allowed: a plate of the recipe \(p\)/,
    );
    expect(broken((r) => Object.assign(r, { version: 2 }))).toThrow(/version: found 2/);
    expect(broken((r) => Object.assign(r, { output: { in: 5, out: 50 } }))).toThrow(/output: found 5–50, allowed within the shot 0–9/);
    expect(broken((r) => Object.assign(r.intruders[0].layers[0], { in: 8 }))).toThrow(/out: found 5, allowed 8 or later/);
    expect(
      broken((r) =>
        Object.assign(r.intruders[0].layers[0], {
          opacity: {
            keys: [
              { f: 5, v: 1 },
              { f: 5, v: 0 },
            ],
          },
        }),
      ),
    ).toThrow(/keys must be in rising order/);
    expect(() => parseRecipe(null)).toThrow(/the document: found null/);
    const corner = (n: number) => Array.from({ length: n }, (_, i) => [i, i * i]);
    expect(
      broken((r) =>
        Object.assign((r.intruders[0].layers[0] as PatchLayer).mask, {
          shapes: [
            {
              kind: "path",
              op: "add",
              points: {
                keys: [
                  { f: 3, v: corner(4) },
                  { f: 7, v: corner(5) },
                ],
              },
            },
          ],
        }),
      ),
    ).toThrow(/points\.keys\.1\.v: found 5 points at frame 7, allowed 4 as at frame 3/);
  });
  it("is what docs/recipe.schema.json says", () => {
    const schema = z.toJSONSchema(recipeSchema, { io: "input", unrepresentable: "any" });
    const kept = JSON.parse(readFileSync("docs/recipe.schema.json", "utf8")) as object;
    expect(kept).toEqual({ title: "Umber Moth recipe, version 1", ...(JSON.parse(JSON.stringify(schema)) as object) });
  });
});

describe("a stroke", () => {
  it("of more dabs than a hand makes is refused by the limit's name; one of as many as there may be is not", () => {
    const stroke = (length: number) => {
      const r = structuredClone(good());
      const plate = Object.keys(r.plates)[0];
      const brush = { size: 10, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
      const touches = [{ id: "t", kind: "clone", brush, path: [[0, 0], [length, 0]], offset: [5, 5] }]; // prettier-ignore
      return { ...r, plates: { ...r.plates, [plate]: { ...r.plates[plate], touches } } };
    };
    expect(() => parseRecipe(stroke(199_990))).not.toThrow();
    expect(() => parseRecipe(stroke(200_010))).toThrow(/at most 200000 dabs/);
  });
});

describe("edits", () => {
  it("an edit and its inverse bring back the same recipe", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 4 }), { maxLength: 20 }), (steps) => {
        let r = good();
        for (const k of steps) {
          const e = edit(r, (d) => {
            if (k === 0) d.intruders.push({ id: `i${d.intruders.length}-${Math.abs(d.shot.out)}`, name: "x", layers: [] });
            else if (k === 1) d.intruders.shift();
            else if (k === 2) d.plates[`p${Object.keys(d.plates).length}`] = { from: { take: "a", frame: 1 }, touches: [] };
            else if (k === 3) d.shot.out += 1;
            else if (d.intruders[0]) d.intruders[0].name += "!";
          });
          expect(apply(e.recipe, e.inverse)).toEqual(r);
          expect(apply(r, e.patches)).toEqual(e.recipe);
          expect(applyChecked(r, e.patches)).toEqual(e.recipe);
          expect(applyChecked(e.recipe, e.inverse)).toEqual(r);
          r = e.recipe;
        }
      }),
    );
  });
  it("that reach beyond a list, or make it longer than what is in it, are refused", () => {
    const r = good();
    const intruder = { id: "new", name: "x", layers: [] };
    const n = r.intruders.length;
    expect(applyChecked(r, [{ op: "add", path: ["intruders", n], value: intruder }]).intruders).toHaveLength(n + 1);
    expect(applyChecked(r, [{ op: "replace", path: ["intruders", "length"], value: 0 }]).intruders).toHaveLength(0);
    for (const patch of [
      { op: "add" as const, path: ["intruders", n + 1], value: intruder },
      { op: "replace" as const, path: ["intruders", n], value: intruder },
      { op: "remove" as const, path: ["intruders", n] },
      { op: "replace" as const, path: ["intruders", "length"], value: n + 1 },
      { op: "replace" as const, path: ["intruders", "length"], value: 4294967295 },
      { op: "replace" as const, path: ["intruders", "length"], value: -1 },
      { op: "add" as const, path: ["intruders", "length"], value: 0 },
      { op: "add" as const, path: ["intruders", "first"], value: intruder },
      { op: "replace" as const, path: ["nothing", "there"], value: 1 },
    ])
      expect(() => applyChecked(r, [patch]), JSON.stringify(patch)).toThrow(RangeError);
  });
  it("knows which changes leave each other alone", () => {
    const p = (path: (string | number)[], op: "replace" | "add" = "replace") => [{ op, path, value: 1 }];
    expect(disjoint(p(["plates", "p", "name"]), p(["plates", "q", "name"]))).toBe(true);
    expect(disjoint(p(["plates", "p"]), p(["plates", "p", "name"]))).toBe(false);
    expect(disjoint(p(["intruders", 3], "add"), p(["intruders", 0, "name"]))).toBe(false);
  });
  it("undo and redo follow from the history alone, and a new edit ends redo", () => {
    const e = (rev: number): Revision => ({ rev, name: `e${rev}`, kind: "edit", of: null });
    const u = (rev: number, of: number): Revision => ({ rev, name: "u", kind: "undo", of });
    const h: Revision[] = [e(1), e(2), u(3, 2), u(4, 1)];
    expect(stacks(h).redo.map((r) => r.rev)).toEqual([2, 1]);
    expect(stacks([...h, { rev: 5, name: "r", kind: "redo", of: 1 }]).undo.map((r) => r.rev)).toEqual([1]);
    expect(stacks([...h, e(5)])).toMatchObject({ undo: [{ rev: 5 }], redo: [] });
  });
});
