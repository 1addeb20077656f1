import { mkdir, rename, rm } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import type { ChildProcess } from "node:child_process";
import type { Readable, Writable } from "node:stream";
import { outputOf } from "../../core/document";
import { bytesOf } from "../../core/pixels/frame";
import { ended, patiently, start } from "../media/ffmpeg";
import type { FrameStore } from "../media/frame-store";
import { diskIsFull, secondsAt } from "../media/index-file";
import { packBgra } from "../media/packed";
import { encoderArgs } from "./encoder";
import { INTERLEAVED } from "./layout";
import { composed, type RenderHooks, type RenderSpec, Stopped } from "./render";
import { soundArgs } from "./sound";
import { timedHeader, timedPrefix } from "./timed-raw";
import { findWindow, windowedVideo } from "./windowed";

/** ffmpeg under way, writing a part file: what feeds it its pictures. */
export interface Writing {
  ff: ChildProcess;
  /** Waits while more than `ahead` bytes wait for ffmpeg. False when it has ended. */
  write: (to: Writable, bytes: Uint8Array, ahead?: number) => Promise<boolean>;
}

/** Starts ffmpeg on a part file beside `out`, lets `feed` give it pictures, and gives the file its name when it is whole. `also` becomes its pipe:3. */
export async function writeVideo(
  out: string,
  args: (part: string) => string[],
  hooks: RenderHooks,
  feed: (w: Writing) => Promise<void>,
  also: Readable | 0 = 0,
): Promise<void> {
  await mkdir(dirname(out), { recursive: true });
  const part = join(dirname(out), `.${process.pid}.part.${basename(out)}`);
  const ff = start(["-y", ...args(part)], "pipe", also);
  const what = `Writing “${basename(out)}”`;
  const done = ended(ff, what);
  let over = false;
  const end = done.then(
    () => (over = true),
    () => (over = true),
  );
  ff.stdin!.on("error", () => undefined); // its reason comes with ffmpeg's end
  try {
    await feed({
      ff,
      async write(to, bytes, ahead = 0) {
        if (over) return false;
        if (!to.write(bytes) && to.writableLength > ahead)
          await patiently(ff, what, Promise.race([new Promise((r) => to.once("drain", () => r(null))), end]), 4);
        return !over;
      },
    });
    ff.stdin!.end();
    await patiently(ff, what, done, 20); // a long film's index may be moved to its front
    if (hooks.signal?.aborted) throw new Stopped();
    await rename(part, out);
  } catch (e) {
    ff.kill("SIGKILL");
    // when ffmpeg ended first, its reason is the one that counts
    const reason = await done.then(
      () => e,
      (why: unknown) => (over && !hooks.signal?.aborted && !ff.killed ? why : e),
    );
    const full = reason instanceof Error && /No space left on device/.test(reason.message);
    await rm(part, { force: true });
    throw full ? diskIsFull() : reason;
  }
}

/** Renders to a video file: by the window that changes where that is possible, else frame by frame through us. */
export async function renderVideo(spec: RenderSpec, store: FrameStore, hooks: RenderHooks): Promise<string[]> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const range = outputOf(spec.recipe);
  const enc = encoderArgs(spec, take, range);
  const window = await findWindow(spec);
  if (window) return windowedVideo(spec, window, enc, store, hooks);
  const sound = soundArgs(take, range, spec.out, 1);
  await writeVideo(
    spec.out,
    (part) => [...sound.offset, ...enc.input, "-i", "pipe:0", ...sound.input, "-map", "0:v:0", ...enc.output, ...sound.output, part],
    hooks,
    async ({ ff, write }) => {
      const { info } = take;
      const to = ff.stdin!;
      if (info.variableRate) await write(to, timedHeader(info.width, info.height, info.format));
      for await (const { n, frame } of composed(spec, store, hooks)) {
        const bytes = spec.codec === "ffv1" && info.planar in INTERLEAVED ? packBgra(bytesOf(frame)) : bytesOf(frame);
        if (info.variableRate && !(await write(to, timedPrefix(secondsAt(take, n) - secondsAt(take, range.in), bytes.length)))) break;
        if (!(await write(to, bytes))) break;
      }
    },
  );
  return [...enc.notes, ...sound.notes];
}
