import { stat } from "node:fs/promises";
import { basename, extname } from "node:path";
import { assumedColour, type Colour, PRIMARIES, TRANSFERS } from "../../core/pixels/colour";
import { viewingSays } from "../../core/look/viewing";
import type { TakeInfo } from "../../wire/take";
import { ff } from "./arguments";
import { input, run } from "./ffmpeg";
import { MediaError } from "./media-error";
import { formatOf } from "./formats";
import type { Sequence } from "./sequence";

interface ProbeStream {
  index: number;
  codec_type: string;
  time_base?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  start_time?: string;
  duration?: string;
  nb_frames?: string;
  color_range?: string;
  color_space?: string;
  color_primaries?: string;
  color_transfer?: string;
  chroma_location?: string;
  sample_aspect_ratio?: string;
  field_order?: string;
  channels?: number;
  sample_rate?: string;
  disposition?: Record<string, number>;
  side_data_list?: { rotation?: number }[];
  tags?: Record<string, string>;
}

/** A name that is one of those we know; ffprobe's "unknown", and anything a damaged file makes it say, is none. */
const among = <T extends string>(names: readonly T[], v: string | undefined): T | undefined => names.find((n) => n === v);
const known = (v: string | undefined) => (v && !/^(unknown|unspecified|reserved)$/.test(v) ? v : undefined);

const MATRICES: Record<string, Colour["matrix"]> = { bt709: "bt709", smpte170m: "bt601", bt470bg: "bt601", bt2020nc: "bt2020" };
/** The tag that is written for a matrix. */
export const MATRIX_TAGS: Record<Colour["matrix"], string> = { bt709: "bt709", bt601: "smpte170m", bt2020: "bt2020nc" };
const SITINGS: Record<string, Colour["siting"]> = { left: "left", center: "center", topleft: "topleft" };

/** What a file says about itself; `expected` is how many frames it claims, which may be wrong. */
export type Probed = Omit<TakeInfo, "frames" | "variableRate"> & { expected: number | null };

/** A packet of a file's pictures as its container lists it. */
export interface Packet {
  /** When its picture is shown, in units of the stream's time base; of some containers not known. */
  pts?: number;
  /** ffprobe's letters: K a key picture, D decoded and not shown, C damaged. */
  flags: string;
}

/** What a container lists of its pictures. */
export interface Listed {
  packets: Packet[];
  timeBase: string | undefined;
  /** Seconds at which the file begins. */
  start: number;
}

/** Largest picture that is taken: 8K film with room to spare. A survey or a render holds some dozens of them. */
const MOST_PIXELS = 80e6;
const MOST_SIDE = 16_384;
/** Frames a second beyond which a file's own word is no rate. */
const MOST_RATE = 1000;

/** Longest time for reading what a file says; of a long film with all its packets. */
const PATIENCE = 60_000;
const PATIENCE_LISTED = 600_000;

/** Reads what a file says about itself, without decoding it. @throws MediaError in one sentence. */
export const probe = async (path: string, sequence?: Sequence): Promise<Probed> => (await probeAll(path, sequence, false)).probed;

/** The same, and what its container lists of its pictures. */
export const probeListed = (path: string): Promise<{ probed: Probed; listed: Listed }> => probeAll(path, undefined, true);

