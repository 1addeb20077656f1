import { z } from "zod";
import { cutoutStrokesSchema } from "../recipe/schema";
import { frame, points } from "./follow";
import { hashSchema } from "./ids";

/** Cut a thing out of a take. */
export const cutOutRequestSchema = z
  .strictObject({
    /** The take, by its name in the recipe. */
    take: z.string().min(1).max(100),
    /** The frame it is outlined on, and a rough loop round it there, take pixels. */
    at: frame,
    outline: points.optional(),
    /** In place of the loop: what was cut out before, and corrected on that frame; what lies beyond the frames asked for is kept. */
    corrected: z.strictObject({ data: hashSchema, strokes: cutoutStrokesSchema }).optional(),
    /** First and last frame in which it is looked for. */
    from: frame,
    to: frame,
    /** Whether it is a shadow; by default a thing. */
    shadow: z.boolean().optional(),
    /** Names it for its progress, and to stop it. */
    task: z.string().min(8).max(64),
  })
  .refine((r) => !r.outline !== !r.corrected, "A thing is cut out by a loop round it, or by what was corrected of it.");

export const cutOutAnswerSchema = z.object({
  /** The hash of what was cut out. */
  data: hashSchema,
  /** First and last frame on which it is seen, and on how many. */
  in: frame,
  out: frame,
  seen: z.number(),
});
