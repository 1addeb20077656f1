import { z } from "zod";
import { PRIMARIES, TRANSFERS } from "../core/pixels/colour";
import { FINITE, GROW, MOST_DABS, PX, type Range, SCALE, SHARPNESS, UNIT } from "../core/ranges";
import type { Recipe } from "../core/document/recipe";
import { TRACK_MODELS } from "../core/document/track";
import { UserError } from "../core/user-error";
import { remembered } from "./remembered";

const within = ({ min, max }: Range) => z.number().min(min).max(max);
const finite = within(FINITE);
const frame = z.number().int().min(0).max(100_000_000);
const unit = within(UNIT);
const name = z.string().max(200);
/** Names that every object has by itself: a recipe's own parts must not be mistaken for them. */
const taken = (v: string) => v in Object.prototype;
const id = z
  .string()
  .min(1)
  .max(100)
  .regex(/^[^\u0000-\u001f\u007f-\u009f\u2028\u2029]*$/, "a name without control characters")
  .refine((v) => !taken(v), "a name that is not reserved");
/** A take's id or a picture's hash. */
const asset = z
  .string()
  .max(100)
  .regex(/^[A-Za-z0-9][A-Za-z0-9-]*$/, "an id or a hash");

const ease = z.union([z.literal("step"), z.literal("linear"), z.tuple([unit, finite, unit, finite])]);

/** A constant, or keys in rising order, one a frame. */
function keyed<T extends z.ZodType>(value: T) {
  return z.union([
    value,
    z.strictObject({
      keys: z
        .array(z.strictObject({ f: frame, v: value, ease: ease.optional() }))
        .min(1)
        .max(100_000)
        .refine(
          (k) => k.every((x, i) => i === 0 || (k[i - 1] as { f: number }).f < (x as { f: number }).f),
          "keys must be in rising order, one a frame",
        ),
    }),
  ]);
}

const pair = z.tuple([finite, finite]);
const pathPoint = z.union([pair, z.tuple([finite, finite, finite, finite, finite, finite])]);
const outline = z.array(pathPoint).min(3).max(20_000);
const stretch = z.tuple([frame, frame]).refine(([a, b]) => a <= b, "the first frame must not lie after the last");
const px = within(PX);
const scale = within(SCALE);

const brush = z.strictObject({
  size: z.number().min(0.5).max(10_000),
  hardness: unit,
  opacity: unit,
  flow: unit,
  spacing: z.number().min(0.01).max(10).default(0.1),
  aspect: z.number().min(0.1).max(10).optional(),
  pressure: z.strictObject({ size: z.boolean().optional(), opacity: z.boolean().optional() }).optional(),
});
const strokePath = z
  .array(z.union([pair, z.tuple([finite, finite, unit])]))
  .min(1)
  .max(200_000);

/** A brush and its path: the dabs that lie on it must not be more than a hand makes. */
const fewDabs = ({ brush: b, path }: { brush?: { size: number; spacing: number; aspect?: number }; path?: number[][] }) => {
  if (!b || !path) return true;
  let dabs = path.length ? 1 : 0;
  for (let i = 1; i < path.length; i++) {
    const across = (b.aspect ?? 1) * (path[i][0] - path[i - 1][0]);
    dabs += Math.hypot(across, path[i][1] - path[i - 1][1]) / (b.spacing * b.size);
  }
  return dabs <= MOST_DABS;
};
const DABS = `a path of at most ${MOST_DABS} dabs at its brush's size and spacing`;
const stroke = z.strictObject({ brush, path: strokePath }).refine(fewDabs, DABS);

const area = z.union([z.strictObject({ outline }), stroke]).describe("an outline, or a brush with its path");
const touch = remembered(
  z
    .strictObject({
      id,
      kind: z.enum(["uncover", "clone", "heal", "graft", "fill", "flat", "restore"]),
      name: name.optional(),
      on: z.boolean().optional(),
      frames: stretch.optional(),
      brush: brush.optional(),
      path: strokePath.optional(),
      outline: outline.optional(),
      feather: px.optional(),
      source: z.strictObject({ plate: id.optional(), take: id.optional(), frame: frame.optional(), slip: finite.optional() }).optional(),
      offset: pair.optional(),
      scale: scale.optional(),
      angle: finite.optional(),
      mirror: z.boolean().optional(),
      light: z.boolean().optional(),
      fence: z.array(outline).max(100).optional(),
      seed: z.number().int().min(0).max(0xffffffff).optional(),
      avoid: z.array(area).max(500).optional(),
      only: z.array(area).max(500).optional(),
      guides: z
        .array(z.tuple([pair, pair]))
        .max(100)
        .optional(),
      plain: z.boolean().optional(),
    })
    .refine(fewDabs, DABS),
);

