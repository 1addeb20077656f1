import { execa } from "execa";
import { type ChildProcess, spawn } from "node:child_process";
import type { Readable } from "node:stream";
import { type Arguments, ff, file, joined, spelled } from "./arguments";
import { MediaError } from "./media-error";
import { type Sequence, sequenceInput } from "./sequence";

/** The one place that starts ffmpeg and ffprobe: no shell, files and pipes only, no playlists. */
const NAMES = { ffmpeg: "FFMPEG_PATH", ffprobe: "FFPROBE_PATH" } as const;
type Program = keyof typeof NAMES;

const pathOf = (p: Program) => process.env[NAMES[p]] || p;

/** What of our environment the programs get: where programs, libraries and temporary files are, and nothing that is secret. */
const PASSED = ["PATH", "HOME", "TMPDIR", "LANG", "LC_ALL", "LD_LIBRARY_PATH", "SystemRoot"];
const bare = (): NodeJS.ProcessEnv => ({
  NODE_ENV: process.env.NODE_ENV,
  ...Object.fromEntries(PASSED.flatMap((k) => (process.env[k] === undefined ? [] : [[k, process.env[k]]]))),
});

/** The largest block of memory either program may ask for at once, in bytes: four pictures of the largest size we take, whatever a file claims. */
const BLOCK = 1 << 30;
const LIMITS = ff`-max_alloc ${BLOCK}`;

/** Containers that hold pictures themselves. Playlists, concat lists and scripts, which could open other files, are not among them. */
const CONTAINERS = ff`-format_whitelist mov,matroska,webm,avi,mxf,mpegts,mpeg,mpegvideo,ogg,nut,yuv4mpegpipe,flv,asf,h264,hevc,m4v,dv,gif,ivf,obu,wav,mp3,aac,flac`;

/** Options that open what came from outside: a file, or stills from number `from`. */
export const input = (source: string | Sequence, from = 0): Arguments =>
  typeof source === "string" ? ff`-protocol_whitelist file,pipe ${CONTAINERS} -i ${file(source)}` : sequenceInput(source, from);

export function missing(p: Program): MediaError {
  return new MediaError(`${p} could not be started at “${pathOf(p)}”: install the Debian package ffmpeg, or set ${NAMES[p]} to where it is.`);
}

/** Runs to the end and returns what was printed. */
export async function run(p: Program, args: Arguments, timeoutMs = 60_000): Promise<string> {
  const r = await execa(pathOf(p), spelled(joined(LIMITS, args)), {
    reject: false,
    env: bare(),
    extendEnv: false,
    timeout: timeoutMs,
    stdin: "ignore",
    maxBuffer: 256 * 1024 * 1024,
  });
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

/** Starts ffmpeg with pipes. From file descriptor 3 follow `extra` more readable pipes. */
export function start(args: Arguments, stdin: "pipe" | "ignore", extra = 0): ChildProcess {
  const more = Array<"pipe">(extra).fill("pipe");
  const child = spawn(pathOf("ffmpeg"), spelled(joined(ff`-v error -nostdin`, LIMITS, args)), {
    stdio: [stdin, "pipe", "pipe", ...more],
    env: bare(),
  });
  keep(child.stdout!);
  return child;
}

/**
 * Keeps what a stream has until somebody reads it. Node throws away what a process has written when it ends before anybody has
 * begun to read, which a quick decoder does on a busy machine.
 */
export const keep = (stream: Readable): Readable => stream.on("readable", () => undefined);

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

/** Seconds without a sign of work after which ffmpeg counts as hanging. */
const STALL = Number(process.env.UMBER_STALL ?? 120);

/**
 * Waits for something ffmpeg has to do; `times` STALL seconds at most, then it is killed.
 * @throws MediaError when it did nothing for that long
 */
export async function patiently<T>(child: ChildProcess, what: string, wait: Promise<T>, times = 1): Promise<T> {
  const seconds = STALL * times;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, no) => {
    timer = setTimeout(() => {
      child.kill("SIGKILL");
      no(new MediaError(`${what} was stopped: ffmpeg did nothing for ${seconds} s; the file may be damaged or its disk gone, try again.`));
    }, seconds * 1000);
  });
  try {
    return await Promise.race([wait, late]);
  } finally {
    clearTimeout(timer);
  }
}

/** What a stream of ffmpeg gives, with patience for each part. */
export async function* steady(child: ChildProcess, what: string, stream: AsyncIterable<Buffer>, times = 1): AsyncGenerator<Buffer> {
  const parts = stream[Symbol.asyncIterator]();
  try {
    for (;;) {
      const part = await patiently(child, what, parts.next(), times);
      if (part.done) return;
      yield part.value;
    }
  } finally {
    void parts.return?.();
  }
}
