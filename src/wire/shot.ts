import { z } from "zod";
import type { Recipe } from "../core/document/recipe";
import { jobSchema } from "./job";
import { takeSchema } from "./take";

/** What the browser, web and engine say to each other about productions, shots and their history. */

export const patchSchema = z.object({
  /** What is done at the path. */
  op: z.enum(["add", "replace", "remove"]),
  /** Names of fields and places in lists that lead there. */
  path: z.array(z.union([z.string().max(200), z.number().int().min(0)])).max(40),
  /** What stands there then; JSON. */
  value: z.unknown().optional(),
});
export const patchesSchema = z.array(patchSchema).min(1).max(10_000);

export const editRequestSchema = z.strictObject({
  /** Made by the page; sent twice, it gets the same answer. */
  editId: z.string().min(8).max(64),
  /** The revision that the patches are for. */
  base: z.number().int().min(0),
  /** What was done, as the history lists it; frames in it as « n ». */
  name: z.string().min(1).max(200),
  /** What changes. */
  patches: patchesSchema,
  /** What takes it back. */
  inverse: patchesSchema,
});
export type EditRequest = z.infer<typeof editRequestSchema>;

export const stepRequestSchema = z.strictObject({
  /** Made by the page; sent twice, it gets the same answer. */
  editId: z.string().min(8).max(64),
  /** The newest revision the page knows. */
  base: z.number().int().min(0),
  /** Back or on. */
  step: z.enum(["undo", "redo"]),
  /** How many steps at once. */
  times: z.number().int().min(1).max(10_000).default(1),
});
export type StepRequest = z.infer<typeof stepRequestSchema>;

/** What was done to a shot, oldest first; what was undone and can be done again comes last. */
export const historySchema = z.array(
  z.object({
    /** The revision it made. */
    rev: z.number(),
    /** What was done. */
    name: z.string(),
    /** When, in ms since 1970. */
    at: z.number(),
    /** Whether it is taken back. */
    undone: z.boolean(),
  }),
);
export type HistoryEntry = z.infer<typeof historySchema>[number];

/** The frames whose sound is to be played. */
export const soundQuerySchema = z.object({
  /** First frame, from 0. */
  from: z.coerce.number().int().min(0),
  /** Last frame, which is heard as well. */
  to: z.coerce.number().int().min(0),
});

/** Answer to an edit or a step: where the document stands now. `patches` lead there from the base of the request. */
export const editAnswerSchema = z.object({
  /** The newest revision. */
  rev: z.number(),
  /** What leads there from the base of the request. */
  patches: z.array(patchSchema),
  /** What undo would take back; null for nothing. */
  undo: z.string().nullable(),
  /** What redo would do again; null for nothing. */
  redo: z.string().nullable(),
});
export type EditAnswer = z.infer<typeof editAnswerSchema>;

/** 409: what happened since the base of the request. */
export const staleAnswerSchema = z.object({
  /** A sentence. */
  error: z.string(),
  /** The newest revision. */
  rev: z.number(),
  /** What was done since the base of the request, oldest first. */
  since: z.array(
    z.object({
      /** The revision it made. */
      rev: z.number(),
      /** What was done. */
      name: z.string(),
      /** What it changed. */
      patches: z.array(patchSchema),
    }),
  ),
});

export const shotSummarySchema = z.object({
  /** Names it. */
  id: z.string(),
  /** What it is called. */
  name: z.string(),
  /** Its take. */
  takeId: z.string(),
  /** Its newest revision. */
  rev: z.number(),
  /** Its first and last frame. */
  in: z.number(),
  /** Its last frame. */
  out: z.number(),
  /** How many things must go. */
  intruders: z.number(),
  /** How many layers take them away. */
  layers: z.number(),
  /** How many renders there are. */
  renders: z.number(),
  /** The newest revision that was rendered. */
  renderedRev: z.number().nullable(),
  /** Why it cannot be opened. */
  broken: z.string().nullable(),
});
export type ShotSummary = z.infer<typeof shotSummarySchema>;

export const productionSchema = z.object({
  /** Names it. */
  id: z.string(),
  /** What it is called. */
  name: z.string(),
  /** Its footage, in the order it came in. */
  takes: z.array(takeSchema),
  /** Its shots. */
  shots: z.array(shotSummarySchema),
});
export type Production = z.infer<typeof productionSchema>;
export const stateSchema = z.object({
  /** All productions, in the order they were made. */
  productions: z.array(productionSchema),
  /** What was noticed and somebody should know. */
  notices: z.array(
    z.object({
      /** Names the notice, to put it away. */
      id: z.string(),
      /** What was noticed, in a sentence. */
      words: z.string(),
    }),
  ),
  /** Whether it was opened beyond this machine, so that one can leave again. */
  exposed: z.boolean().default(false),
});