const brought = [z.strictObject({ path: z.string().min(1) }), z.strictObject({ asset })] as const;

/** A plate built from many frames. */
export const builtSchema = z
  .strictObject({
    in: frame,
    out: frame,
    at: frame.optional(),
    skip: z.array(stretch).max(1000).optional(),
    keepOut: z
      .array(z.strictObject({ outline, frames: stretch.optional() }))
      .max(200)
      .optional(),
    average: z.boolean().optional(),
  })
  .refine((b) => b.in <= b.out, "the first frame must not lie after the last");
const line = z.strictObject({
  x: finite,
  y: finite,
  scale,
  angle: finite,
  at: frame.optional(),
  light: z
    .array(z.tuple([z.number().min(0.05).max(20), finite]))
    .min(1)
    .max(3),
});
export const colourSchema = z.strictObject({
  x: finite,
  y: finite,
  planes: z
    .array(z.tuple([finite, finite, finite]))
    .min(1)
    .max(3),
});

const plate = remembered(
  z.strictObject({
    name: name.optional(),
    from: z.union([
      z.strictObject({ take: id, frame, line: line.optional() }),
      z.strictObject({ take: id, built: builtSchema }),
      z.strictObject({ colour: colourSchema }),
      ...brought,
    ]),
    touches: z.array(touch).max(20_000).default([]),
    returned: z.union(brought).optional(),
  }),
);

/** Outlines that turn into each other need a point for each point; said of the first key that has another number than the one before. */
function alike(v: z.infer<ReturnType<typeof keyed<typeof outline>>>, ctx: z.RefinementCtx): void {
  if (Array.isArray(v)) return;
  v.keys.forEach((k, i) => {
    const before = v.keys[i - 1];
    if (before && before.v.length !== k.v.length)
      ctx.addIssue({
        code: "custom",
        path: ["keys", i, "v"],
        message: `found ${k.v.length} points at frame ${k.f}, allowed ${before.v.length} as at frame ${before.f}`,
      });
  });
}

/** What was measured, by the SHA-256 of its content. */
const measured = z.string().regex(/^[0-9a-f]{64}$/, "a hash");
const seed = z.number().int().min(0).max(0xffffffff);

const op = z.enum(["add", "cut", "cross"]);
const edge = {
  name: name.optional(),
  on: z.boolean().optional(),
  locked: z.boolean().optional(),
  op: op.default("add"),
  still: z.boolean().optional(),
  feather: keyed(px).optional(),
  grow: keyed(within(GROW)).optional(),
};
/** Corrections of a cut-out by brush, each on its frame. */
export const cutoutStrokesSchema = z
  .array(remembered(z.strictObject({ f: frame, brush, path: strokePath, erase: z.boolean().optional() }).refine(fewDabs, DABS)))
  .max(20_000);

const shape = remembered(
  z.discriminatedUnion("kind", [
    z.strictObject({ kind: z.literal("path"), ...edge, points: keyed(outline).superRefine(alike) }),
    z.strictObject({ kind: z.literal("ellipse"), ...edge, center: keyed(pair), radii: keyed(z.tuple([px, px])), angle: keyed(finite).optional() }),
    z.strictObject({
      kind: z.literal("box"),
      ...edge,
      center: keyed(pair),
      size: keyed(z.tuple([px, px])),
      angle: keyed(finite).optional(),
      round: keyed(unit).optional(),
    }),
    z.strictObject({
      kind: z.literal("picture"),
      ...edge,
      path: z.string().optional(),
      asset: asset.optional(),
      use: z.enum(["alpha", "brightness"]),
    }),
    z.strictObject({
      kind: z.literal("painted"),
      ...edge,
      strokes: z.array(
        remembered(z.strictObject({ brush, path: strokePath, erase: z.boolean().optional(), frames: stretch.optional() }).refine(fewDabs, DABS)),
      ),
    }),
    z.strictObject({
      kind: z.literal("cutout"),
      ...edge,
      data: measured,
      strokes: cutoutStrokesSchema.optional(),
    }),
  ]),
);
export const maskSchema = remembered(
  z.strictObject({
    name: name.optional(),
    shapes: z.array(shape).max(1000),
    feather: keyed(px).optional(),
    grow: keyed(within(GROW)).optional(),
    invert: z.boolean().optional(),
  }),
);

