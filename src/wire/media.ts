import { z } from "zod";

/** Footage in the media folders, and what is kept on disk. */
export const mediaEntrySchema = z.object({
  kind: z.enum(["folder", "film", "stills"]),
  name: z.string(),
  bytes: z.number().nullable(),
  count: z.number().optional(),
});
export type MediaEntry = z.infer<typeof mediaEntrySchema>;
export const mediaFolderSchema = z.object({ root: z.number(), path: z.string(), name: z.string(), entries: z.array(mediaEntrySchema) });
export type MediaFolder = z.infer<typeof mediaFolderSchema>;
export const mediaRootsSchema = z.object({ roots: z.array(z.string()) });

export const mediaQuerySchema = z.object({ root: z.coerce.number().int().min(0).max(1000), path: z.string().max(4000).default("") });
const rate = z.tuple([z.number().int().min(1).max(1_000_000), z.number().int().min(1).max(1_000_000)]);
export const useMediaSchema = z.strictObject({
  productionId: z.string().nullable(),
  root: z.number().int().min(0),
  path: z.string().min(1).max(4000),
  rate: rate.optional(),
});
export const placeTakeSchema = z.strictObject({ root: z.number().int().min(0), path: z.string().min(1).max(4000) });
export const addStillsSchema = z.strictObject({
  productionId: z.string().nullable(),
  name: z.string().min(1).max(255),
  folder: z.string().min(1),
  rate,
});

/** What goes when a take or a production goes. */
export const dependentsSchema = z.object({
  name: z.string(),
  takes: z.array(z.string()),
  shots: z.array(z.string()),
  edits: z.number(),
  renders: z.number(),
  /** Shots of other takes that use it as a source; while there are any, it cannot go. */
  usedBy: z.array(z.string()),
  /** Whether files of ours go too; originals used in place stay. */
  copies: z.number(),
});
export type Dependents = z.infer<typeof dependentsSchema>;

export const cacheSchema = z.object({ used: z.number(), limit: z.number() });
export const cacheRequestSchema = z.strictObject({ limit: z.number().min(1e8).max(1e14).optional(), empty: z.boolean().optional() });
