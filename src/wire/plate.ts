import { z } from "zod";
import { hashSchema, idSchema } from "./ids";
import { builtSchema, colourSchema } from "../recipe/schema";
import { pixelFormatSchema } from "./take";

/** What pages, web and engine say to each other about surveys, about where things are seen, and about plates. */

const frame = z.number().int().min(0).max(100_000_000);
const outline = z.array(z.array(z.number()).min(2).max(6)).min(3).max(20_000);
/** Made by the page: its progress is told under this name, and it is stopped by it. */
const task = z.string().min(8).max(64);

const alignment = z.tuple([z.number(), z.number(), z.number(), z.number()]);
export const surveySchema = z.object({
  /** Frames at which another scene begins. */
  cuts: z.array(z.number()),
  /** How the camera moves. */
  stillness: z.object({
    /** Stands; stands from a frame on; moves slowly; moves. */
    verdict: z.enum(["locked", "settles", "drifts", "moves"]),
    /** Farthest that anything is from its place, in pixels. */
    maxShift: z.number(),
    /** The frame from which it stands. */
    settledAt: z.number().optional(),
    /** For each frame how it lies on the first: shift to the right and down in pixels, turn in degrees clockwise, scale. */
    perFrame: z.array(alignment),
  }),
  /** How bright the take is, over time. */
  light: z.object({
    /** Slow change of light over the take, as a share. */
    drift: z.number(),
    /** Change of light from frame to frame, as a share. */
    flicker: z.number(),
    /** How far the light of parts of the picture moves beside that of the whole, as a share. */
    uneven: z.number().optional(),
    /** For each frame and plane gain and offset (8-bit code values) to the first. */
    perFrame: z.array(z.array(z.tuple([z.number(), z.number()]))),
  }),
  /** How strong noise is. */
  grain: z.object({
    /** Its standard deviation, in 8-bit code values. */
    sigma: z.number(),
    /** The same by brightness: level and σ, in 8-bit code values. */
    byLevel: z.array(z.tuple([z.number(), z.number()])),
    /** How alike neighbours are, across and down, −1 … 1. */
    correlation: z.tuple([z.number(), z.number()]),
  }),
  /** Black bars: how many pixels of each side. */
  bars: z.object({
    /** Pixels of the left side. */
    left: z.number(),
    /** Pixels of the upper side. */
    top: z.number(),
    /** Pixels of the right side. */
    right: z.number(),
    /** Pixels of the lower side. */
    bottom: z.number(),
    /** Width of their edge, in pixels. */
    soft: z.number(),
  }),
  /** The same for each scene, where there are several. */
  pieces: z
    .array(
      z.object({
        /** Its first frame. */
        from: z.number(),
        /** Its last frame. */
        to: z.number(),
        verdict: z.enum(["locked", "settles", "drifts", "moves"]),
        maxShift: z.number(),
        drift: z.number(),
        flicker: z.number(),
      }),
    )
    .optional(),
  /** Frames that repeat the one before. */
  duplicates: z.array(z.number()),
  /** Whether it is made of fields. */
  interlaced: z.object({
    /** Share of frames that look so, 0 … 1. */
    share: z.number(),
    /** Whether it is. */
    yes: z.boolean(),
  }),
});
export const surveyAnswerSchema = z.object({
  /** What was measured; null until that is done. */
  survey: surveySchema.nullable(),
  /** Where there is none yet: what is known of cuts and light. */
  first: surveySchema.pick({ cuts: true, light: true }).nullable(),
  /** Where there is none yet: how far it is, or why it failed. */
  state: z
    .union([
      z.object({
        /** Frames measured. */
        done: z.number(),
        /** Frames to be measured. */
        total: z.number(),
      }),
      z.object({
        /** Why it failed, in a sentence. */
        error: z.string(),
      }),
    ])
    .nullable(),
});
export type SurveyAnswer = z.infer<typeof surveyAnswerSchema>;

export const findRequestSchema = z.strictObject({
  /** The frame on which it is outlined. */
  at: frame,
  outline,
  task,
});
const place = z.array(z.number()).readonly();
export const seenSchema = z.object({
  /** Whether it is there all the time. */
  never: z.boolean(),
  /** First frame in which it is seen. */
  first: z.number(),
  /** Last frame in which it is seen. */
  last: z.number(),
  /** Frame in which most of it is seen. */
  worst: z.number(),
  /** What it covers in the frame in which most of it is seen, in take pixels. */
  box: z.object({
    /** Left edge. */
    x0: z.number(),
    /** Upper edge. */
    y0: z.number(),
    /** Right edge, just beyond. */
    x1: z.number(),
    /** Lower edge, just beyond. */
    y1: z.number(),
  }),
  /** For each frame of the shot how many pixels of it are seen. */
  area: z.array(z.number()),
  /** For each frame of the shot the outlines of what was found of it, in take pixels; none where it is not seen. */
  forms: z.array(z.array(z.array(place))),
  /** A loop round all of it on the frame it was outlined on, where it goes on beyond the outline. */
  whole: z.array(place).nullable(),
  /** By how many pixels it moves at most from where it was outlined. */
  moves: z.number(),
  /** Stretches, first and last frame, in which something else is where it was. */
  others: z.array(z.tuple([z.number(), z.number()])),
  /** Stretches in which it reaches beyond the outline. */
  beyond: z.array(z.tuple([z.number(), z.number()])),
  /** What it sits on moves with it: by how many pixels at most, within the frames in which that was looked at. */
  rides: z.object({ by: z.number(), in: z.number(), out: z.number() }).nullable(),
  /** Frames in which its place is clean, the best first. */
  clean: z.array(
    z.object({
      /** The frame. */
      frame: z.number(),
      /** How far its area is off the background there: 1 is the noise. */
      off: z.number(),
      /** Whether it comes before or after. */
      side: z.enum(["before", "after"]),
    }),
  ),
});
export type SeenAnswer = z.infer<typeof seenSchema>;

