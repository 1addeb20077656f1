import { spawnSync } from "node:child_process";

/** Runs ffmpeg with bytes in and bytes out: the outside judge of many tests. */
export function ffmpeg(args: string[], input?: Uint8Array): Buffer {
  const r = spawnSync("ffmpeg", ["-v", "error", "-nostdin", ...args], { input, maxBuffer: 1 << 30 });
  if (r.status !== 0) throw new Error(`ffmpeg ${args.join(" ")}: ${String(r.stderr)}`);
  return r.stdout;
}

/** All frames of a file, or each `every`-th from its first, decoded one after another, as raw bytes. */
export const decodeAll = (file: string, pixFmt: string, every = 1) => {
  const thinned = every > 1 ? ["-vf", `select=not(mod(n\\,${every}))`] : [];
  return ffmpeg(["-i", file, "-map", "0:v:0", ...thinned, "-fps_mode", "passthrough", "-pix_fmt", pixFmt, "-f", "rawvideo", "pipe:1"]);
};

export const ffprobe = (file: string, ...args: string[]): Record<string, unknown> =>
  JSON.parse(String(spawnSync("ffprobe", ["-v", "error", "-of", "json", ...args, file]).stdout)) as Record<string, unknown>;
