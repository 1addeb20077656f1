import { execa } from "execa";
import { type ChildProcess, spawn } from "node:child_process";

/** The one place that starts ffmpeg and ffprobe: no shell, files and pipes only, no playlists. */
const NAMES = { ffmpeg: "FFMPEG_PATH", ffprobe: "FFPROBE_PATH" } as const;
type Program = keyof typeof NAMES;

const pathOf = (p: Program) => process.env[NAMES[p]] || p;

/** Containers that hold pictures themselves. Playlists, concat lists and scripts, which could open other files, are not among them. */
const CONTAINERS = "mov,matroska,webm,avi,mxf,mpegts,mpeg,mpegvideo,ogg,nut,yuv4mpegpipe,flv,asf,h264,hevc,m4v,dv,gif,ivf,obu,wav,mp3,aac,flac";

/** Options before `-i` for a file that came from outside. */
export const input = (path: string) => ["-protocol_whitelist", "file,pipe", "-format_whitelist", CONTAINERS, "-i", `file:${path}`];

/** A sentence for the user: what happened, why, what to do. */
export class MediaError extends Error {}

export function missing(p: Program): MediaError {
  return new MediaError(`${p} could not be started at “${pathOf(p)}”: install the Debian package ffmpeg, or set ${NAMES[p]} to where it is.`);
}

/** Runs to the end and returns what was printed. */
export async function run(p: Program, args: string[], timeoutMs = 60_000): Promise<string> {
  const r = await execa(pathOf(p), args, { reject: false, timeout: timeoutMs, stdin: "ignore", maxBuffer: 256 * 1024 * 1024 });
  if (r.exitCode === 0) return r.stdout;
  if (r.code === "ENOENT" || r.code === "EACCES") throw missing(p);
  if (r.timedOut) throw new MediaError(`${p} did not finish within ${timeoutMs / 1000} s and was stopped; the file may be damaged.`);
  throw new MediaError(lastLine(r.stderr));
}

export const lastLine = (text: string) =>
  text
    .split("\n")
    .map((l) => l.replace(/\[[^\]]*@ 0x[0-9a-f]+\]\s*/g, "").trim())
    .filter(Boolean)
    .at(-1) ?? "no reason was given";

/** Starts ffmpeg with pipes; `extra` more readable pipes follow from file descriptor 3. */
export function start(args: string[], stdin: "pipe" | "ignore", extra = 0): ChildProcess {
  return spawn(pathOf("ffmpeg"), ["-v", "error", "-nostdin", ...args], { stdio: [stdin, "pipe", "pipe", ...Array<"pipe">(extra).fill("pipe")] });
}

/** Resolves with what ffmpeg complained about when it has ended well; rejects with its reason otherwise. */
export function ended(child: ChildProcess, what: string): Promise<string> {
  let err = "";
  child.stderr?.on("data", (d: Buffer) => (err = (err + d).slice(-4000)));
  return new Promise((resolve, reject) => {
    child.on("error", (e: NodeJS.ErrnoException) => reject(e.code === "ENOENT" || e.code === "EACCES" ? missing("ffmpeg") : e));
    child.on("close", (code, signal) => {
      if (code === 0) resolve(err);
      else reject(new MediaError(`${what} failed: ${signal ? `ffmpeg was ended by ${signal}` : lastLine(err)}.`));
    });
  });
}
