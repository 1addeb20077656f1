import { basename } from "node:path";
import type { Readable } from "node:stream";
import type { Plane } from "../../core/pixels/frame";
import { ff } from "../media/arguments";
import { cellBytes, toCells } from "../media/cells";
import { opened, pieces } from "../media/decode";
import { ended, keep, start, steady } from "../media/ffmpeg";
import type { TakeIndex } from "../media/index-file";
import { toLuma } from "../media/luma";
import { THUMB, toThumb } from "../media/thumbs";
import { Stopped } from "../watch";

/** What a survey looks at of a frame. */
export interface DecodedFrame {
  /** Its luma, in memory that threads share. */
  luma: Plane;
  /** Its cells: three planes of 16 bits. */
  cells: Uint16Array;
  /** A small picture in 8 bits. */
  thumb: Uint8Array;
}

/**
 * All frames of a take in order, each reduced in three ways by one decode. `give` takes back the room of a frame's luma, for a
 * later one to use.
 */
export function surveyFrames(t: TakeIndex, signal?: AbortSignal): { frames: AsyncGenerator<DecodedFrame>; give: (f: DecodedFrame) => void } {
  const { width, height, format } = t.info;
  const bytes = width * height * (format.bits > 8 ? 2 : 1);
  const free: SharedArrayBuffer[] = [];
  const room = () => new Uint8Array(free.pop() ?? new SharedArrayBuffer(bytes));
  async function* frames(): AsyncGenerator<DecodedFrame> {
    // raw pictures by one thread each: more would hold some back, and the three would no longer come together
    const raw = ff`-fps_mode passthrough -threads 1 -flush_packets 1 -f rawvideo`;
    const child = start(
      ff`-noautorotate ${opened(t, 0)} -map 0:v:0 -vf ${toLuma(t.info)} ${raw} pipe:1
         -map 0:v:0 -vf ${toCells(t.info)} ${raw} pipe:3 -map 0:v:0 -vf ${toThumb} ${raw} pipe:4`,
      "ignore",
      2,
    );
    const what = `Measuring “${basename(t.path)}”`;
    const done = ended(child, what);
    done.catch(() => undefined);
    const stop = () => child.kill("SIGKILL");
    signal?.addEventListener("abort", stop);
    const from = (stream: Readable, size: number, space?: () => Uint8Array) => pieces(steady(child, what, keep(stream)), size, space);
    const [luma, cells, thumbs] = [
      from(child.stdout!, bytes, room),
      from(child.stdio[3] as Readable, cellBytes(t.info)),
      from(child.stdio[4] as Readable, THUMB.width * THUMB.height),
    ];
    try {
      for (;;) {
        const [a, b, c] = await Promise.all([luma.next(), cells.next(), thumbs.next()]);
        if (a.done || b.done || c.done) break;
        const data = format.bits > 8 ? new Uint16Array(a.value.buffer) : a.value;
        yield { luma: { width, height, data }, cells: new Uint16Array(b.value.buffer), thumb: c.value };
      }
      if (signal?.aborted) throw new Stopped("Measuring was stopped.");
      await done;
    } finally {
      signal?.removeEventListener("abort", stop);
      stop();
    }
  }
  return { frames: frames(), give: (f) => void free.push(f.luma.data.buffer as SharedArrayBuffer) };
}