const alpha = z.enum(["use", "ignore"]).optional();
const source = z.union([
  z.strictObject({ plate: id, alpha }),
  z.strictObject({ take: id, hold: frame, alpha }),
  z.strictObject({ take: id, slip: keyed(finite), alpha }),
  z.strictObject({ take: id, alpha }).describe("the same frame of the take; with a place, what lies beside"),
  z.strictObject({ take: id, from: frame, to: frame, repeat: z.enum(["loop", "bounce", "slow"]), join: z.number().int().min(0).optional(), alpha }),
]);

const place = z.strictObject({
  x: keyed(finite).optional(),
  y: keyed(finite).optional(),
  scale: keyed(scale).optional(),
  angle: keyed(finite).optional(),
  pivot: keyed(pair).optional(),
});

const tied = z.strictObject({ mask: id.optional(), to: id.optional(), from: id.optional() });
const within64 = within({ min: 0, max: 64 });
const light = z.strictObject({ by: z.enum(["whole", "rim"]), strength: keyed(unit).optional() });
const seam = z.strictObject({
  strength: keyed(unit).optional(),
  reach: keyed(within({ min: 1, max: 2000 })).optional(),
  detail: keyed(within64).optional(),
  over: keyed(within64).optional(),
  soft: keyed(within64).optional(),
  tone: z.enum(["footage", "patch"]).optional(),
  fill: z.enum(["picture", "rim"]).optional(),
  vary: keyed(finite).optional(),
});
const sharpness = z.strictObject({ amount: keyed(within(SHARPNESS)).optional(), motion: keyed(unit).optional() });
const grain = z.strictObject({ profile: id, strength: keyed(within({ min: 0, max: 2 })).optional() });

const track = remembered(
  z.strictObject({
    name: name.optional(),
    take: id,
    at: frame,
    region: outline,
    model: z.enum(TRACK_MODELS),
    in: frame,
    out: frame,
    data: measured,
    set: z
      .array(z.strictObject({ f: frame, points: outline }))
      .max(100_000)
      .optional(),
  }),
);
const profile = z.strictObject({ name: name.optional(), data: measured });
const accepted = z.strictObject({ finding: z.string().min(1).max(400), value: finite, why: z.string().max(2000) });

const layerCommon = { id, name: name.optional(), on: z.boolean().optional(), locked: z.boolean().optional(), in: frame, out: frame };
const layer = remembered(
  z.discriminatedUnion("kind", [
    z.strictObject({
      ...layerCommon,
      kind: z.literal("patch"),
      source,
      place: place.optional(),
      tied: tied.optional(),
      light: light.optional(),
      sharpness: sharpness.optional(),
      seam: seam.optional(),
      grain: grain.optional(),
      mask: z.union([maskSchema, z.strictObject({ use: id })]),
      opacity: keyed(unit).optional(),
      fadeIn: z.number().int().min(0).max(100_000).optional(),
      fadeOut: z.number().int().min(0).max(100_000).optional(),
    }),
    z.strictObject({ ...layerCommon, kind: z.literal("paint"), touches: z.array(touch).default([]) }),
    z.strictObject({
      ...layerCommon,
      kind: z.literal("reframe"),
      place: place.omit({ pivot: true }).optional(),
    }),
    z.strictObject({
      ...layerCommon,
      kind: z.literal("evenlight"),
      way: z.enum(["steady", "lively"]).optional(),
      amount: keyed(unit).optional(),
      seed: seed.optional(),
      data: measured.optional(),
    }),
  ]),
);

const seen = remembered(
  z.strictObject({
    at: frame,
    outline,
    measured: z.strictObject({ in: frame, out: frame, worst: frame, never: z.boolean().optional() }).optional(),
    in: frame.optional(),
    out: frame.optional(),
    worst: frame.optional(),
  }),
);

const colour = z.strictObject({
  matrix: z.enum(["bt601", "bt709", "bt2020"]).optional(),
  range: z.enum(["limited", "full"]).optional(),
  siting: z.enum(["left", "center", "topleft"]).optional(),
  primaries: z.enum(PRIMARIES).optional(),
  transfer: z.enum(TRANSFERS).optional(),
});
const take = z.strictObject({
  path: z.string().min(1).optional(),
  asset: asset.optional(),
  measured: measured.optional(),
  rate: z.tuple([z.number().int().min(1).max(1_000_000), z.number().int().min(1).max(1_000_000)]).optional(),
  colour: colour.optional(),
});

