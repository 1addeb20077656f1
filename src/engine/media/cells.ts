import { open, stat } from "node:fs/promises";
import { basename, join } from "node:path";
import { gridSize } from "../../core/plate/cells";
import type { TakeInfo } from "../../wire/take";
import { type Arguments, ff } from "./arguments";
import { changed, opened, pieces, provenStart } from "./decode";
import { ended, start, steady } from "./ffmpeg";
import type { TakeIndex } from "./index-file";

/** Cells of a take, kept beside its index: frame after frame, three planes of 16 bits. */
export const CELL_FILE = "cells.raw";
/** Only so many frames are kept; the rest is decoded when it is asked for. */
export const CELL_FRAMES = 1500;

type Look = Pick<TakeInfo, "width" | "height" | "format">;

/** The filter that reduces a frame to cells by area averaging: 4:4:4, 16 bits, code values times 256. */
export function toCells(t: Look): Arguments {
  const { width, height } = gridSize(t.width, t.height);
  return t.format.model === "yuv"
    ? ff`scale=${width}:${height}:flags=area,format=yuv444p16le`
    : ff`scale=${width}:${height}:flags=area:out_color_matrix=bt709:out_range=pc,format=yuv444p16le`;
}

/** Whether the cells of all frames of a take were kept in `folder`. */
export async function keptCells(t: TakeIndex, folder: string): Promise<boolean> {
  const kept = await stat(join(folder, CELL_FILE)).catch(() => null);
  return kept !== null && kept.size >= t.info.frames * cellBytes(t.info);
}

/** Bytes of one frame's cells: three planes of 16 bits. */
export function cellBytes(t: Pick<Look, "width" | "height">): number {
  const { width, height } = gridSize(t.width, t.height);
  return width * height * 6;
}

/** Frames `from` … `to` as cells, from what was kept in `folder` or else decoded. */
export async function* cellPlanes(t: TakeIndex, from: number, to: number, folder: string | null): AsyncGenerator<Uint16Array> {
  const size = cellBytes(t.info);
  const kept = folder && to < CELL_FRAMES ? await open(join(folder, CELL_FILE)).catch(() => null) : null;
  if (kept)
    try {
      if ((await kept.stat()).size >= (to + 1) * size) {
        for (let n = from; n <= to; n++) {
          const b = new Uint8Array(size);
          await kept.read(b, 0, size, n * size);
          yield new Uint16Array(b.buffer);
        }
        return;
      }
    } finally {
      await kept.close();
    }
  yield* decoded(t, from, to, size);
}

async function* decoded(t: TakeIndex, from: number, to: number, size: number): AsyncGenerator<Uint16Array> {
  const begin = await provenStart(t, from);
  const frames = (begin ? 0 : from) + to - from + 1;
  const child = start(
    ff`-noautorotate ${begin ?? opened(t, 0)} -map 0:v:0 -fps_mode passthrough -vf ${toCells(t.info)} -frames:v ${frames} -f rawvideo pipe:1`,
    "ignore",
  );
  const what = `Measuring “${basename(t.path)}”`;
  const done = ended(child, what);
  done.catch(() => undefined);
  let n = begin ? from : 0;
  try {
    for await (const b of pieces(steady(child, what, child.stdout as AsyncIterable<Buffer>), size)) {
      if (n >= from) yield new Uint16Array(b.buffer, b.byteOffset, size / 2);
      n++;
    }
    await done;
  } finally {
    child.kill("SIGKILL");
  }
  if (n <= to) throw changed(t);
}
