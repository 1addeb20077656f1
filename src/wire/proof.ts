import { z } from "zod";
import { KINDS, REMEDIES } from "../core/proof/finding";
import { frame, points } from "./follow";

/** Measure what is still wrong in a shot. */
export const proofRequestSchema = z.strictObject({
  /** Names it for its progress, and to stop it. */
  task: z.string().min(8).max(64),
});

const findingSchema = z.object({
  kind: z.enum(KINDS),
  intruder: z.string(),
  layer: z.string(),
  /** First and last frame, and the worst. */
  in: frame,
  out: frame,
  worst: frame,
  /** Where it is in the worst frame, take pixels. */
  box: z.object({ x0: z.number(), y0: z.number(), x1: z.number(), y1: z.number() }),
  /** How bad it is, and from where on it counts, both in the measure that its sentence names. */
  value: z.number(),
  limit: z.number(),
  says: z.string(),
  do: z.string(),
  remedy: z.enum(REMEDIES),
  /** A rough loop round somebody who passes, on one frame. */
  outline: z.object({ f: frame, points }).optional(),
  /** By how much a picture that lies off is to be moved, take pixels. */
  shift: z.object({ x: z.number(), y: z.number() }).optional(),
});

const figure = z.array(z.number().nullable());

/** What was measured; what was accepted is not taken off. */
export const proofAnswerSchema = z.object({
  verdict: z.enum(["clean", "faults", "unsure"]),
  findings: z.array(findingSchema),
  doubts: z.array(z.object({ intruder: z.string(), layer: z.string(), says: z.string() })),
  /** Of each patch, by its layer: frame by frame from `from`; null where a frame tells nothing. */
  figures: z.record(z.string(), z.object({ from: frame, left: figure, edge: figure, light: figure })),
  looked: z.string(),
});

/** How a report of what is still wrong is written. */
export const REPORT_FORMS = ["html", "csv", "json"] as const;
export type ReportForm = (typeof REPORT_FORMS)[number];
export const reportQuerySchema = z.object({
  as: z.enum(REPORT_FORMS).default("html"),
  /** Names it for its progress, and to stop it. */
  task: z.string().min(8).max(64).optional(),
});
