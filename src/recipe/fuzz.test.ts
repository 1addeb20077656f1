import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { pictureKey, pictureSpec } from "../core/plate/keys";
import type { Recipe } from "../core/document/recipe";
import { assetsOf, measuredOf } from "./assets";
import { apply, type Patch } from "./edits";
import { parseRecipe, RecipeError, recipeSchema } from "./schema";

/** Values that make programs stumble: reserved names, ways out of a folder, filters, numbers beyond everything, depth, length. */
const HOSTILE: fc.Arbitrary<unknown> = fc.oneof(
  fc.constantFrom<unknown>(
    ...["../../x", "/etc/passwd", "..\\x", "__proto__", "constructor", "toString", "bt709,metadata=print:file=/tmp/x", "a\0b", "a\nb", "\u2028", ""],
    ...[NaN, Infinity, -Infinity, -0, 1e308, -1e308, 5e-324, 2 ** 53, -1, 0.5, null, undefined, true, false, [], {}, [[]], [null]],
    ...["x".repeat(100_000), Array(50_000).fill(0), Array(5000).fill([1e9, -1e9])],
    JSON.parse(`${"[".repeat(3000)}${"]".repeat(3000)}`),
    JSON.parse('{"__proto__": {"shot": 1}, "constructor": {"prototype": 1}}'),
    { keys: [] },
    { keys: [{ f: 1e9, v: 0 }] },
    { plate: "__proto__" },
    { asset: "../../x" },
  ),
  fc.anything({ maxDepth: 3 }),
);

/** Values that a schema describes: every kind of node the recipe's schema is made of. A kind that is new fails here, and is added. */
function of(schema: z.core.$ZodType, depth = 0): fc.Arbitrary<unknown> {
  const d = schema._zod.def as unknown as Record<string, never> & { type: string };
  const short = depth > 4 ? 1 : 3;
  switch (d.type) {
    case "object": {
      const shape = d.shape as unknown as Record<string, z.core.$ZodType>;
      const required = Object.keys(shape).filter((k) => !["optional", "default"].includes(shape[k]._zod.def.type));
      return fc.record(Object.fromEntries(Object.entries(shape).map(([k, v]) => [k, of(v, depth + 1)])), { requiredKeys: required });
    }
    case "optional":
    case "default":
      return of(d.innerType, depth);
    case "union":
      return fc.oneof(...(d.options as unknown as z.core.$ZodType[]).map((o) => of(o, depth)));
    case "array": {
      const least = bound(d.checks as unknown as Check[] | undefined, "min_length", "minimum") ?? 1;
      return fc.array(of(d.element, depth + 1), { minLength: least, maxLength: Math.max(least, short) });
    }
    case "tuple":
      return fc.tuple(...(d.items as unknown as z.core.$ZodType[]).map((i) => of(i, depth + 1)));
    case "record":
      return fc.dictionary(fc.constantFrom("a", "b", "p", "m"), of(d.valueType, depth + 1), { minKeys: 1, maxKeys: 3 });
    case "literal":
      return fc.constantFrom(...(d.values as unknown as unknown[]));
    case "enum":
      return fc.constantFrom(...Object.values(d.entries as unknown as Record<string, string>));
    case "string":
      // what is no name is a hash
      return patternsOf(d.checks).every((p) => p.test("boom")) ? fc.constantFrom("a", "b", "p", "m", "boom") : fc.constant(HASH);
    case "boolean":
      return fc.boolean();
    case "number":
      return numbers(d.checks as unknown as Check[] | undefined);
    default:
      throw new Error(`The fuzz does not know schemas of the kind “${d.type}”: teach it.`);
  }
}
const HASH = "0a".repeat(32);
/** The patterns that a schema's strings must match. */
const patternsOf = (checks: unknown): RegExp[] =>
  ((checks ?? []) as { _zod: { def: { pattern?: RegExp } } }[]).flatMap((c) => c._zod.def.pattern ?? []);
/** Numbers within a schema's bounds, most of them small. */
type Check = { _zod: { def: { check: string; value?: number; minimum?: number; format?: string } } };
const bound = (checks: Check[] | undefined, check: string, field: "value" | "minimum") =>
  checks?.find((c) => c._zod.def.check === check)?._zod.def[field];
function numbers(checks: Check[] = []): fc.Arbitrary<number> {
  const minimum = bound(checks, "greater_than", "value") ?? -1000;
  const maximum = bound(checks, "less_than", "value") ?? 1000;
  const [min, max] = [Math.max(minimum, -1000), Math.min(maximum, Math.max(minimum, -1000) + 2000)];
  const low = Math.min(max, Math.max(min, 0) + 40);
  if (checks.some((c) => c._zod.def.check === "number_format")) return fc.integer({ min: Math.max(0, min), max: low });
  return fc.oneof(fc.constantFrom(min, max), fc.double({ min: Math.max(0, min), max: low, noNaN: true }), fc.double({ min, max, noNaN: true }));
}