/** Copies of the database that can be gone back to. */
export const copiesSchema = z.object({
  /** Copies that can be gone back to, newest first. */
  copies: z.array(
    z.object({
      /** The name of its file. */
      name: z.string(),
      /** When it was made, in ms since 1970. */
      at: z.number(),
      /** Made once a day, or before the database was brought to a newer form. */
      kind: z.enum(["daily", "before-migration"]),
      /** Its size. */
      bytes: z.number(),
    }),
  ),
  /** Why the program does not work at the moment. */
  trouble: z.string().nullable(),
});
export type Copies = z.infer<typeof copiesSchema>;
export const goBackSchema = z.strictObject({
  /** The copy's name. */
  name: z.string().regex(/^[\w.-]{1,80}$/),
});

export const shotSchema = z.object({
  /** Names it. */
  id: z.string(),
  /** What it is called. */
  name: z.string(),
  /** Its newest revision. */
  rev: z.number(),
  /** How it is mended, at that revision. */
  recipe: z.custom<Recipe>(),
  /** What undo would take back; null for nothing. */
  undo: z.string().nullable(),
  /** What redo would do again; null for nothing. */
  redo: z.string().nullable(),
  /** Where it belongs. */
  production: z.object({
    /** Names the production. */
    id: z.string(),
    /** What the production is called. */
    name: z.string(),
  }),
  /** Takes by their key in the recipe. */
  takes: z.record(z.string(), takeSchema),
});
/** A recipe to be written as a file, with the pictures it uses: their names beside it, and where they lie. */
export const exportedSchema = z.object({
  /** What the file is to be called, without its end. */
  name: z.string(),
  /** The recipe, with paths beside its file in place of ids. */
  recipe: z.custom<Recipe>(),
  /** Hashes of what was measured and goes with it. */
  measured: z.array(z.string()),
  /** Pictures to be put beside it. */
  pictures: z.array(
    z.object({
      /** Its path from the recipe. */
      name: z.string(),
      /** Where it lies on this machine. */
      path: z.string(),
    }),
  ),
});
export type ShotDocument = z.infer<typeof shotSchema>;

/** One event of the stream that every tab listens to. */
export const eventSchema = z.discriminatedUnion("type", [
  z.object({
    type: z.literal("take"),
    /** The take as it is now. */
    take: takeSchema,
  }),
  z.object({
    type: z.literal("job"),
    /** The job as it is now. */
    job: jobSchema,
  }),
  z.object({
    type: z.literal("shot"),
    /** What it is about. */
    id: z.string(),
    /** Its newest revision. */
    rev: z.number(),
  }),
  z.object({ type: z.literal("productions") }),
  /** How far a take's survey is. */
  z.object({
    type: z.literal("survey"),
    /** The take that is measured. */
    takeId: z.string(),
    /** How much of the total is done. */
    done: z.number(),
    /** How much there is to do. */
    total: z.number(),
  }),
  /** How far something is that a page asked for under this name. */
  z.object({ type: z.literal("task"), id: z.string(), done: z.number(), total: z.number() }),
  /** A plate that is retouched elsewhere has come back. */
  z.object({
    type: z.literal("returned"),
    /** The shot it belongs to. */
    shotId: z.string(),
    /** The plate, by its name in the recipe. */
    plate: z.string(),
    /** What has happened, in a sentence. */
    words: z.string(),
    /** Whether it could not be taken. */
    failed: z.boolean(),
  }),
]);
export type Event = z.infer<typeof eventSchema>;

/** Cut a shot before each of these frames. */
export const cutRequestSchema = z.strictObject({
  /** Each begins a shot of its own. */
  frames: z.array(z.number().int().min(0)).min(1).max(500),
});
/** The order and the rate of numbered stills. */
export const orderRequestSchema = z.strictObject({
  /** Whether they run against their numbers. */
  reversed: z.boolean(),
  /** Frames a second, as two whole numbers. */
  rate: z.tuple([z.number().int().min(1).max(1_000_000), z.number().int().min(1).max(1_000_000)]),
});
export const newProductionSchema = z.strictObject({
  /** What it is called; 1 … 120 characters. */
  name: z.string().trim().min(1).max(120),
});
export const addTakeSchema = z.strictObject({
  /** The production it goes into; null for one of its own. */
  productionId: z.string().nullable(),
  /** What its file was called. */
  name: z.string().min(1).max(255),
  /** Where it lies on this machine. */
  path: z.string().min(1),
});
export const stillQuerySchema = z.object({
  /** The mended frame, the frame as it came, one patch alone, or a plate. */
  what: z.enum(["frame", "original", "patch", "plate"]),
  /** The frame of the take, from 0. */
  frame: z.coerce.number().int().min(0),
  /** The patch, by its id in the recipe. */
  layer: z.string().optional(),
  /** The plate, by its name in the recipe. */
  plate: z.string().optional(),
});
