import { execFileSync } from "node:child_process";
import { mkdir, writeFile } from "node:fs/promises";
import { dirname } from "node:path";
import { random } from "../../src/core/random";
import { frames as decoded } from "./decode";
import { encode, raw, TAGS } from "./encode";
import { cutAt } from "./warp";

export interface Rough {
  /** Pixels the picture of each frame lies to the right and down. */
  shift: [number, number][];
  gain: number[];
}

/** What a hand and an automatic exposure do to frame `n`. */
function troubleAt(n: number, seed: number) {
  const k = random(seed);
  const [a, b, c] = [k() * 6, k() * 6, k() * 6];
  const shift: [number, number] = [
    1.6 * Math.sin(n / 5.1 + a) + 0.7 * Math.sin(n / 1.9 + b),
    1.2 * Math.sin(n / 6.3 + b) + 0.6 * Math.sin(n / 2.3 + c),
  ];
  return { shift, gain: 1 + 0.05 * Math.sin(n / 13 + c) + 0.015 * Math.sin(n / 4 + a) };
}

/**
 * Makes the rough form of a take: what a phone in a hand gives. Variable frame rate, about 4 Mbit/s, exposure that breathes, slight
 * shake. `frames` ends it early. What was done to it is written beside it.
 */
export async function makeRough(take: string, out: string, seed: number, frames = Infinity): Promise<Rough> {
  const probe = JSON.parse(
    String(
      execFileSync("ffprobe", [
        "-v",
        "error",
        "-of",
        "json",
        "-select_streams",
        "v:0",
        "-show_entries",
        "stream=width,height,r_frame_rate,nb_frames",
        take,
      ]),
    ),
  ) as { streams: { width: number; height: number; r_frame_rate: string; nb_frames: string }[] };
  const { width, height, r_frame_rate: rate, nb_frames } = probe.streams[0];
  const count = Math.min(frames, Number(nb_frames));
  const size = (width * height * 3) / 2;
  const list = Array.from({ length: count }, (_, n) => troubleAt(n, seed));
  await mkdir(dirname(out), { recursive: true });
  const made = async function* () {
    let n = 0;
    for (const f of decoded(take, [...list.keys()], "yuv420p", size)) yield roughFrame(f, width, height, list[n++]);
  };
  // every frame comes a little early or late, never out of order; 1000 ticks a frame
  const ticks = Number(rate.split("/")[0]) * 1000;
  const tick = `1/${ticks / Number(rate.split("/")[1])}`;
  const late = `settb=${tick},setpts='(N+0.25*sin(N*2.1)+0.2*sin(N*0.7))*1000'`;
  await encode(
    out,
    [...raw("yuv420p", width, height, rate)],
    [
      ...["-vf", late, "-fps_mode", "passthrough", "-enc_time_base", tick, "-video_track_timescale", String(ticks)],
      ...[
        "-c:v",
        "libx264",
        "-profile:v",
        "high",
        "-preset",
        "veryfast",
        "-b:v",
        "4M",
        "-maxrate",
        "6M",
        "-bufsize",
        "4M",
        "-pix_fmt",
        "yuv420p",
        "-threads",
        "1",
        ...TAGS,
      ],
      ...["-movflags", "+faststart"],
    ],
    made(),
  );
  const facts: Rough = {
    shift: list.map((t) => t.shift.map((v) => Number(v.toFixed(4))) as [number, number]),
    gain: list.map((t) => Number(t.gain.toFixed(5))),
  };
  await writeFile(out.replace(/\.\w+$/, ".json"), JSON.stringify(facts) + "\n");
  return facts;
}

/** A frame of 4:2:0 as the hand that shook and the exposure that breathed have it. */
export function roughFrame(f: Buffer, width: number, height: number, t: { shift: [number, number]; gain: number }): Uint8Array {
  const out = new Uint8Array(f.length);
  const [cw, ch] = [width / 2, height / 2];
  const plane = (from: number, w: number, h: number, k: number, middle: number) => {
    const moved = cutAt(Float32Array.from(f.subarray(from, from + w * h)), { width: w, height: h }, -t.shift[0] * k, -t.shift[1] * k, w, h, 1);
    for (let i = 0; i < w * h; i++) out[from + i] = Math.min(255, Math.max(0, Math.round(middle + (moved[i] - middle) * t.gain)));
  };
  plane(0, width, height, 1, 16);
  plane(width * height, cw, ch, 0.5, 128);
  plane(width * height * 1.25, cw, ch, 0.5, 128);
  return out;
}
