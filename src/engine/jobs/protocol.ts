import { z } from "zod";

/** What the engine and a job's process say to each other: the one protocol for jobs of every kind. */

/** To the process: what it is to do, and later perhaps that it is to stop. */
export const toJobSchema = z.discriminatedUnion("say", [
  z.object({ say: z.literal("begin"), kind: z.string(), spec: z.unknown(), data: z.string(), cacheLimit: z.number() }),
  z.object({ say: z.literal("stop") }),
]);
export type ToJob = z.infer<typeof toJobSchema>;

/** From the process: how far it is, and at its end what came of it. */
export const fromJobSchema = z.discriminatedUnion("say", [
  z.object({ say: z.literal("progress"), done: z.number(), total: z.number() }),
  z.object({ say: z.literal("result"), value: z.unknown() }),
  /** `stopped`: because it was told to. */
  z.object({ say: z.literal("failed"), error: z.string(), stopped: z.boolean() }),
]);
export type FromJob = z.infer<typeof fromJobSchema>;

/** A job reports its progress no more often than this, in ms: more than the eye follows only costs. */
export const REPORT_MS = 150;