/** The recipe, version 1. Unknown fields are refused. References between its parts are checked too. */
export const recipeSchema = z
  .strictObject({
    format: z.literal("umber-moth/recipe"),
    version: z.literal(1),
    name: name.optional(),
    seed: seed.optional(),
    takes: z.record(id, take),
    shot: z.strictObject({ take: id, in: frame, out: frame }),
    plates: z.record(id, plate),
    masks: z.record(id, maskSchema).optional(),
    tracks: z.record(id, track).optional(),
    profiles: z.record(id, profile).optional(),
    intruders: z.array(z.strictObject({ id, name, on: z.boolean().optional(), seen: seen.optional(), layers: z.array(layer).max(1000) })).max(1000),
    output: z.strictObject({ in: frame, out: frame }).optional(),
    proof: z.strictObject({ accepted: z.array(accepted).max(10_000) }).optional(),
  })
  .superRefine((r, ctx) => {
    const bad = (path: (string | number)[], message: string) => ctx.addIssue({ code: "custom", path, message });
    const has = (o: object | undefined, key: string) => Object.hasOwn(o ?? {}, key);
    const known = (o: object | undefined) => Object.keys(o ?? {}).join(", ") || "none";
    const order = (path: (string | number)[], v: { in: number; out: number }) => {
      if (v.in > v.out) bad([...path, "out"], `found ${v.out}, allowed ${v.in} or later (the first frame is ${v.in})`);
    };
    const takeAt = (path: (string | number)[], t: string | undefined) => {
      if (t !== undefined && !has(r.takes, t)) bad(path, `found “${t}”, allowed: a take of the recipe (${known(r.takes)})`);
    };
    const plateAt = (path: (string | number)[], p: string | undefined) => {
      if (p !== undefined && !has(r.plates, p)) bad(path, `found “${p}”, allowed: a plate of the recipe (${known(r.plates)})`);
    };
    const touchesAt = (path: (string | number)[], list: readonly z.infer<typeof touch>[]) =>
      list.forEach((t, i) => {
        if (!t.source) return; // there may be thousands
        takeAt([...path, i, "source", "take"], t.source.take);
        plateAt([...path, i, "source", "plate"], t.source.plate);
      });
    takeAt(["shot", "take"], r.shot.take);
    order(["shot"], r.shot);
    if (r.output) {
      order(["output"], r.output);
      if (r.output.in < r.shot.in || r.output.out > r.shot.out)
        bad(["output"], `found ${r.output.in}–${r.output.out}, allowed within the shot ${r.shot.in}–${r.shot.out}`);
    }
    for (const [k, t] of Object.entries(r.takes))
      if (!t.path === !t.asset) bad(["takes", k], "found neither or both of path and asset, allowed one of them");
    for (const [k, p] of Object.entries(r.plates)) {
      if ("take" in p.from) takeAt(["plates", k, "from", "take"], p.from.take);
      touchesAt(["plates", k, "touches"], p.touches);
    }
    const trackAt = (path: (string | number)[], t: string | undefined) => {
      if (t !== undefined && !has(r.tracks, t)) bad(path, `found “${t}”, allowed: a track of the recipe (${known(r.tracks)})`);
    };
    for (const [k, t] of Object.entries(r.tracks ?? {})) {
      takeAt(["tracks", k, "take"], t.take);
      order(["tracks", k], t);
      if (t.at < t.in || t.at > t.out) bad(["tracks", k, "at"], `found ${t.at}, allowed ${t.in} to ${t.out}: the frames it is measured on`);
      t.set?.forEach((s, i) => {
        if (s.points.length !== t.region.length)
          bad(["tracks", k, "set", i, "points"], `found ${s.points.length} points at frame ${s.f}, allowed ${t.region.length} as the region has`);
      });
    }
    const ids = new Set<string>();
    const once = (path: (string | number)[], v: string) => {
      if (ids.has(v)) bad(path, `found “${v}” a second time, allowed once`);
      ids.add(v);
    };
    r.intruders.forEach((it, i) => {
      once(["intruders", i, "id"], it.id);
      it.layers.forEach((l, j) => {
        const at = ["intruders", i, "layers", j];
        once([...at, "id"], l.id);
        order(at, l);
        if (l.kind === "paint") touchesAt([...at, "touches"], l.touches);
        if (l.kind !== "patch") return;
        if ("plate" in l.source) plateAt([...at, "source", "plate"], l.source.plate);
        else takeAt([...at, "source", "take"], l.source.take);
        for (const part of ["mask", "to", "from"] as const) trackAt([...at, "tied", part], l.tied?.[part]);
        if (l.grain && !has(r.profiles, l.grain.profile))
          bad([...at, "grain", "profile"], `found “${l.grain.profile}”, allowed: a grain profile of the recipe (${known(r.profiles)})`);
        if ("from" in l.source) {
          const { from, to, join = 0 } = l.source;
          if (from > to) bad([...at, "source", "to"], `found ${to}, allowed ${from} or later (the stretch begins at ${from})`);
          else if (2 * join > to - from + 1)
            bad([...at, "source", "join"], `found ${join}, allowed 0 to ${Math.floor((to - from + 1) / 2)}: half of the stretch`);
        }
        if ("use" in l.mask && !has(r.masks, l.mask.use))
          bad([...at, "mask", "use"], `found “${l.mask.use}”, allowed: a mask of the recipe (${known(r.masks)})`);
      });
    });
  });