/** Makes what refers to something refer to something that is there, and puts in order what must be in order: then a document can be read. */
function fitted(doc: Record<string, unknown>): Record<string, unknown> {
  let n = 0;
  const names = ["a", "b", "p", "m", "boom"];
  const ordered = (o: Record<string, unknown>, a: string, b: string) => {
    if (typeof o[a] === "number" && typeof o[b] === "number") [o[a], o[b]] = [o[a], o[b]].sort((x, y) => x - y);
  };
  const walk = (v: unknown, key = ""): unknown => {
    if (Array.isArray(v)) {
      const all = v.map((x) => walk(x, key));
      if (key === "frames" || key === "skip") return all.every((x) => typeof x === "number") ? all.sort((x, y) => x - y) : all;
      return key === "keys" ? all.map((k, i) => ({ ...(k as object), f: i * 3 })) : all;
    }
    if (typeof v !== "object" || v === null) return v;
    const o = Object.fromEntries(Object.entries(v).map(([k, x]) => [k, walk(x, k)]));
    ordered(o, "in", "out");
    ordered(o, "from", "to");
    if ("join" in o) o.join = 0;
    if ("id" in o) o.id = `n${n++}`;
    return o;
  };
  const r = walk(doc) as Record<string, Record<string, unknown>>;
  const all = (part: Record<string, unknown> | undefined, other: unknown) =>
    Object.fromEntries(names.map((k) => [k, part?.[k] ?? Object.values(part ?? {})[0] ?? other]));
  r.takes = all(r.takes, {});
  for (const [k, t] of Object.entries(r.takes)) r.takes[k] = { ...(t as object), path: "a.mp4", asset: undefined };
  r.plates = all(r.plates, { from: { take: "a", frame: 1 }, touches: [] });
  r.masks = all(r.masks, { shapes: [] });
  r.tracks = all(r.tracks, { take: "a", at: 0, region: [[0, 0], [9, 0], [0, 9]], model: "shift", in: 0, out: 1, data: HASH }); // prettier-ignore
  for (const [k, t] of Object.entries(r.tracks) as [string, { in: number }][]) r.tracks[k] = { ...t, at: t.in, set: undefined };
  r.profiles = all(r.profiles, { data: HASH });
  r.output = { in: r.shot.in, out: r.shot.out };
  return r;
}
const nearly = (of(recipeSchema) as fc.Arbitrary<Record<string, unknown>>).map(fitted);

/** A place within a value, and something put there instead. */
const blow = fc.record({ turns: fc.array(fc.nat(), { maxLength: 9 }), value: HOSTILE, rename: fc.boolean() });
function struck(v: unknown, { turns, value, rename }: { turns: number[]; value: unknown; rename: boolean }): unknown {
  if (!turns.length || typeof v !== "object" || v === null) return value;
  const keys = Object.keys(v);
  if (!keys.length) return value;
  const key = keys[turns[0] % keys.length];
  const copy = (Array.isArray(v) ? [...v] : { ...v }) as Record<string, unknown>;
  if (rename && turns.length === 1) {
    delete copy[key];
    copy[typeof value === "string" ? value.slice(0, 200) : "stranger"] = 1;
  } else copy[key] = struck(copy[key], { turns: turns.slice(1), value, rename });
  return copy;
}

/** Milliseconds in which a document is read or refused; far above what it takes, so that a busy machine does not fail it, and far below "for ever". */
const LIMIT = 20_000;
/** How many documents are tried; more by UMBER_FUZZ. */
const RUNS = Number(process.env.UMBER_FUZZ ?? 350);
const within = <T>(work: () => T): T => {
  const began = Date.now();
  const r = work();
  expect(Date.now() - began).toBeLessThan(LIMIT);
  return r;
};

/** Reads a document: a recipe, or null where it was refused as it should be. */
function read(value: unknown): Recipe | null {
  return within(() => {
    try {
      return parseRecipe(value);
    } catch (e) {
      if (!(e instanceof RecipeError)) throw e;
      expect(e.message.split("\n")).toHaveLength(1);
      expect(e.message.length).toBeLessThan(1000);
      return null;
    }
  });
}

