import { z } from "zod";
import type { Recipe } from "../core/document/recipe";
import { jobSchema } from "./job";
import { takeSchema } from "./take";

/** What the browser, web and engine say to each other about productions, shots and their history. */

export const patchSchema = z.object({
  op: z.enum(["add", "replace", "remove"]),
  path: z.array(z.union([z.string().max(200), z.number().int().min(0)])).max(40),
  value: z.unknown().optional(),
});
export const patchesSchema = z.array(patchSchema).min(1).max(10_000);

export const editRequestSchema = z.strictObject({
  editId: z.string().min(8).max(64),
  base: z.number().int().min(0),
  name: z.string().min(1).max(200),
  patches: patchesSchema,
  inverse: patchesSchema,
});
export type EditRequest = z.infer<typeof editRequestSchema>;

export const stepRequestSchema = z.strictObject({
  editId: z.string().min(8).max(64),
  base: z.number().int().min(0),
  step: z.enum(["undo", "redo"]),
  /** How many steps at once. */
  times: z.number().int().min(1).max(10_000).default(1),
});
export type StepRequest = z.infer<typeof stepRequestSchema>;

/** What was done to a shot, oldest first; what was undone and can be done again comes last. */
export const historySchema = z.array(z.object({ rev: z.number(), name: z.string(), at: z.number(), undone: z.boolean() }));
export type HistoryEntry = z.infer<typeof historySchema>[number];

/** The frames whose sound is to be played. */
export const soundQuerySchema = z.object({ from: z.coerce.number().int().min(0), to: z.coerce.number().int().min(0) });

/** Answer to an edit or a step: where the document stands now. `patches` lead there from the base of the request. */
export const editAnswerSchema = z.object({
  rev: z.number(),
  patches: z.array(patchSchema),
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});
export type EditAnswer = z.infer<typeof editAnswerSchema>;

/** 409: what happened since the base of the request. */
export const staleAnswerSchema = z.object({
  error: z.string(),
  rev: z.number(),
  since: z.array(z.object({ rev: z.number(), name: z.string(), patches: z.array(patchSchema) })),
});

export const shotSummarySchema = z.object({
  id: z.string(),
  name: z.string(),
  takeId: z.string(),
  rev: z.number(),
  /** Its first and last frame. */
  in: z.number(),
  out: z.number(),
  intruders: z.number(),
  layers: z.number(),
  renders: z.number(),
  /** The newest revision that was rendered. */
  renderedRev: z.number().nullable(),
  /** Why it cannot be opened. */
  broken: z.string().nullable(),
});
export type ShotSummary = z.infer<typeof shotSummarySchema>;

export const productionSchema = z.object({ id: z.string(), name: z.string(), takes: z.array(takeSchema), shots: z.array(shotSummarySchema) });
export type Production = z.infer<typeof productionSchema>;
export const stateSchema = z.object({
  productions: z.array(productionSchema),
  /** What was noticed and somebody should know. */
  notices: z.array(z.object({ id: z.string(), words: z.string() })),
  /** Whether it was opened beyond this machine, so that one can leave again. */
  exposed: z.boolean().default(false),
});

/** Copies of the database that can be gone back to. */
export const copiesSchema = z.object({
  copies: z.array(z.object({ name: z.string(), at: z.number(), kind: z.enum(["daily", "before-migration"]), bytes: z.number() })),
  /** Why the program does not work at the moment. */
  trouble: z.string().nullable(),
});
export type Copies = z.infer<typeof copiesSchema>;
export const goBackSchema = z.strictObject({ name: z.string().regex(/^[\w.-]{1,80}$/) });

export const shotSchema = z.object({
  id: z.string(),
  name: z.string(),
  rev: z.number(),
  recipe: z.custom<Recipe>(),
  undo: z.string().nullable(),
  redo: z.string().nullable(),
  production: z.object({ id: z.string(), name: z.string() }),
  /** Takes by their key in the recipe. */
  takes: z.record(z.string(), takeSchema),
});
/** A recipe to be written as a file, with the pictures it uses: their names beside it, and where they lie. */
export const exportedSchema = z.object({
  name: z.string(),
  recipe: z.custom<Recipe>(),
  pictures: z.array(z.object({ name: z.string(), path: z.string() })),
});
export type ShotDocument = z.infer<typeof shotSchema>;

/** One event of the stream that every tab listens to. */
export const eventSchema = z.discriminatedUnion("type", [
  z.object({ type: z.literal("take"), take: takeSchema }),
  z.object({ type: z.literal("job"), job: jobSchema }),
  z.object({ type: z.literal("shot"), id: z.string(), rev: z.number() }),
  z.object({ type: z.literal("productions") }),
  /** How far a take's survey is. */
  z.object({ type: z.literal("survey"), takeId: z.string(), done: z.number(), total: z.number() }),
  /** How far something is that a page asked for under this name. */
  z.object({ type: z.literal("task"), id: z.string(), done: z.number(), total: z.number() }),
  /** A plate that is retouched elsewhere has come back. */
  z.object({ type: z.literal("returned"), shotId: z.string(), plate: z.string(), words: z.string(), failed: z.boolean() }),
]);
export type Event = z.infer<typeof eventSchema>;

/** Cut a shot before each of these frames. */
export const cutRequestSchema = z.strictObject({ frames: z.array(z.number().int().min(0)).min(1).max(500) });
/** The order and the rate of numbered stills. */
export const orderRequestSchema = z.strictObject({
  reversed: z.boolean(),
  rate: z.tuple([z.number().int().min(1).max(1_000_000), z.number().int().min(1).max(1_000_000)]),
});
export const newProductionSchema = z.strictObject({ name: z.string().trim().min(1).max(120) });
export const addTakeSchema = z.strictObject({ productionId: z.string().nullable(), name: z.string().min(1).max(255), path: z.string().min(1) });
export const stillQuerySchema = z.object({
  what: z.enum(["frame", "original", "patch", "plate"]),
  frame: z.coerce.number().int().min(0),
  layer: z.string().optional(),
  plate: z.string().optional(),
});
