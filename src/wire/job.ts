import { z } from "zod";
import { CODECS, PRESETS } from "./formats";
import { hashSchema } from "./ids";

/** What of a shot is written. */
export const WRITTEN = ["result", "patch", "matte", "review"] as const;
export type Written = (typeof WRITTEN)[number];

export const renderRequestSchema = z.strictObject({
  /** What is written, by the table of formats. */
  codec: z.enum(CODECS),
  /** How much work the encoder takes over the size of the file. */
  preset: z.enum(PRESETS).default("medium"),
  /** Constant rate factor, 0 … 51; the lower the better. */
  crf: z.number().int().min(0).max(51).default(18),
  /** The mended picture; the patches or their matte alone, as stills with transparency; or a film of before and after, numbered. */
  what: z.enum(WRITTEN).default("result"),
  /** Only the stretch that is mended, with so many frames more on either side; without it the whole shot. */
  handles: z.number().int().min(0).max(100_000).optional(),
  /** Whether samples the codec cannot carry may be converted. */
  convert: z.boolean().default(false),
  /** A look that is laid on all of a film, behind everything: the hash of its table's text, and how much of it; without it none is. */
  look: z.strictObject({ data: hashSchema, strength: z.number().min(0).max(1) }).optional(),
});
/** A request as a page sends it. */
export type RenderWish = z.input<typeof renderRequestSchema>;
export type RenderRequest = z.infer<typeof renderRequestSchema>;

export const jobSchema = z.object({
  /** Names it. */
  id: z.string(),
  /** The shot it is of; null once that has gone. */
  shotId: z.string().nullable(),
  /** Whether it waits, runs, or has ended, and how. */
  state: z.enum(["queued", "running", "done", "failed", "stopped"]),
  /** Frames written. */
  done: z.number(),
  /** Frames to be written. */
  total: z.number(),
  /** Why it failed or was stopped, in a sentence. */
  error: z.string().nullable(),
  /** What there is to say about what was written, in sentences. */
  notes: z.array(z.string()),
  /** What the file is called. */
  file: z.string(),
  /** Its size; null until it is there. */
  bytes: z.number().nullable(),
  /** How it is written. */
  codec: z.string(),
  /** The revision of the shot that is written. */
  rev: z.number(),
  /** When it was asked for, in ms since 1970. */
  createdAt: z.number(),
  /** When its turn came; null before. */
  startedAt: z.number().nullable(),
  /** When it ended; null before. */
  endedAt: z.number().nullable(),
});
export type Job = z.infer<typeof jobSchema>;
/** A job whose file is to be sent, and where it lies. */
export const renderedSchema = jobSchema.extend({
  /** Where its file lies on this machine. */
  path: z.string(),
});
