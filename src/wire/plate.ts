import { z } from "zod";
import { hashSchema, idSchema } from "./ids";
import { builtSchema, colourSchema } from "../recipe/schema";
import { pixelFormatSchema } from "./take";

/** What pages, web and engine say to each other about surveys, about where things are seen, and about plates. */

const frame = z.number().int().min(0).max(100_000_000);
const outline = z.array(z.array(z.number()).min(2).max(6)).min(3).max(20_000);
/** Made by the page: its progress is told under this name, and it is stopped by it. */
const task = z.string().min(8).max(64);

const alignment = z.tuple([z.number(), z.number(), z.number(), z.number()]);
export const surveySchema = z.object({
  cuts: z.array(z.number()),
  stillness: z.object({
    verdict: z.enum(["locked", "settles", "drifts", "moves"]),
    maxShift: z.number(),
    settledAt: z.number().optional(),
    perFrame: z.array(alignment),
  }),
  light: z.object({ drift: z.number(), flicker: z.number(), perFrame: z.array(z.array(z.tuple([z.number(), z.number()]))) }),
  grain: z.object({ sigma: z.number(), byLevel: z.array(z.tuple([z.number(), z.number()])), correlation: z.tuple([z.number(), z.number()]) }),
  bars: z.object({ left: z.number(), top: z.number(), right: z.number(), bottom: z.number(), soft: z.number() }),
  pieces: z
    .array(
      z.object({
        from: z.number(),
        to: z.number(),
        verdict: z.enum(["locked", "settles", "drifts", "moves"]),
        maxShift: z.number(),
        drift: z.number(),
        flicker: z.number(),
      }),
    )
    .optional(),
  duplicates: z.array(z.number()),
  interlaced: z.object({ share: z.number(), yes: z.boolean() }),
});
export const surveyAnswerSchema = z.object({
  survey: surveySchema.nullable(),
  /** Where there is none yet: how far it is, or why it failed. */
  state: z.union([z.object({ done: z.number(), total: z.number() }), z.object({ error: z.string() })]).nullable(),
});
export type SurveyAnswer = z.infer<typeof surveyAnswerSchema>;

export const findRequestSchema = z.strictObject({ at: frame, outline, task });
export const seenSchema = z.object({
  never: z.boolean(),
  first: z.number(),
  last: z.number(),
  worst: z.number(),
  box: z.object({ x0: z.number(), y0: z.number(), x1: z.number(), y1: z.number() }),
  area: z.array(z.number()),
  others: z.array(z.tuple([z.number(), z.number()])),
  beyond: z.array(z.tuple([z.number(), z.number()])),
  clean: z.array(z.object({ frame: z.number(), off: z.number(), side: z.enum(["before", "after"]) })),
});
export type SeenAnswer = z.infer<typeof seenSchema>;

export const buildRequestSchema = z.strictObject({ take: z.string().min(1).max(100), built: builtSchema, task });
const area = z.tuple([z.number(), z.number(), z.number(), z.number()]);
const runs = z.array(z.tuple([z.number(), z.number()]));
export const builtInfoSchema = z.object({
  at: z.number(),
  frames: z.array(z.number()),
  used: z.array(z.tuple([z.number(), z.number()])),
  grid: z.object({ width: z.number(), height: z.number(), cell: z.number() }),
  labels: runs,
  never: runs,
  doubt: runs,
  neverAreas: z.array(area),
  doubtAreas: z.array(area),
  averaged: z.boolean(),
});
export type BuiltAnswer = z.infer<typeof builtInfoSchema>;

export const alignRequestSchema = z.strictObject({ take: idSchema, at: frame, frame, avoid: z.array(outline).max(100), task });
export const alignedSchema = z.object({
  x: z.number(),
  y: z.number(),
  scale: z.number(),
  angle: z.number(),
  light: z.array(z.tuple([z.number(), z.number()])),
  agree: z.number(),
});
export type Aligned = z.infer<typeof alignedSchema>;

/** A colour from around an outline. */
export const colourRequestSchema = z.strictObject({ frame, outline });
export const colourAnswerSchema = colourSchema;

export const addPictureSchema = z.strictObject({ name: z.string().min(1).max(255), path: z.string().min(1) });
export const pictureAnswerSchema = z.object({
  asset: z.string(),
  width: z.number(),
  height: z.number(),
  alpha: z.boolean(),
  notes: z.array(z.string()),
});

/** Which picture, and what of it makes a mask. */
export const maskQuerySchema = z.object({ asset: hashSchema, use: z.enum(["alpha", "brightness"]) });
export const maskHeadSchema = z.object({ width: z.number(), height: z.number() });

export const outsideRequestSchema = z.strictObject({ plate: z.string().min(1).max(100), kind: z.enum(["png8", "png16", "tiff16", "ora"]), frame });
export const outsideEndSchema = z.strictObject({ plate: z.string().min(1).max(100) });
/** Where a plate lies that was written out to be retouched elsewhere. */
export const outsideAnswerSchema = z.object({ path: z.string().nullable() });

/** Size and layout of a picture whose planes follow as bytes. */
export const pictureHeadSchema = z.object({ width: z.number(), height: z.number(), format: pixelFormatSchema });

/** A picture that is no frame, by the SHA-256 of its key: one that the shot uses. */
export const pictureQuerySchema = z.object({ hash: hashSchema });
