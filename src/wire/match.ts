import { z } from "zod";

const frame = z.number().int().min(0).max(100_000_000);

/** Measure the grain of a take. */
export const grainRequestSchema = z.strictObject({
  /** The take, by its name in the recipe. */
  take: z.string().min(1).max(100),
  /** The stretch that is measured, both within; it should hold no cut. */
  in: frame,
  out: frame,
  /** A flat part of the picture in take pixels: left, top, right, bottom. */
  box: z.tuple([z.number(), z.number(), z.number(), z.number()]).optional(),
  /** Names it for its progress, and to stop it. */
  task: z.string().min(8).max(64),
});

/** Keep a table of colours, the text of a `.cube` file. */
export const lookRequestSchema = z.strictObject({ text: z.string().min(1).max(30_000_000) });
export const lookAnswerSchema = z.object({
  /** The hash of what is kept. */
  data: z.string(),
  /** What the table calls itself; empty where it does not. */
  title: z.string(),
});

/** Keep what the survey measured of a take's light, so that layers can go by it. */
export const lightRequestSchema = z.strictObject({
  /** The take, by its name in the recipe. */
  take: z.string().min(1).max(100),
});

export const grainAnswerSchema = z.object({
  /** The hash of what was measured: a profile's data. */
  data: z.string(),
});
