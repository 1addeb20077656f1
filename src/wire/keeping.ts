import { z } from "zod";

/** What lies in the data folder and nothing uses: pictures that were brought in, and built plates. */
export const unnamedSchema = z.object({ count: z.number().int(), bytes: z.number() });
export type Unnamed = z.infer<typeof unnamedSchema>;

/** What somebody who helps would ask for. */
export const logSchema = z.object({
  /** The program and the machine. */
  about: z.array(z.object({ what: z.string(), is: z.string() })),
  /** What was said last, oldest first. */
  lines: z.array(
    z.object({
      /** When, in ms since 1970; null where it was not said. */
      at: z.number().nullable(),
      grave: z.boolean(),
      text: z.string(),
    }),
  ),
});
export type Log = z.infer<typeof logSchema>;
