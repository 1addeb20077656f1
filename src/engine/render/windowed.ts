import { basename } from "node:path";
import { hasWindow, patchWindow, putWindow, takeWindow } from "../../core/compose/window";
import { turnOf } from "../../wire/take";
import { outputOf } from "../../core/document/recipe";
import { createFrame, frameBytes, isEmpty, type PixelFormat, type Rect } from "../../core/pixels/frame";
import { changed, opened, pieces, provenStart } from "../media/decode";
import { type Arguments, chain, ff, pair, word } from "../media/arguments";
import { steady } from "../media/ffmpeg";
import { isReadThrough } from "../media/listing";
import type { FrameStore } from "../media/frame-store";
import type { encoderArgs } from "./encoder";
import { composer } from "./composer";
import { type RenderSpec, stoppedRender } from "./spec";
import type { Watch } from "../watch";
import { soundArgs } from "./sound";
import { writeVideo } from "./write-video";

/** Above this share of the picture, a window saves nothing over the whole frame. */
const MOST = 0.6;

/** Pictures by which the windows handed to us are ahead of the picture that is encoded, so that mending one and encoding another go on side by side. */
const AHEAD = 4;

/** ffmpeg's name of the layout in which its overlay keeps samples as they are; null where it would convert them. */
function overlayFormat(f: PixelFormat): string | null {
  if (f.model === "rgb") return f.bits === 8 ? "gbrp" : null;
  if (f.model !== "yuv") return null;
  const name = f.subX ? (f.subY ? "yuv420" : "yuv422") : "yuv444";
  return f.bits === 8 ? name : null;
}

export interface Window {
  rect: Rect;
  format: string;
  /** How the take is opened, and how many of its pictures come before the first. */
  opened: Arguments;
  skip: number;
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
  const rect = patchWindow(spec.recipe, range.in, range.out, info.width, info.height, spec.pictures?.tracks);
  if (isEmpty(rect)) return null;
  const area = (rect.x1 - rect.x0) * (rect.y1 - rect.y0);
  if (area > MOST * info.width * info.height) return null;
  const begin = await provenStart(take, range.in);
  // a take that was only listed is decoded from its start: there every picture is known by its count
  if (!begin && isReadThrough(take)) return null;
  return { rect, format, ...(begin ? { opened: begin, skip: 0 } : { opened: opened(take, 0), skip: range.in }) };
}

/**
 * One ffmpeg decodes and encodes. Each picture is split within it: its window comes to us, the rest waits for what we give back, which is
 * laid over it, so that samples outside the window never pass through here. (At opaque 8 bits its overlay copies; the tests of rendering
 * hold it to the sample.) Two things keep it from waiting for itself: the window's raw encoder has one thread, since with more it holds
 * pictures back; and a blank window, cut off again, opens our input before the first picture is mended.
 */
export async function windowedVideo(
  spec: RenderSpec,
  { rect, format, opened: begin, skip }: Window,
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
  const rangeTag = info.tags.range ? ff`-color_range ${word(info.tags.range)}` : ff``;
  const late = sound.late ? ff`setpts=PTS+${sound.late}/TB` : null;
  // pictures are counted instead of timed, and their own tags are left behind: the encoder is told all that goes on
  const laid = ff`[0:v:0]trim=start_frame=${skip}:end_frame=${skip + total},format=${layout},setsar=0,setfield=prog,setparams=range=${word(info.tags.range ?? "unknown")}:color_primaries=unknown:color_trc=unknown:colorspace=unknown,settb=${info.rate[1]}/${info.rate[0]},setpts=N,split[early][whole];[early]setpts=N-${AHEAD},crop=${w}:${h}:${rect.x0}:${rect.y0}:exact=1[window];[1:v]trim=start_frame=1,setpts=PTS-STARTPTS[mended];[whole][mended]overlay=${rect.x0}:${rect.y0}:format=${word(format)}:eof_action=endall`;
  const graph = chain([laid, ...(late ? [late] : []), ...(enc.filters.length ? [enc.filters] : [])], word("out"));
  const work = composer(spec.recipe, spec.takes, store, spec.pictures);
  const ready = work.need(range.in); // while ffmpeg starts
  ready.catch(() => undefined);
  const what = `Rendering “${basename(take.path)}”`;
  await writeVideo(
    spec.out,
    (part) =>
      ff`-noautorotate ${begin}
         -probesize 32 -thread_queue_size 4 -f rawvideo -pix_fmt ${layout} -s ${pair([w, h], "x")} -r ${pair(info.rate)} ${rangeTag} -i pipe:0 ${sound.input}
         -filter_complex ${graph} -map [window] -threads 1 -fps_mode passthrough -avioflags direct -flush_packets 1 -f rawvideo pipe:1
         -map [out] ${enc.output} ${sound.output} ${part}`,
    hooks,
    async ({ child }) => {
      const picture = createFrame(info.width, info.height, info.format);
      const other = new Uint8Array(bytes);
      let n = range.in;
      // how many windows can be under way is up to ffmpeg, which waits for them: waiting for it here as well would be one too many
      const give = (window: Uint8Array) => child.stdin!.write(window);
      give(new Uint8Array(bytes));
      await ready;
      for await (const piece of pieces(steady(child, what, child.stdout as AsyncIterable<Buffer>, 4), bytes)) {
        if (hooks.signal?.aborted) throw stoppedRender();
        const was = work.sought.get(n);
        if (was) {
          takeWindow(was, rect, other);
          if (Buffer.compare(other, piece)) throw changed(take);
        }
        putWindow(picture, rect, piece);
        await work.frame(n, picture);
        takeWindow(picture, rect, piece);
        n++;
        hooks.progress?.(n - range.in, total);
        give(piece);
        if (n > range.out) child.stdin!.end(); // its own pictures may go on: it ends with ours
      }
      if (n <= range.out) throw changed(take);
    },
  );
  return [...enc.notes, ...sound.notes];
}
