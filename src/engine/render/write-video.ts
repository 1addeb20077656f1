import type { ChildProcess } from "node:child_process";
import { mkdir, open, rename, rm } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import type { Writable } from "node:stream";
import { type Arguments, ff, file, type Path } from "../media/arguments";
import { ended, patiently, start } from "../media/ffmpeg";
import { diskIsFull } from "../media/index-file";
import { stoppedRender } from "./spec";
import type { Watch } from "../watch";

/** ffmpeg under way, writing a part file: what feeds it its pictures. */
export interface Writing {
  child: ChildProcess;
  /** Waits until ffmpeg has taken what waits for it. False when it has ended. */
  write: (to: Writable, bytes: Uint8Array) => Promise<boolean>;
}

/**
 * Starts ffmpeg on a part file beside `out`, lets `feed` give it pictures, and gives the file its name when it is whole.
 */
export async function writeVideo(out: string, args: (part: Path) => Arguments, hooks: Watch, feed: (w: Writing) => Promise<void>): Promise<void> {
  await mkdir(dirname(out), { recursive: true });
  const part = join(dirname(out), `.${process.pid}.part.${basename(out)}`);
  const child = start(ff`-y ${args(file(part))}`, "pipe");
  const what = `Writing “${basename(out)}”`;
  const done = ended(child, what);
  let over = false;
  const end = done.then(
    () => (over = true),
    () => (over = true),
  );
  child.stdin!.on("error", () => undefined); // its reason comes with ffmpeg's end
  // at once, also where nothing comes any more that could be asked between two pictures
  const stop = () => child.kill("SIGKILL");
  hooks.signal?.addEventListener("abort", stop);
  try {
    await feed({
      child,
      async write(to, bytes) {
        if (over) return false;
        if (!to.write(bytes) && to.writableLength > 0)
          await patiently(child, what, Promise.race([new Promise((r) => to.once("drain", () => r(null))), end]), 4);
        return !over;
      },
    });
    child.stdin!.end();
    await patiently(child, what, done, 20); // a long film's index may be moved to its front
    if (hooks.signal?.aborted) throw stoppedRender();
    const written = await open(part, "r+");
    await written.sync().finally(() => written.close());
    await rename(part, out);
  } catch (e) {
    stop();
    // when ffmpeg ended first, its reason is the one that counts
    const reason = await done.then(
      () => e,
      (why: unknown) => (over && !hooks.signal?.aborted && !child.killed ? why : e),
    );
    const full = reason instanceof Error && /No space left on device/.test(reason.message);
    await rm(part, { force: true });
    throw hooks.signal?.aborted ? stoppedRender() : full ? diskIsFull() : reason;
  } finally {
    hooks.signal?.removeEventListener("abort", stop);
  }
}
