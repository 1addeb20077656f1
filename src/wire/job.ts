import { z } from "zod";
import { CODECS, PRESETS } from "./formats";

export const renderRequestSchema = z.strictObject({
  codec: z.enum(CODECS),
  preset: z.enum(PRESETS).default("medium"),
  crf: z.number().int().min(0).max(51).default(18),
  /** The mended picture, or the patches or their matte alone, as stills with transparency. */
  what: z.enum(["result", "patch", "matte"]).default("result"),
  /** Only the stretch that is mended, with so many frames more on either side; without it the whole shot. */
  handles: z.number().int().min(0).max(100_000).optional(),
  /** Whether samples the codec cannot carry may be converted. */
  convert: z.boolean().default(false),
});
/** A request as a page sends it. */
export type RenderWish = z.input<typeof renderRequestSchema>;
export type RenderRequest = z.infer<typeof renderRequestSchema>;

export const jobSchema = z.object({
  id: z.string(),
  shotId: z.string().nullable(),
  state: z.enum(["queued", "running", "done", "failed", "stopped"]),
  done: z.number(),
  total: z.number(),
  error: z.string().nullable(),
  notes: z.array(z.string()),
  file: z.string(),
  bytes: z.number().nullable(),
  codec: z.string(),
  rev: z.number(),
  createdAt: z.number(),
  startedAt: z.number().nullable(),
  endedAt: z.number().nullable(),
});
export type Job = z.infer<typeof jobSchema>;
/** A job whose file is to be sent, and where it lies. */
export const renderedSchema = jobSchema.extend({ path: z.string() });