/** A type with its number lists as plain lists, everything writable, and without fields that are never there. */
type Plain<T> = T extends readonly number[]
  ? number[]
  : T extends readonly (infer U)[]
    ? Plain<U>[]
    : T extends object
      ? { -readonly [K in keyof T as [Exclude<T[K], undefined>] extends [never] ? never : K]: Plain<T[K]> }
      : T;
type Same<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false;
/** The schema and the core's types are the same, field by field; the compiler holds it. */
const same: Same<Plain<z.infer<typeof recipeSchema>>, Plain<Recipe>> = true;
void same;

/** Why a recipe is not valid, in one sentence. */
export class RecipeError extends UserError {
  constructor(message: string) {
    super("refused", message);
  }
}

/** Reads a recipe. @throws RecipeError in one sentence: which field, what was found, what is allowed. */
export function parseRecipe(value: unknown): Recipe {
  const got = recipeSchema.safeParse(value);
  if (got.success) return got.data;
  throw new RecipeError(`The recipe is not valid: ${oneLine(describe(deepest(got.error.issues), value))}.`);
}

type Issue = z.core.$ZodIssue;

/** Of a union's failures, the branch that came furthest: that is the one that was meant. */
function deepest(issues: readonly Issue[]): Issue {
  const reach = (i: Issue): Issue => {
    if (i.code !== "invalid_union" || !i.errors.length) return i;
    const inner = i.errors.map((list) => deepest(list)).sort((a, b) => score(b) - score(a))[0];
    return inner.path.length || inner.code !== "invalid_type" ? { ...inner, path: [...i.path, ...inner.path] } : i;
  };
  return reach(issues[0]);
}
const score = (i: Issue) => i.path.length * 10 + (i.code === "unrecognized_keys" ? -3 : 0) + (i.code === "invalid_type" ? -1 : 0);

/** Names in a document may hold anything; a sentence is one line, and ends. */
const oneLine = (s: string) => s.replace(/[\p{Cc}\u2028\u2029]+/gu, " ").replace(/^(.{500}).+$/u, "$1…");

function describe(issue: Issue, root: unknown): string {
  const path = issue.path.map(String).join(".") || "the document";
  const found = issue.path.reduce<unknown>((v, k) => (v as Record<PropertyKey, unknown> | undefined)?.[k], root);
  const shown = (v: unknown) => {
    const s = v === undefined ? "nothing" : JSON.stringify(v);
    return s.length > 60 ? `${s.slice(0, 57)}…` : s;
  };
  if (issue.code === "custom" && issue.message.startsWith("found")) return `${path}: ${issue.message}`;
  if (issue.code === "unrecognized_keys") return `${path}: found the unknown field “${issue.keys[0]}”, allowed are only the fields of version 1`;
  if (issue.code === "invalid_union") return `${path}: found ${shown(found)}, allowed is one of the forms in docs/recipe.md`;
  return `${path}: found ${shown(found)}, allowed: ${issue.message.replace(/^Invalid input: /, "").replace(/^Invalid option: /, "")}`;
}
