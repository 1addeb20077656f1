import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { bytesOf } from "../../src/core/pixels/frame";
import { addNoise, quantise, throughLens, toVideo, VIDEO, VIDEO10 } from "./camera";
import { encode, raw, TAGS } from "./encode";
import { average, copyImage, paste, readImage, type Box, type Image } from "./image";
import { drawMap, trace } from "./pov";

export const NOISE = 1.25;
const FRAMES = 96;
const smooth = (a: number, b: number, t: number) => {
  const u = Math.min(1, Math.max(0, (t - a) / (b - a)));
  return u * u * (3 - 2 * u);
};

/** Where the boom hangs at time `t` (frames), or null while it is out of the picture. */
function boomAt(t: number): { BX: number; BY: number } | null {
  if (t < 29.5 || t > 71) return null;
  const down = smooth(29.5, 40, t) * (1 - smooth(60, 71, t));
  return { BX: 0.34 - 0.17 * down + 0.012 * Math.sin(t / 5), BY: 2.66 - 0.37 * down + 0.008 * Math.sin(t / 3.3 + 1) };
}
const moving = (n: number) => n < 40 || n > 60;
const clockAt = (n: number) => Math.floor(n / 24) - (n % 24 === 0 && n > 0 ? 0.45 : 0);
const signAt = (n: number) => 3.4 * Math.sin((2 * Math.PI * n) / 41 + 0.6) * Math.exp(-n / 160);

export interface Options {
  /** Where raw renders are kept, and where the take and its truth go. */
  raw: string;
  takes: string;
  truth: string;
  /** 160×90, no radiosity, two frames. */
  quick?: boolean;
  report?: (line: string) => void;
}

