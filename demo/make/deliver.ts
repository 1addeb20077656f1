import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { bytesOf } from "../../src/core/pixels/frame";
import { addNoise, quantise, throughLens, toVideo, VIDEO, VIDEO10 } from "./camera";
import { encode, raw, TAGS } from "./encode";
import type { Box, Image } from "./image";

/** What every take is made with. */
export interface Options {
  /** Where raw renders are kept, and where the take and its truth go. */
  raw: string;
  takes: string;
  truth: string;
  /** 160 pixels wide, coarse light, a few frames. */
  quick?: boolean;
  report?: (line: string) => void;
}

/** One frame of a take: what the lens saw, and the same moment without what must go. */
export interface Moment {
  frame: number;
  shown: Image;
  clean: Image;
  /** How much of a pixel each intruder covers, 0–1; none where it is out of the picture. */
  mattes: Record<string, Float32Array | null>;
  /** Of the light, against the take's normal. */
  gain?: number;
}

export interface Take {
  name: string;
  width: number;
  height: number;
  rate: [number, number];
  noise: number;
  seed: number;
  /** What is known beside the pictures, kept with the truth; asked for when every frame has been made. */
  truth: () => Record<string, unknown>;
  /** The intruder-free picture is kept within this box, at the take's normal light. */
  keep?: { box: Box; /** Not lossless, where water would make it too large: x264's quality. */ crf?: number };
  /** A light's dip that goes with an intruder, kept as how much it takes away. */
  shadow?: boolean | { crf: number };
  /** Names of what must go. */
  intruders: string[];
  sound?: string;
  timecode: string;
  bitrate?: string;
}

/** One after the other, the next begun while the last is worked on: tracing runs beside the generator. */
export async function* ahead<T>(jobs: (() => Promise<T>)[]): AsyncGenerator<T> {
  let next = jobs[0]?.();
  for (let i = 0; i < jobs.length; i++) {
    const now = await next;
    next = jobs[i + 1]?.();
    yield now;
  }
}

const quality = (crf?: number) => (crf === undefined ? ["-qp", "0"] : ["-crf", String(crf)]);

/** 4:2:0 has a colour sample for every second pixel. */
const toEven = (b: Box): Box => ({ x0: b.x0 & ~1, y0: b.y0 & ~1, x1: (b.x1 + 1) & ~1, y1: (b.y1 + 1) & ~1 });

const crop = (f: Uint16Array, width: number, b: Box, sub: number) => {
  const [x0, y0, x1, y1] = [b.x0 >> sub, b.y0 >> sub, b.x1 >> sub, b.y1 >> sub];
  const out = new Uint16Array((x1 - x0) * (y1 - y0));
  for (let y = y0; y < y1; y++) out.set(f.subarray(y * width + x0, y * width + x1), (y - y0) * (x1 - x0));
  return out;
};

