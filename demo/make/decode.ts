import { execFileSync } from "node:child_process";

/** Frames `list` of a film, decoded by ffmpeg, one after another; Y′CbCr always in video range, whatever the film's. */
export function* frames(file: string, list: number[], pixFmt: string, bytes: number): Generator<Buffer> {
  // a few at a time, so that a long list of large frames does not fill the memory
  for (let i = 0; i < list.length; i += 8) {
    const part = list.slice(i, i + 8);
    const raw = execFileSync(
      "ffmpeg",
      [
        "-v",
        "error",
        "-nostdin",
        "-i",
        file,
        "-vf",
        `select='${part.map((n) => `eq(n,${n})`).join("+")}'${pixFmt.startsWith("yuv") ? ",scale=out_range=tv" : ""}`,
        "-fps_mode",
        "vfr",
        "-pix_fmt",
        pixFmt,
        "-f",
        "rawvideo",
        "pipe:1",
      ],
      { maxBuffer: 1 << 30 },
    );
    for (let k = 0; k < part.length; k++) yield raw.subarray(k * bytes, (k + 1) * bytes);
  }
}
