import { z } from "zod";

/** Footage in the media folders, and what is kept on disk. */
export const mediaEntrySchema = z.object({
  /** A folder, a film, or numbered stills. */
  kind: z.enum(["folder", "film", "stills"]),
  /** Its name; of stills with # for the digits. */
  name: z.string(),
  /** Its size; null of a folder. */
  bytes: z.number().nullable(),
  /** How many stills. */
  count: z.number().optional(),
});
export type MediaEntry = z.infer<typeof mediaEntrySchema>;
export const mediaFolderSchema = z.object({
  /** Which of the media folders, from 0. */
  root: z.number(),
  /** Where it is below that, with slashes. */
  path: z.string(),
  /** Its name. */
  name: z.string(),
  /** What lies in it, by name. */
  entries: z.array(mediaEntrySchema),
});
export type MediaFolder = z.infer<typeof mediaFolderSchema>;
export const mediaRootsSchema = z.object({
  /** Names of the media folders. */
  roots: z.array(z.string()),
});

export const mediaQuerySchema = z.object({
  /** Which of the media folders, from 0. */
  root: z.coerce.number().int().min(0).max(1000),
  /** A folder below it; nothing for itself. */
  path: z.string().max(4000).default(""),
});
const rate = z.tuple([z.number().int().min(1).max(1_000_000), z.number().int().min(1).max(1_000_000)]);
export const useMediaSchema = z.strictObject({
  /** The production it goes into; null for one of its own. */
  productionId: z.string().nullable(),
  /** Which of the media folders, from 0. */
  root: z.number().int().min(0),
  /** The film below it, or stills by a name with # for the digits. */
  path: z.string().min(1).max(4000),
  /** Of stills: frames a second, as two whole numbers. */
  rate: rate.optional(),
});
export const placeTakeSchema = z.strictObject({
  /** Which of the media folders, from 0. */
  root: z.number().int().min(0),
  /** Where the original lies now, below it. */
  path: z.string().min(1).max(4000),
});
export const addStillsSchema = z.strictObject({
  /** The production they go into; null for one of its own. */
  productionId: z.string().nullable(),
  /** What the take is called. */
  name: z.string().min(1).max(255),
  /** Where they lie on this machine. */
  folder: z.string().min(1),
  rate,
});

/** What goes when a take or a production goes. */
export const dependentsSchema = z.object({
  /** What goes. */
  name: z.string(),
  /** Names of the takes that go with it. */
  takes: z.array(z.string()),
  /** Names of the shots that go with it. */
  shots: z.array(z.string()),
  /** How many steps of their histories go. */
  edits: z.number(),
  /** How many renders go. */
  renders: z.number(),
  /** Shots of other takes that use it as a source; while there are any, it cannot go. */
  usedBy: z.array(z.string()),
  /** Whether files of ours go too; originals used in place stay. */
  copies: z.number(),
});
export type Dependents = z.infer<typeof dependentsSchema>;

export const cacheSchema = z.object({
  /** Bytes of decoded frames on disk. */
  used: z.number(),
  /** Most bytes they may take. */
  limit: z.number(),
});
export const cacheRequestSchema = z.strictObject({
  /** Most bytes they may take from now on, 10⁸ … 10¹⁴. */
  limit: z.number().min(1e8).max(1e14).optional(),
  /** Whether all go now. */
  empty: z.boolean().optional(),
});