/** Makes the take `hall`: the film as the camera saw it, and what is true about it. */
export async function makeHall(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1280;
  const height = o.quick ? 90 : 720;
  const s = width / 1280;
  const box = (x0: number, y0: number, x1: number, y1: number): Box => ({
    x0: Math.floor(x0 * s),
    y0: Math.floor(y0 * s),
    x1: Math.ceil(x1 * s),
    y1: Math.ceil(y1 * s),
  });
  const R = { boom: box(380, 0, 1016, 410), clock: box(730, 112, 872, 254), sign: box(1016, 200, 1150, 330) };
  const list = o.quick ? [0, 50] : Array.from({ length: FRAMES }, (_, i) => i);
  await mkdir(o.takes, { recursive: true });
  await mkdir(o.truth, { recursive: true });
  for (const m of ["hall-slip", "hall-sign"]) await drawMap(m, o.raw);
  const rad = join(o.raw, "hall.rad");
  const shot = (name: string, declare: Record<string, number>, rect?: Box, mode: "save" | "load" = "load") => {
    const out = join(o.raw, `${name}.png`);
    return trace({
      scene: "hall.pov",
      width,
      height,
      rect,
      declare: { QUICK: o.quick ? 1 : 0, ...declare },
      radiosity: o.quick ? undefined : { file: rad, mode },
      out,
    }).then(() => out);
  };

  const base = await readImage(await shot("base", { CLOCK: 0, SIGN: signAt(0) }, undefined, "save"));
  const clean = async (n: number): Promise<Image> => {
    const im = copyImage(base);
    paste(im, await readImage(await shot(`clock-${clockAt(n).toFixed(2)}`, { CLOCK: clockAt(n), SIGN: 0 }, R.clock)), R.clock);
    paste(im, await readImage(await shot(`sign-${n}`, { SIGN: signAt(n) }, R.sign)), R.sign);
    return im;
  };
  const withBoom = async (n: number, under: Image): Promise<{ picture: Image; matte: Image | null }> => {
    const times = moving(n) ? [n, n + 0.3] : [n];
    const pictures: Image[] = [];
    const mattes: Image[] = [];
    for (const t of times) {
      const at = boomAt(t);
      const im = copyImage(under);
      if (at) {
        paste(im, await readImage(await shot(`boom-${t.toFixed(1)}`, { BOOM: 1, CLOCK: clockAt(n), ...at }, R.boom)), R.boom);
        mattes.push(await readImage(await shot(`matte-${t.toFixed(1)}`, { BOOM: 1, BOOMONLY: 1, ...at })));
      }
      pictures.push(im);
    }
    while (mattes.length && mattes.length < times.length) mattes.push({ ...mattes[0], data: new Float32Array(mattes[0].data.length) });
    return { picture: average(pictures), matte: mattes.length ? average(mattes) : null };
  };

  const take: Uint8Array[] = [];
  const truth: Uint8Array[] = [];
  const matte: Uint8Array[] = [];
  const shadow: Uint8Array[] = [];
  const seen: { frame: number; area: number }[] = [];
  for (const n of list) {
    const under = await clean(n);
    const shown = await withBoom(n, under);
    const cleanVideo = toVideo(throughLens(under));
    const shownVideo = toVideo(throughLens(shown.picture));
    take.push(bytesOf(quantise(addNoise(shownVideo, width, height, NOISE, 7000 + n), width, height, VIDEO)));
    truth.push(bytesOf(quantise(cleanVideo, width, height, VIDEO10)));
    const m = new Uint8Array(width * height);
    const sh = new Uint8Array(width * height);
    let area = 0;
    for (let i = 0; i < m.length; i++) {
      m[i] = shown.matte ? Math.round(255 * Math.min(1, shown.matte.data[i * 3])) : 0;
      if (m[i] > 127) area++;
      // how much of the light the shadow takes away, ×4 so that a soft one can be read
      sh[i] = m[i] ? 0 : Math.round(Math.min(255, Math.max(0, (1 - (shownVideo[0][i] - 16) / (cleanVideo[0][i] - 16 || 1)) * 4 * 255)));
    }
    matte.push(m);
    shadow.push(sh);
    if (area > 0.0002 * width * height) seen.push({ frame: n, area });
    o.report?.(`hall: frame ${n + 1} of ${list.length}`);
  }
  const each = async function* (frames: Uint8Array[]) {
    yield* frames;
  };
  const seconds = list.length / 24;
  const sound = [
    "-f",
    "lavfi",
    "-i",
    `aevalsrc=0.10*exp(-90*mod(t\\,1))*sin(2*PI*1850*t)+0.012*sin(2*PI*50*t)+0.02*(random(0)-0.5)|0.08*exp(-90*mod(t\\,1))*sin(2*PI*1850*t)+0.012*sin(2*PI*50*t)+0.02*(random(1)-0.5):s=48000:d=${seconds}`,
  ];
  await encode(
    join(o.takes, "hall.mp4"),
    [...raw("yuv420p", width, height, "24"), ...sound],
    [
      "-c:v",
      "libx264",
      "-profile:v",
      "high",
      "-preset",
      "slow",
      "-b:v",
      "8M",
      "-maxrate",
      "12M",
      "-bufsize",
      "8M",
      "-pix_fmt",
      "yuv420p",
      "-threads",
      "1",
      ...TAGS,
      "-c:a",
      "aac",
      "-b:a",
      "128k",
      "-timecode",
      "10:04:20:00",
      "-movflags",
      "+faststart",
    ],
    each(take),
  );
  await encode(
    join(o.truth, "hall-clean.mkv"),
    raw("yuv420p10le", width, height, "24"),
    ["-c:v", "libx264", "-qp", "0", "-preset", "slow", "-threads", "1", ...TAGS],
    each(truth),
  );
  await encode(join(o.truth, "hall-matte.mkv"), raw("gray", width, height, "24"), ["-c:v", "ffv1", "-level", "3", "-threads", "1"], each(matte));
  await encode(join(o.truth, "hall-shadow.mkv"), raw("gray", width, height, "24"), ["-c:v", "ffv1", "-level", "3", "-threads", "1"], each(shadow));
  await writeFile(
    join(o.truth, "hall.json"),
    JSON.stringify(
      {
        take: "hall",
        frames: list.length,
        width,
        height,
        rate: [24, 1],
        intruders: { boom: { inView: seen.map((x) => x.frame), worst: seen.reduce((a, b) => (b.area > a.area ? b : a), seen[0])?.frame ?? null } },
        stillness: { maxShift: 0 },
        light: { gain: 1 },
        noise: { level: NOISE, note: "σ in 8-bit luma codes = level · (0.55 + 0.75·√((Y−16)/219)), before encoding" },
      },
      null,
      2,
    ) + "\n",
  );
}