describe("recipes from anywhere", () => {
  it("whatever is put anywhere into one, it is read or refused in one sentence (property)", () => {
    let [kept, refused] = [0, 0];
    fc.assert(
      fc.property(nearly, fc.array(blow, { minLength: 0, maxLength: 3 }), (doc, blows) => {
        const r = read(blows.reduce<unknown>(struck, doc));
        if (!r) return void refused++;
        kept++;
        // what is taken holds nothing that could become a path, a filter or another object's own field
        for (const a of assetsOf(r)) expect(a).toMatch(/^[A-Za-z0-9-]+$/);
        for (const a of measuredOf(r)) expect(a).toMatch(/^[0-9a-f]{64}$/);
        for (const k of [...Object.keys(r.takes), ...Object.keys(r.plates), ...Object.keys(r.masks ?? {})]) expect(k in Object.prototype).toBe(false);
        for (const t of Object.values(r.takes)) expect(`${t.colour?.primaries}${t.colour?.transfer}`).toMatch(/^[\w-]*$/);
        for (const p of Object.values(r.plates)) if (p.from.built || p.from.colour) pictureSpec(pictureKey(p.from));
        expect(parseRecipe(JSON.parse(JSON.stringify(r)))).toEqual(JSON.parse(JSON.stringify(parseRecipe(JSON.parse(JSON.stringify(r))))));
        expect(({} as Record<string, unknown>).shot).toBeUndefined();
      }),
      { numRuns: RUNS },
    );
    // both happen, so that neither half of the check is idle
    expect([kept > RUNS / 20, refused > RUNS / 5]).toEqual([true, true]);
  }, 900_000);

  it("anything at all is read or refused in one sentence (property)", () => {
    fc.assert(
      fc.property(HOSTILE, (v) => void expect(read(v)).toBeNull()),
      { numRuns: 1000 },
    );
  });

  it.each([
    ["a filter as colour primaries", { takes: { a: { path: "a.mp4", colour: { primaries: "bt709,metadata=print:file=x" } } } }],
    ["a filter as transfer", { takes: { a: { path: "a.mp4", colour: { transfer: "bt709:x=1" } } } }],
    ["a way out of the folder as a take's asset", { takes: { a: { asset: "../../x" } } }],
    ["a way out of the folder as a picture's asset", { plates: { p: { from: { asset: "../x" }, touches: [] } } }],
    ["a plate with a reserved name", { plates: JSON.parse('{"constructor": {"from": {"take": "a", "frame": 1}, "touches": []}}') }],
    ["an intruder with a reserved name", { intruders: [{ id: "__proto__", name: "x", layers: [] }] }],
    ["a name of two lines", { intruders: [{ id: "a\nb", name: "x", layers: [] }] }],
  ])("%s is refused", (_, part) => {
    const good = {
      format: "umber-moth/recipe",
      version: 1,
      takes: { a: { asset: "x1" } },
      shot: { take: "a", in: 0, out: 9 },
      plates: {},
      intruders: [],
    };
    expect(() => parseRecipe({ ...good, ...part })).toThrow(RecipeError);
    expect(parseRecipe(good)).toMatchObject(good);
  });
});

describe("changes from anywhere", () => {
  const patches: fc.Arbitrary<Patch[]> = fc.array(
    fc.record({
      op: fc.constantFrom("add" as const, "replace" as const, "remove" as const),
      path: fc.array(
        fc.oneof(
          fc.constantFrom(
            "takes",
            "plates",
            "intruders",
            "layers",
            "shot",
            "name",
            "mask",
            "shapes",
            "a",
            "p",
            "in",
            "__proto__",
            "constructor",
            "length",
            "-",
          ),
          fc.integer({ min: -1, max: 5 }),
        ),
        { maxLength: 6 },
      ),
      value: HOSTILE,
    }),
    { minLength: 1, maxLength: 4 },
  );
  it("never change what they are applied to, nor what all objects have (property)", () => {
    const doc = parseRecipe({
      ...{ format: "umber-moth/recipe", version: 1, takes: { a: { asset: "x1" } }, shot: { take: "a", in: 0, out: 9 }, plates: {} },
      intruders: [{ id: "i", name: "x", layers: [] }],
    });
    const before = JSON.stringify(doc);
    fc.assert(
      fc.property(patches, (p) => {
        within(() => {
          try {
            read(apply(doc, p));
          } catch (e) {
            // patches that lead nowhere are refused by the library
            if (!(e instanceof Error) || /^expected|toBe/.test(e.message)) throw e;
          }
        });
        expect(JSON.stringify(doc)).toBe(before);
        expect(Object.keys(Object.prototype)).toEqual([]);
        expect(({} as Record<string, unknown>).name).toBeUndefined();
      }),
      { numRuns: 800 },
    );
  });
});