/** Encodes a take as a camera would have, and beside it what is true about it. Frames are taken one at a time. */
export async function deliver(o: Options, t: Take, moments: AsyncIterable<Moment>): Promise<void> {
  const { width, height } = t;
  const kept = t.keep && toEven(t.keep.box);
  await mkdir(o.takes, { recursive: true });
  await mkdir(o.truth, { recursive: true });
  const list: Uint8Array[] = [];
  const truth: Uint8Array[] = [];
  const mattes: Record<string, Uint8Array[]> = Object.fromEntries(t.intruders.map((i) => [i, []]));
  const shadows: Uint8Array[] = [];
  const seen: Record<string, { frame: number; area: number }[]> = Object.fromEntries(t.intruders.map((i) => [i, []]));
  const gains: number[] = [];
  for await (const m of moments) {
    const gain = m.gain ?? 1;
    gains.push(Number(gain.toFixed(5)));
    const shown = toVideo(throughLens(m.shown), gain);
    const clean = toVideo(throughLens(m.clean));
    list.push(bytesOf(quantise(addNoise(shown, width, height, t.noise, t.seed + m.frame), width, height, VIDEO)));
    if (kept) {
      const q = quantise(clean, width, height, VIDEO10);
      const cw = (width + 1) >> 1;
      truth.push(
        Buffer.concat(
          q.planes.map((p, i) => {
            const c = crop(p.data as Uint16Array, i ? cw : width, kept, i ? 1 : 0);
            return new Uint8Array(c.buffer, c.byteOffset, c.byteLength);
          }),
        ),
      );
    }
    const covered = new Uint8Array(width * height);
    for (const name of t.intruders) {
      const a = m.mattes[name];
      const out = new Uint8Array(width * height);
      let area = 0;
      if (a)
        for (let i = 0; i < a.length; i++) {
          out[i] = Math.round(255 * Math.min(1, a[i]));
          if (out[i] > 127) area++;
          if (out[i]) covered[i] = 1;
        }
      mattes[name].push(out);
      if (area > 0.0002 * width * height) seen[name].push({ frame: m.frame, area });
    }
    if (t.shadow) {
      // how much of the light is taken away, ×4 so that a soft shadow can be read
      const sh = new Uint8Array(width * height);
      for (let i = 0; i < sh.length; i++) {
        const lit = (clean[0][i] - 16) * gain;
        sh[i] = covered[i] || lit < 8 ? 0 : Math.round(Math.min(255, Math.max(0, (1 - (shown[0][i] - 16) / lit) * 4 * 255)));
      }
      shadows.push(sh);
    }
    o.report?.(`${t.name}: frame ${m.frame}`);
  }
  const each = async function* (frames: Uint8Array[]) {
    yield* frames;
  };
  const rate = `${t.rate[0]}/${t.rate[1]}`;
  const seconds = (list.length * t.rate[1]) / t.rate[0];
  await encode(
    join(o.takes, `${t.name}.mp4`),
    [...raw("yuv420p", width, height, rate), ...(t.sound ? ["-f", "lavfi", "-i", `${t.sound}:d=${seconds}`] : [])],
    [
      ...["-c:v", "libx264", "-profile:v", "high", "-preset", "slow", "-b:v", t.bitrate ?? "8M", "-maxrate", "12M", "-bufsize", "8M"],
      ...["-pix_fmt", "yuv420p", "-threads", "1", ...TAGS],
      ...(t.sound ? ["-c:a", "aac", "-b:a", "128k"] : []),
      ...["-timecode", t.timecode, "-movflags", "+faststart"],
    ],
    each(list),
  );
  if (kept)
    await encode(
      join(o.truth, `${t.name}-clean.mkv`),
      raw("yuv420p10le", kept.x1 - kept.x0, kept.y1 - kept.y0, rate),
      ["-c:v", "libx264", ...quality(t.keep?.crf), "-preset", "slow", "-threads", "1", ...TAGS],
      each(truth),
    );
  const gray = (crf?: number) => ["-c:v", "libx264", ...quality(crf), "-preset", "slow", "-pix_fmt", "yuvj420p", "-threads", "1"];
  for (const name of t.intruders)
    await encode(join(o.truth, `${t.name}-matte-${name}.mkv`), raw("gray", width, height, rate), gray(), each(mattes[name]));
  if (t.shadow)
    await encode(
      join(o.truth, `${t.name}-shadow.mkv`),
      raw("gray", width, height, rate),
      gray(t.shadow === true ? undefined : t.shadow.crf),
      each(shadows),
    );
  const intruders = Object.fromEntries(
    t.intruders.map((i) => [
      i,
      { inView: seen[i].map((x) => x.frame), worst: seen[i].reduce((a, b) => (b.area > a.area ? b : a), seen[i][0])?.frame ?? null },
    ]),
  );
  const facts = {
    take: t.name,
    frames: list.length,
    width,
    height,
    rate: t.rate,
    ...(kept ? { clean: { x: kept.x0, y: kept.y0, width: kept.x1 - kept.x0, height: kept.y1 - kept.y0, frames: truth.length } } : {}),
    intruders,
    light: { gain: gains.every((g) => g === 1) ? 1 : gains },
    ...t.truth(),
    noise: { level: t.noise, note: "σ in 8-bit luma codes = level · (0.55 + 0.75·√((Y−16)/219)), before encoding" },
  };
  await writeFile(join(o.truth, `${t.name}.json`), JSON.stringify(facts) + "\n");
}