export const buildRequestSchema = z.strictObject({
  /** The take, by its name in the recipe. */
  take: z.string().min(1).max(100),
  /** What it is made of. */
  built: builtSchema,
  task,
});
const area = z.tuple([z.number(), z.number(), z.number(), z.number()]);
const runs = z.array(z.tuple([z.number(), z.number()]));
export const builtInfoSchema = z.object({
  /** The frame in whose place and light it is. */
  at: z.number(),
  /** The frames that were looked at. */
  frames: z.array(z.number()),
  /** Frames that give a part of the picture, with their share of it, 0 … 1, largest first. */
  used: z.array(z.tuple([z.number(), z.number()])),
  /** How the picture is divided. */
  grid: z.object({
    /** Cells across. */
    width: z.number(),
    /** Cells down. */
    height: z.number(),
    /** Size of a cell, in pixels. */
    cell: z.number(),
  }),
  /** For each cell, row by row, an index into `frames`, as runs: index, count. */
  labels: runs,
  /** Cells that were clean in no frame, as runs: 0 or 1, count. */
  never: runs,
  /** Cells in which two things are seen for a while each, as runs: 0 or 1, count. */
  doubt: runs,
  /** Rectangles round the cells that were never clean, in take pixels: x, y, width, height. */
  neverAreas: z.array(area),
  /** Rectangles round the cells in doubt, likewise. */
  doubtAreas: z.array(area),
  /** Whether it is the mean of all clean frames. */
  averaged: z.boolean(),
});
export type BuiltAnswer = z.infer<typeof builtInfoSchema>;

export const alignRequestSchema = z.strictObject({
  /** The other take, by its id. */
  take: idSchema,
  /** The shot's frame that is looked at. */
  at: frame,
  frame,
  /** Outlines that are left out, in take pixels. */
  avoid: z.array(outline).max(100),
  task,
});
export const alignedSchema = z.object({
  /** By how many pixels to the right. */
  x: z.number(),
  /** By how many pixels down. */
  y: z.number(),
  /** How much larger. */
  scale: z.number(),
  /** By how many degrees clockwise. */
  angle: z.number(),
  /** Gain and offset (8-bit code values) of each plane. */
  light: z.array(z.tuple([z.number(), z.number()])),
  /** Share of the picture that agrees then, 0 … 1. */
  agree: z.number(),
});
export type Aligned = z.infer<typeof alignedSchema>;

/** A colour from around an outline. */
export const colourRequestSchema = z.strictObject({ frame, outline });
export const colourAnswerSchema = colourSchema;

export const addPictureSchema = z.strictObject({
  /** What its file was called. */
  name: z.string().min(1).max(255),
  /** Where it lies on this machine. */
  path: z.string().min(1),
});
export const pictureAnswerSchema = z.object({
  /** The SHA-256 of its file: its name in recipes. */
  asset: z.string(),
  /** Pixels across. */
  width: z.number(),
  /** Pixels down. */
  height: z.number(),
  /** Whether any of it is transparent. */
  alpha: z.boolean(),
  /** What there is to say about it, in sentences. */
  notes: z.array(z.string()),
});

/** Which picture, and what of it makes a mask. */
export const maskQuerySchema = z.object({
  /** The picture, by the SHA-256 of its file. */
  asset: hashSchema,
  /** What of it is α. */
  use: z.enum(["alpha", "brightness"]),
});
export const maskHeadSchema = z.object({
  /** Values across. */
  width: z.number(),
  /** Values down. */
  height: z.number(),
});

const plateFileSchema = z.enum(["png8", "png16", "tiff16", "ora"]);
/** How a plate is written to be retouched elsewhere. */
export type PlateFile = z.infer<typeof plateFileSchema>;
export const outsideRequestSchema = z.strictObject({
  /** The plate, by its name in the recipe. */
  plate: z.string().min(1).max(100),
  /** The file it is written as. */
  kind: plateFileSchema,
  frame,
});
export const outsideEndSchema = z.strictObject({
  /** The plate, by its name in the recipe. */
  plate: z.string().min(1).max(100),
});
/** Where a plate lies that was written out to be retouched elsewhere. */
export const outsideAnswerSchema = z.object({
  /** Where it lies; null when it is not outside. */
  path: z.string().nullable(),
});

/** Size and layout of a picture whose planes follow as bytes. */
export const pictureHeadSchema = z.object({
  /** Samples across. */
  width: z.number(),
  /** Samples down. */
  height: z.number(),
  /** How they are laid out. */
  format: pixelFormatSchema,
});

/** A picture that is no frame, by the SHA-256 of its key: one that the shot uses. */
export const pictureQuerySchema = z.object({
  /** The SHA-256 of its key, in hexadecimal. */
  hash: hashSchema,
});
