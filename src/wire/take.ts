import { z } from "zod";
import { PRIMARIES, TRANSFERS } from "../core/pixels/colour";

export const pixelFormatSchema = z.object({
  /** Luma and chroma, three colours, or luma alone. */
  model: z.enum(["yuv", "rgb", "gray"]),
  /** Bits of a sample, 8 … 16. */
  bits: z.number(),
  /** 1 where chroma is half as wide as luma. */
  subX: z.union([z.literal(0), z.literal(1)]),
  /** 1 where chroma is half as high as luma. */
  subY: z.union([z.literal(0), z.literal(1)]),
  /** Whether there is a plane of alpha. */
  alpha: z.boolean(),
});

/** What is known about a take's pictures and sound. */
export const takeInfoSchema = z.object({
  /** Samples across. */
  width: z.number(),
  /** Samples down. */
  height: z.number(),
  /** Frames a second, numerator and denominator. */
  rate: z.tuple([z.number(), z.number()]),
  /** The true count: pictures of one sequential decode. */
  frames: z.number(),
  /** Whether its pictures come at uneven times. */
  variableRate: z.boolean(),
  /** From the first picture to the end of the last one, by their own times; takes read by earlier versions have none. */
  seconds: z.number().optional(),
  /** The codec's name, as ffprobe writes it. */
  codec: z.string(),
  /** The decoder's own name for its samples. */
  pixelFormat: z.string(),
  /** The planar name the frames are kept in; the samples are the same. */
  planar: z.string(),
  /** What ffmpeg is asked to decode to, where asking for the planar name would change samples: full range by its own name, R′G′B′ with alpha interleaved, to be taken apart by us. */
  decoded: z.string().optional(),
  /** How its samples are laid out. */
  format: pixelFormatSchema,
  /** How its samples mean colours: the file's tags, or what its size suggests where it has none. */
  colour: z.object({
    /** How R′G′B′ and Y′CbCr go over into each other. */
    matrix: z.enum(["bt601", "bt709", "bt2020"]),
    /** Whether code values keep room at both ends. */
    range: z.enum(["limited", "full"]),
    /** Where chroma samples lie between luma samples. */
    siting: z.enum(["left", "center", "topleft"]),
    /** The colours that R, G and B are. */
    primaries: z.enum(PRIMARIES),
    /** How light becomes code values. */
    transfer: z.enum(TRANSFERS),
  }),
  /** The file's own tags, as they go out again; absent ones stay absent. */
  tags: z.object({
    range: z.string().optional(),
    matrix: z.string().optional(),
    primaries: z.string().optional(),
    transfer: z.string().optional(),
    siting: z.string().optional(),
    /** How wide a pixel is shown for its height, as two whole numbers with a colon. */
    aspect: z.string().optional(),
    /** Whether it is made of fields, and which of them comes first. */
    fieldOrder: z.string().optional(),
    /** Degrees by which a player is asked to turn it. */
    rotation: z.number().optional(),
  }),
  /** Its sound; null where it has none. */
  sound: z
    .object({
      codec: z.string(),
      /** Channels of the first track. */
      channels: z.number(),
      /** Samples a second. */
      rate: z.number(),
      /** How many tracks. */
      tracks: z.number(),
    })
    .nullable(),
  /** The timecode of its first frame, as the file writes it; null where it has none. */
  timecode: z.string().nullable(),
  /** What was found strange about it, in sentences. */
  notes: z.array(z.string()),
  /** Degrees clockwise by which somebody has turned it by hand: instead of what its own flag says. */
  turned: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).optional(),
});
export type TakeInfo = z.infer<typeof takeInfoSchema>;

/** Degrees clockwise by which a take is shown turned, and its renders ask players to turn them; its samples lie as they were recorded. */
export const turnOf = (info: Pick<TakeInfo, "tags" | "turned">): number => info.turned ?? info.tags.rotation ?? 0;

/** How much wider than high the pixels of a take are, by its flag; 1 for square ones. */
export function aspectOf({ tags }: Pick<TakeInfo, "tags">): number {
  const [, wide, high] = /^(\d+):(\d+)$/.exec(tags.aspect ?? "") ?? [];
  const aspect = Number(wide) / Number(high);
  return aspect >= 0.1 && aspect <= 10 ? aspect : 1;
}

export const takeStateSchema = z.enum(["reading", "ready", "failed"]);

export const takeSchema = z.object({
  /** Names it in the library. */
  id: z.string(),
  /** The production it belongs to. */
  productionId: z.string(),
  /** What its file is called. */
  name: z.string(),
  /** Whether it is being read, is read, or cannot be read. */
  state: takeStateSchema,
  /** Why it could not be read. */
  error: z.string().nullable(),
  /** What is known of it; null until that is read. */
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
export const takeNoteSchema = z.strictObject({
  /** What must go from it, in the user's words; at most 200 characters. */
  note: z.string().trim().max(200),
});
/** `null` goes back to what the file says. */
export const takeTurnSchema = z.strictObject({
  /** Degrees clockwise; null goes back to what the file says. */
  turned: takeInfoSchema.shape.turned.unwrap().nullable(),
});
export type Take = z.infer<typeof takeSchema>;