async function probeAll(path: string, sequence: Sequence | undefined, packets: boolean): Promise<{ probed: Probed; listed: Listed }> {
  const name = basename(path);
  if (path.includes("://") || /^(concat|subfile|data|pipe|crypto|tee|cache|async):/i.test(path)) {
    throw new MediaError(`“${path}” is an address, not a file: give the path of a video file on this machine.`);
  }
  if (!sequence) await assertFile(path, name);
  let streams: ProbeStream[];
  let tags: Record<string, string> | undefined;
  let duration: string | undefined;
  let listed: (Packet & { stream_index: number })[] = [];
  let begins = 0;
  try {
    const list = packets ? ff`-show_entries packet=stream_index,pts,flags` : ff``;
    const args = ff`-v error -of json=compact=1 -show_streams -show_format ${list} ${input(sequence ?? path)}`;
    const json = JSON.parse(await run("ffprobe", args, packets ? PATIENCE_LISTED : PATIENCE)) as {
      streams: ProbeStream[];
      format?: { tags?: Record<string, string>; duration?: string; start_time?: string };
      packets?: (Packet & { stream_index: number })[];
    };
    streams = json.streams;
    listed = json.packets ?? [];
    begins = Number(json.format?.start_time) || 0;
    duration = json.format?.duration;
    tags = json.format?.tags;
  } catch (e) {
    if (e instanceof MediaError && /could not be started|did not finish/.test(e.message)) throw e;
    const why = e instanceof Error ? e.message : "";
    if (/moov atom not found/.test(why) || (/Invalid data/.test(why) && (await looksLikeMovie(path)))) {
      throw new MediaError(`“${name}” is cut off or damaged (its index is missing): copy or export the file again.`);
    }
    throw new MediaError(
      `“${name}” is not a video file that can be read: it may be text, a playlist or an unknown format; give MP4, MOV, MKV, WebM, MXF or AVI.`,
    );
  }
  const video = streams.filter((s) => s.codec_type === "video" && !s.disposition?.attached_pic);
  const sound = streams.filter((s) => s.codec_type === "audio");
  if (video.length === 0) throw new MediaError(`“${name}” holds ${sound.length ? "only sound" : "no picture"}: give a file with moving pictures.`);
  const v = video[0];
  const layout = formatOf(v.pix_fmt ?? "");
  if (!v.width || !v.height || !v.pix_fmt)
    throw new MediaError(`“${name}” is cut off or damaged (its picture size cannot be read): copy or export the file again.`);
  if (v.width > MOST_SIDE || v.height > MOST_SIDE || v.width * v.height > MOST_PIXELS)
    throw new MediaError(
      `“${name}” measures ${v.width}×${v.height}; pictures of up to ${MOST_PIXELS / 1e6} megapixels and ${MOST_SIDE} pixels a side can be worked on: export it smaller.`,
    );
  if (!layout)
    throw new MediaError(`“${name}” has the sample layout ${v.pix_fmt}, which is not supported yet: export it as 4:2:0, 4:2:2, 4:4:4, RGB or grey.`);
  const assumed = assumedColour(v.height);
  const range = known(v.color_range) ?? (v.pix_fmt.startsWith("yuvj") ? "pc" : undefined);
  const matrix = known(v.color_space);
  const notes: string[] = [];
  if (!matrix && layout.format.model === "yuv") notes.push(`Its colour is untagged; it is read as BT.${assumed.matrix.slice(2)}, limited range.`);
  if (matrix && !MATRICES[matrix] && layout.format.model === "yuv")
    notes.push(`Its colour matrix “${matrix}” is shown as BT.${assumed.matrix.slice(2)}; samples are not changed.`);
  if (v.field_order && /^(tt|bb|tb|bt)$/.test(v.field_order)) notes.push("It is interlaced; its frames are treated as whole pictures.");
  if (video.length > 1) notes.push(`It holds ${video.length} pictures tracks; the first is used.`);
  const aspect = v.sample_aspect_ratio && !/^(0:1|1:1)$/.test(v.sample_aspect_ratio) ? v.sample_aspect_ratio : undefined;
  const flag = v.side_data_list?.find((x) => x.rotation !== undefined)?.rotation;
  const rotation = flag ? ((-flag % 360) + 360) % 360 || undefined : undefined;
  if (rotation)
    notes.push(
      `Its flag says that it stands turned by ${rotation}°: it is shown upright, its samples stay as they were recorded, and the flag goes on.`,
    );
  const tagged = {
    primaries: among(PRIMARIES, v.color_primaries) ?? assumed.primaries,
    transfer: among(TRANSFERS, v.color_transfer) ?? assumed.transfer,
  };
  const viewing = viewingSays(tagged);
  if (viewing) notes.push(`It is mixed in code values, and shown for this screen: ${viewing}.`);
  if (aspect) notes.push(`Its pixels are not square (${aspect}); the picture is shown as wide as it is meant to be seen, its samples stay.`);
  const timecode = streams.map((s) => s.tags?.timecode).find(Boolean) ?? tags?.timecode ?? null;
  const rate = sequence?.rate ?? rational(v.r_frame_rate) ?? rational(v.avg_frame_rate) ?? [25, 1];
  const probed: Probed = {
    width: v.width,
    height: v.height,
    rate,
    codec: v.codec_name ?? extname(path).slice(1),
    pixelFormat: v.pix_fmt,
    planar: layout.planar,
    decoded: layout.decoded,
    format: layout.format,
    colour: {
      matrix: (matrix && MATRICES[matrix]) || assumed.matrix,
      range: layout.format.model === "rgb" ? "full" : range === "pc" ? "full" : "limited",
      siting: SITINGS[known(v.chroma_location) ?? "left"] ?? "left",
      ...tagged,
    },
    tags: {
      range,
      matrix,
      primaries: among(PRIMARIES, v.color_primaries),
      transfer: among(TRANSFERS, v.color_transfer),
      siting: known(v.chroma_location),
      aspect,
      fieldOrder: known(v.field_order),
      rotation,
    },
    sound: sound.length
      ? {
          codec: sound[0].codec_name ?? "unknown",
          channels: sound[0].channels ?? 1,
          rate: Number(sound[0].sample_rate ?? 48000),
          tracks: sound.length,
        }
      : null,
    timecode,
    notes,
    expected: sequence?.count ?? claimed(v, rate, duration),
  };
  // what is decoded is the first stream of pictures, as it is everywhere
  return { probed, listed: { packets: listed.filter((p) => p.stream_index === v.index), timeBase: v.time_base, start: begins } };
}

async function assertFile(path: string, name: string): Promise<void> {
  const st = await stat(path).catch(() => null);
  if (!st) throw new MediaError(`“${name}” was not found: check the path, or whether the file was moved.`);
  if (!st.isFile()) throw new MediaError(`“${name}” is not a file: give a video file, or numbered stills by a name such as frames/####.png.`);
  if (st.size === 0) throw new MediaError(`“${name}” is empty (0 bytes): copy the file again from where it came.`);
}

/** Frames by the container's own count, else by its length and rate. */
function claimed(v: ProbeStream, rate: [number, number], duration: string | undefined): number | null {
  const n = Number(v.nb_frames) || Math.round((Number(v.duration ?? duration) * rate[0]) / rate[1]);
  return n > 0 ? n : null;
}

function rational(s: string | undefined): [number, number] | null {
  const m = /^(\d+)\/(\d+)$/.exec(s ?? "");
  if (!m) return null;
  const [num, den] = [Number(m[1]), Number(m[2])];
  return num > 0 && den > 0 && num / den <= MOST_RATE && num / den >= 1 / MOST_RATE ? [num, den] : null;
}

/** Whether a file begins like an MP4 or MOV, so that what is wrong with it is its end. */
async function looksLikeMovie(path: string): Promise<boolean> {
  const { open } = await import("node:fs/promises");
  const fh = await open(path);
  const { buffer } = await fh.read(Buffer.alloc(12), 0, 12, 0);
  await fh.close();
  return buffer.toString("latin1", 4, 8) === "ftyp";
}
