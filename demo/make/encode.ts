import { spawn } from "node:child_process";
import { once } from "node:events";
import { rename, rm } from "node:fs/promises";

/** Feeds raw frames to ffmpeg; the file gets its name when it is whole. */
export async function encode(out: string, input: string[], output: string[], frames: AsyncIterable<Uint8Array>): Promise<void> {
  const part = out.replace(/(\.\w+)$/, ".part$1");
  const ff = spawn("ffmpeg", ["-v", "error", "-y", "-nostdin", ...input, ...output, "-fflags", "+bitexact", part], {
    stdio: ["pipe", "inherit", "inherit"],
  });
  const closed = once(ff, "close");
  for await (const f of frames) if (!ff.stdin.write(f)) await once(ff.stdin, "drain");
  ff.stdin.end();
  const [code] = (await closed) as [number];
  if (code !== 0) {
    await rm(part, { force: true });
    throw new Error(`ffmpeg could not write ${out}`);
  }
  await rename(part, out);
}

export const raw = (pixFmt: string, width: number, height: number, rate: string) => [
  "-f",
  "rawvideo",
  "-pix_fmt",
  pixFmt,
  "-s",
  `${width}x${height}`,
  "-r",
  rate,
  "-i",
  "pipe:0",
];

export const TAGS = [
  "-color_range",
  "tv",
  "-colorspace",
  "bt709",
  "-color_primaries",
  "bt709",
  "-color_trc",
  "bt709",
  "-chroma_sample_location",
  "left",
];
