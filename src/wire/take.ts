import { z } from "zod";
import { PRIMARIES, TRANSFERS } from "../core/pixels/colour";

export const pixelFormatSchema = z.object({
  model: z.enum(["yuv", "rgb", "gray"]),
  bits: z.number(),
  subX: z.union([z.literal(0), z.literal(1)]),
  subY: z.union([z.literal(0), z.literal(1)]),
  alpha: z.boolean(),
});

/** What is known about a take's pictures and sound. */
export const takeInfoSchema = z.object({
  width: z.number(),
  height: z.number(),
  /** Frames a second, numerator and denominator. */
  rate: z.tuple([z.number(), z.number()]),
  /** The true count: pictures of one sequential decode. */
  frames: z.number(),
  variableRate: z.boolean(),
  /** From the first picture to the end of the last one, by their own times; takes read by earlier versions have none. */
  seconds: z.number().optional(),
  codec: z.string(),
  /** The decoder's own name for its samples. */
  pixelFormat: z.string(),
  /** The planar name the frames are kept in; the samples are the same. */
  planar: z.string(),
  /** What ffmpeg is asked to decode to, where asking for the planar name would change samples: full range by its own name, R′G′B′ with alpha interleaved, to be taken apart by us. */
  decoded: z.string().optional(),
  format: pixelFormatSchema,
  colour: z.object({
    matrix: z.enum(["bt601", "bt709", "bt2020"]),
    range: z.enum(["limited", "full"]),
    siting: z.enum(["left", "center", "topleft"]),
    primaries: z.enum(PRIMARIES),
    transfer: z.enum(TRANSFERS),
  }),
  /** The file's own tags, as they go out again; absent ones stay absent. */
  tags: z.object({
    range: z.string().optional(),
    matrix: z.string().optional(),
    primaries: z.string().optional(),
    transfer: z.string().optional(),
    siting: z.string().optional(),
    aspect: z.string().optional(),
    fieldOrder: z.string().optional(),
    /** Degrees by which a player is asked to turn it. */
    rotation: z.number().optional(),
  }),
  sound: z.object({ codec: z.string(), channels: z.number(), rate: z.number(), tracks: z.number() }).nullable(),
  timecode: z.string().nullable(),
  notes: z.array(z.string()),
  /** Degrees clockwise by which somebody has turned it by hand: instead of what its own flag says. */
  turned: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).optional(),
});
export type TakeInfo = z.infer<typeof takeInfoSchema>;

/** Degrees clockwise by which a take is shown turned, and its renders ask players to turn them; its samples lie as they were recorded. */
export const turnOf = (info: Pick<TakeInfo, "tags" | "turned">): number => info.turned ?? info.tags.rotation ?? 0;

export const takeStateSchema = z.enum(["reading", "ready", "failed"]);

export const takeSchema = z.object({
  id: z.string(),
  productionId: z.string(),
  name: z.string(),
  state: takeStateSchema,
  error: z.string().nullable(),
  info: takeInfoSchema.nullable(),
  /** What is wrong with the original: it has gone, or has changed. */
  trouble: z.string().nullable(),
  /** Quick frames made so far. */
  quick: z.number(),
  /** What must go from it, or what it is for, in the user's words. */
  note: z.string(),
  /** For numbered stills: whether they run against their numbers. */
  stills: z.object({ reversed: z.boolean() }).nullable(),
});
export const takeNoteSchema = z.strictObject({ note: z.string().trim().max(200) });
/** `null` goes back to what the file says. */
export const takeTurnSchema = z.strictObject({ turned: takeInfoSchema.shape.turned.unwrap().nullable() });
export type Take = z.infer<typeof takeSchema>;
