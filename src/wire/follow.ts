import { z } from "zod";
import type { Mask } from "../core/document/mask";
import { TRACK_MODELS } from "../core/document/track";
import { maskSchema } from "../recipe/schema";
import { hashSchema } from "./ids";

export const frame = z.number().int().min(0).max(100_000_000);
/** Corners in take pixels. */
export const points = z
  .array(z.tuple([z.number(), z.number()]))
  .min(3)
  .max(3000);
const models = z.enum(TRACK_MODELS);

/** Follow a region of a take. */
export const followRequestSchema = z.strictObject({
  /** The take, by its name in the recipe. */
  take: z.string().min(1).max(100),
  /** The frame the region is drawn or put on, and its corners there, in take pixels. */
  at: frame,
  region: points,
  /** First and last frame it is followed to. */
  from: frame,
  to: frame,
  /** How it may change; without one, as little as explains what is seen. */
  model: models.optional(),
  /** A track that is gone on with: what was measured of it, and its region on its own frame. */
  on: z.strictObject({ data: hashSchema, region: points }).optional(),
  /** Names it for its progress, and to stop it. */
  task: z.string().min(8).max(64),
});

/** What the camera does as the survey has measured it, as a track of the whole picture. */
export const cameraRequestSchema = z.strictObject({
  /** The take, by its name in the recipe. */
  take: z.string().min(1).max(100),
  /** The frame it leads from. */
  at: frame,
  /** A patch that is to follow it on some frames: there what lies round its mask is fitted by itself. */
  round: z
    .strictObject({
      mask: z.custom<Mask>((v) => maskSchema.safeParse(v).success, "found something that is no mask"),
      from: frame,
      to: frame,
      /** Names it for its progress, and to stop it. */
      task: z.string().min(8).max(64),
    })
    .optional(),
});

export const followAnswerSchema = z.object({
  /** The hash of what was measured: a track's data. */
  data: z.string(),
  /** First and last frame on which the region is known. */
  in: frame,
  out: frame,
  model: models,
  /** Where it stopped by itself, and why. */
  stops: z.array(z.object({ f: frame, why: z.string() })),
});

/** The camera's track; and on how many frames it was fitted round a patch, where that was asked for and what lies round it told. */
export const cameraAnswerSchema = followAnswerSchema.extend({ fitted: z.number().nullable() });
