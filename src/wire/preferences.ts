import { z } from "zod";

/** How somebody likes to work; kept on their machine, for all productions. */
export const preferencesSchema = z.object({
  /** Frames are shown by number or by timecode. */
  counting: z.enum(["frames", "timecode"]).default("frames"),
  /** The number of a take's first frame; recipes always count from 0. */
  first: z.number().int().min(-1_000_000).max(10_000_000).default(0),
  /** Whether new patches are matched to what surrounds them by themselves, or by hand alone. */
  matching: z.enum(["itself", "hand"]).default("itself"),
  /** Grain that was measured and given a name, offered in every shot: its name, and the hash of its data. */
  profiles: z
    .array(z.object({ name: z.string().min(1).max(80), data: z.string().regex(/^[0-9a-f]{64}$/) }))
    .max(200)
    .default([]),
  /** The look each production is seen through: what its table is called, the hash of its text, how much of it, and whether it is on. */
  looks: z
    .record(
      z.string().max(64),
      z.object({ name: z.string().min(1).max(120), data: z.string().regex(/^[0-9a-f]{64}$/), strength: z.number().min(0).max(1), on: z.boolean() }),
    )
    .default({}),
  /** Keys that are others than the usual ones, by what they do. */
  keys: z.record(z.string().max(40), z.string().max(60)).default({}),
});
export type Preferences = z.infer<typeof preferencesSchema>;
