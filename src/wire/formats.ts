import type { TakeInfo } from "./take";

/** What can be delivered, in one table: for the render's settings, the command line, jobs and downloads. */
export interface Format {
  /** What it is called. */
  name: string;
  /** What it is, in a sentence beside the choice. */
  about: string;
  /** Whether it is written as numbered stills. */
  stills: boolean;
  /** The end of the file's name; of stills, of each. */
  extension: string;
  /** Ends of names it may be written to. */
  containers: readonly string[];
  /** Most bits of a sample it carries. */
  bits: number;
  /** Whether a constant rate factor sets its quality. */
  crf: boolean;
}

export const FORMATS = {
  h264: {
    name: "H.264",
    about: "MP4, with the take's sound, rate, timecode and colour tags.",
    stills: false,
    extension: ".mp4",
    containers: [".mp4", ".mov", ".mkv"],
    bits: 10,
    crf: true,
  },
  prores: {
    name: "ProRes",
    about: "MOV, 10 bits, 4:2:2 (4:4:4 where the take has it, or alpha). Other samples are converted, and that is said.",
    stills: false,
    extension: ".mov",
    containers: [".mov"],
    bits: 10,
    crf: false,
  },
  ffv1: {
    name: "FFV1, lossless",
    about: "MKV, lossless: what no patch touches is the take's own samples.",
    stills: false,
    extension: ".mkv",
    containers: [".mkv"],
    bits: 16,
    crf: false,
  },
  vp9: {
    name: "VP9",
    about: "WebM, with the sound as Opus.",
    stills: false,
    extension: ".webm",
    containers: [".webm", ".mkv"],
    bits: 12,
    crf: true,
  },
  png: {
    name: "PNG stills",
    about: "Numbered stills (16 bits where the take has more than 8), named by the take's frame numbers, as one zip.",
    stills: true,
    extension: ".png",
    containers: [".png"],
    bits: 16,
    crf: false,
  },
  tiff: {
    name: "TIFF stills",
    about: "Numbered stills, 16 bits, named by the take's frame numbers, as one zip.",
    stills: true,
    extension: ".tif",
    containers: [".tif", ".tiff"],
    bits: 16,
    crf: false,
  },
} as const satisfies Record<string, Format>;

export type Codec = keyof typeof FORMATS;
export const CODECS = Object.keys(FORMATS) as [Codec, ...Codec[]];
/** Codecs that are written as numbered stills, and those of films. */
export type Stills = { [C in Codec]: (typeof FORMATS)[C]["stills"] extends true ? C : never }[Codec];
export type Film = Exclude<Codec, Stills>;
export const isStills = (c: Codec): c is Stills => FORMATS[c].stills;

/** The name of a format in a sentence. */
export const shortName = (c: Codec): string => FORMATS[c].name.split(/,| /)[0];

/** How much work an encoder takes over a file's size. */
export const PRESETS = ["ultrafast", "superfast", "veryfast", "faster", "fast", "medium", "slow", "slower", "veryslow"] as const;

/** The kind of a file of film, by the end of its name. */
export const mediaType = (extension: string): string =>
  ({ ".mp4": "video/mp4", ".mov": "video/quicktime", ".webm": "video/webm" })[extension] ?? "video/x-matroska";

/** What of a take's samples a codec cannot carry, as the first half of a sentence; null when it carries them. */
export function cannotCarry(codec: Film, info: TakeInfo): string | null {
  const { format, width, height } = info;
  const name = shortName(codec);
  const { bits } = FORMATS[codec];
  if (codec === "ffv1") return null;
  if (format.model === "rgb") return `${name} as written here does not carry this take's R′G′B′ samples`;
  if (format.bits > bits) return `${name} as written here carries ${bits} bits and this take has ${format.bits}`;
  if (codec === "prores") return width % 2 ? `ProRes 4:2:2 needs an even width and this take is ${width}×${height}` : null;
  if (format.alpha) return `${name} does not carry this take's alpha`;
  if (codec === "vp9") return format.model === "gray" ? "VP9 does not carry grey alone" : null;
  const odd = (format.subX && width % 2) || (format.subY && height % 2);
  return odd ? `H.264 with ${format.subY ? "4:2:0" : "4:2:2"} needs an even picture size and this take is ${width}×${height}` : null;
}
