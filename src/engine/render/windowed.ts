import { basename } from "node:path";
import type { ChildProcess } from "node:child_process";
import type { Readable } from "node:stream";
import { hasWindow, patchWindow, putWindow, takeWindow } from "../../core/compose/window";
import { turnOf } from "../../wire/take";
import { outputOf } from "../../core/document/recipe";
import { createFrame, frameBytes, isEmpty, type PixelFormat, type Rect } from "../../core/pixels/frame";
import { changed, pieces, provenStart } from "../media/decode";
import { type Arguments, chain, ff, pair, word } from "../media/arguments";
import { ended, start, steady } from "../media/ffmpeg";
import type { FrameStore } from "../media/frame-store";
import type { encoderArgs } from "./encoder";
import { composer } from "./composer";
import { type RenderSpec, stoppedRender } from "./spec";
import type { Watch } from "../watch";
import { soundArgs } from "./sound";
import { writeVideo } from "./write-video";

/** Above this share of the picture, a window saves nothing over the whole frame. */
const MOST = 0.6;

/** Mended windows that may wait for the encoder. The decoder hands out windows and pictures in turn but not in step, so it must never wait for the encoder by way of us. */
const AHEAD = 8;

/** ffmpeg's name of the layout in which its overlay keeps samples as they are; null where it would convert them. */
function overlayFormat(f: PixelFormat): string | null {
  if (f.model === "rgb") return f.bits === 8 ? "gbrp" : null;
  if (f.model !== "yuv") return null;
  const name = f.subX ? (f.subY ? "yuv420" : "yuv422") : "yuv444";
  return f.bits === 8 ? name : null;
}

const rangeOf = (range?: string) => (range ? ff`-color_range ${word(range)}` : ff``);

export interface Window {
  rect: Rect;
  format: string;
  opened: Arguments;
}

/**
 * The window of a render, where its pictures can go straight from the decoder to the encoder and only the changed rectangle
 * has to pass through us: 8 bits at a constant rate, no turning flag, no alpha, and a rectangle well below the picture's size.
 */
export async function findWindow(spec: RenderSpec): Promise<Window | null> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const { info } = take;
  const format = overlayFormat(info.format);
  // full range would be taken to limited on the way into overlay
  if (info.format.model === "yuv" && info.colour.range === "full") return null;
  if (!format || info.variableRate || turnOf(info) || !hasWindow(info.width, info.height, info.format)) return null;
  const range = outputOf(spec.recipe);
  const rect = patchWindow(spec.recipe, range.in, range.out, info.width, info.height);
  if (isEmpty(rect)) return null;
  const area = (rect.x1 - rect.x0) * (rect.y1 - rect.y0);
  if (area > MOST * info.width * info.height) return null;
  const opened = await provenStart(take, range.in);
  return opened && { rect, format, opened };
}

/**
 * One ffmpeg decodes; its pictures go straight to a second one, and only their window comes to us. The second lays what we
 * give back over each picture and encodes it, so that samples outside the window never pass through here. (At opaque 8 bits
 * its overlay copies; the tests of rendering hold it to the sample. A single ffmpeg for both cannot work: it waits for its
 * encoder's first picture before it hands out the window that picture needs.)
 */
export async function windowedVideo(
  spec: RenderSpec,
  { rect, format, opened }: Window,
  enc: ReturnType<typeof encoderArgs>,
  store: FrameStore,
  hooks: Watch,
): Promise<string[]> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const { info } = take;
  const range = outputOf(spec.recipe);
  const total = range.out - range.in + 1;
  const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
  const bytes = frameBytes(w, h, info.format);
  const sound = soundArgs(take, range, spec.out, 2);
  const layout = word(info.planar);
  const raw = (width: number, height: number) =>
    ff`-probesize 32 -thread_queue_size 4 -f rawvideo -pix_fmt ${layout} -s ${pair([width, height], "x")} -r ${pair(info.rate)} ${rangeOf(info.tags.range)}`;
  const laid = ff`[0:v]trim=start_frame=1,setpts=PTS-STARTPTS[mended];[1:v][mended]overlay=${rect.x0}:${rect.y0}:format=${word(format)}:eof_action=endall`;
  const graph = chain(enc.filters.length ? [laid, enc.filters] : [laid], word("out"));

  const what = `Decoding “${basename(take.path)}”`;
  let decoder: ChildProcess | undefined;
  let decoded: Promise<unknown> = Promise.resolve();
  const decode = () => {
    const out = ff`-fps_mode passthrough -pix_fmt ${word(info.decoded ?? info.planar)} -frames:v ${total} -f rawvideo`;
    decoder = start(
      ff`-noautorotate ${opened} -filter_complex [0:v:0]split[a][whole];[a]crop=${w}:${h}:${rect.x0}:${rect.y0}:exact=1[window]
         -map [window] ${out} pipe:1 -map [whole] ${out} pipe:3`,
      "ignore",
      1,
    );
    decoded = ended(decoder, what);
    decoded.catch(() => undefined);
    return decoder.stdio[3] as Readable;
  };
  const work = composer(spec.recipe, spec.takes, store, spec.pictures);
  const ready = work.need(range.in); // while both programs start
  ready.catch(() => undefined);
  try {
    await writeVideo(
      spec.out,
      (part) =>
        ff`${sound.offset} ${raw(w, h)} -i pipe:0 ${raw(info.width, info.height)} -i pipe:3 ${sound.input}
           -filter_complex ${graph} -map [out] ${enc.output} ${sound.output} ${part}`,
      hooks,
      async ({ child, write }) => {
        const picture = createFrame(info.width, info.height, info.format);
        let n = range.in;
        // a blank window, cut off again, opens the encoder's first input: it must be free to read whole pictures before the first window is mended
        await write(child.stdin!, new Uint8Array(bytes), AHEAD * bytes);
        await ready;
        for await (const piece of pieces(steady(decoder!, what, decoder!.stdout as AsyncIterable<Buffer>, 4), bytes)) {
          if (hooks.signal?.aborted) throw stoppedRender();
          putWindow(picture, rect, piece);
          await work.frame(n, picture);
          takeWindow(picture, rect, piece);
          n++;
          hooks.progress?.(n - range.in, total);
          if (!(await write(child.stdin!, piece, AHEAD * bytes))) return;
        }
        await decoded;
        if (n <= range.out) throw changed(take);
      },
      decode,
    );
  } finally {
    decoder?.kill("SIGKILL");
  }
  return [...enc.notes, ...sound.notes];
}
