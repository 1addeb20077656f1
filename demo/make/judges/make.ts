import { existsSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import { rgbToYcbcr } from "../../../src/core/pixels/colour";
import { random } from "../../../src/core/random";
import { encode, raw } from "../encode";
import { blur } from "../image";
import { intruderAt, type Stay } from "./intruders";
import { CODECS, type Judge, JUDGES } from "./list";
import { type Light, LIGHTS } from "./lights";
import { paintScene } from "./scenes";

export const SIZE = { width: 384, height: 216, frames: 48 } as const;

/** The intruder's stay: clean frames before and after it. */
export const stayOf = (j: Judge): Stay => ({ seed: j.seed, in: 16, out: 35, width: SIZE.width, height: SIZE.height });

export interface Made {
  film: string;
  /** What the camera would have written without the intruder, its noise and its codec. */
  clean: string;
  /** How much of each pixel the intruder and its shadow take, grey. */
  matte: string;
  format: string;
}

/** Makes a judge's film and its truth in a folder, unless it is there; the same bytes whenever it is made. */
export async function makeJudge(j: Judge, folder: string): Promise<Made> {
  const { width, height, frames } = SIZE;
  const codec = CODECS[j.codec];
  const made: Made = {
    film: join(folder, `${j.name}.${codec.end}`),
    clean: join(folder, `${j.name}-clean.mkv`),
    matte: join(folder, `${j.name}-matte.mkv`),
    format: codec.format,
  };
  if (existsSync(made.film) && existsSync(made.clean) && existsSync(made.matte)) return made;
  mkdirSync(folder, { recursive: true });
  const [sx, sy] = codec.format.includes("422") ? [1, 0] : [1, 1];
  const bits = codec.format.includes("10") ? 10 : 8;
  const range = codec.format.includes("j") ? "full" : "limited";
  const scene = paintScene(j.scene, j.seed, width, height);
  const light = LIGHTS[j.light](j.seed, width, height);
  const dark = j.name === "cellar" ? 0.35 : 1;
  const n = width * height;
  const films: Uint8Array[] = [];
  const cleans: Uint8Array[] = [];
  const mattes: Uint8Array[] = [];
  for (let f = 0; f < frames; f++) {
    const l = field(light(f));
    const seen = intruderAt(j.intruder, stayOf(j), f);
    const clean = new Float32Array(n * 3);
    const shown = new Float32Array(n * 3);
    const matte = new Uint8Array(n);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const a = seen?.alpha[i] ?? 0;
        const shade = seen?.shade?.[i] ?? 1;
        for (let k = 0; k < 3; k++) {
          const v = dark * l[i * 3 + k] * scene.data[i * 3 + k];
          clean[i * 3 + k] = v;
          shown[i * 3 + k] = (1 - a) * v * shade + a * dark * l[i * 3 + k] * (seen ? seen.colour[i * 3 + k] : 0);
        }
        matte[i] = Math.round(255 * Math.max(a, Math.min(1, (1 - shade) * 8)));
      }
    // a lens before the sensor: a little softness
    const [soft, softClean] = [shown, clean].map((d) => blur(d, width, height, 3, 0.5));
    films.push(codes(noisy(soft, j, f), { range, bits, sx, sy }));
    cleans.push(codes(softClean, { range, bits: 10, sx, sy }));
    mattes.push(matte);
  }
  const each = async function* (list: Uint8Array[]) {
    yield* list;
  };
  const tags = ["-color_range", range === "full" ? "pc" : "tv", "-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709"];
  const still = ["-threads", "1", ...tags];
  await encode(made.film, raw(codec.format, width, height, String(j.rate)), [...codec.args, "-pix_fmt", codec.format, ...still], each(films));
  const high = codec.format.replace("j", "").replace(/p(10le)?$/, "p10le");
  await encode(made.clean, raw(high, width, height, String(j.rate)), ["-c:v", "ffv1", ...still], each(cleans));
  await encode(made.matte, raw("gray", width, height, String(j.rate)), ["-c:v", "ffv1"], each(mattes));
  return made;
}

/** Makes all of them. */
export async function makeJudges(folder: string, report?: (line: string) => void): Promise<Map<string, Made>> {
  const out = new Map<string, Made>();
  for (const j of JUDGES) {
    out.set(j.name, await makeJudge(j, folder));
    report?.(`judge ${j.name}`);
  }
  return out;
}

/** A frame's light at every pixel: it is smooth, so it is asked for at every sixteenth and drawn straight between. */
function field(light: ReturnType<Light>): Float32Array {
  const { width, height } = SIZE;
  const STEP = 16;
  const out = new Float32Array(width * height * 3);
  for (let cy = 0; cy < height; cy += STEP)
    for (let cx = 0; cx < width; cx += STEP) {
      const [a, b, c, d] = [light(cx, cy), light(cx + STEP, cy), light(cx, cy + STEP), light(cx + STEP, cy + STEP)];
      for (let y = cy; y < Math.min(height, cy + STEP); y++)
        for (let x = cx; x < Math.min(width, cx + STEP); x++) {
          const [tx, ty] = [(x - cx) / STEP, (y - cy) / STEP];
          for (let k = 0; k < 3; k++) out[(y * width + x) * 3 + k] = (1 - ty) * (a[k] + tx * (b[k] - a[k])) + ty * (c[k] + tx * (d[k] - c[k]));
        }
    }
  return out;
}

/** Shot and read noise of R′, G′ and B′ each, as soft as the sensor's filter makes it: σ² rises with the level. */
function noisy(im: Float32Array, j: Judge, f: number): Float32Array {
  const { width, height } = SIZE;
  const rnd = random(j.seed * 1000 + f);
  const white = new Float32Array(im.length);
  for (let i = 0; i + 1 < white.length; i += 2) {
    // Box & Muller 1958
    const r = Math.sqrt(-2 * Math.log(1 - rnd()));
    const a = 2 * Math.PI * rnd();
    white[i] = r * Math.cos(a);
    white[i + 1] = r * Math.sin(a);
  }
  const grain = blur(white, width, height, 3, j.soft);
  let s = 0;
  for (const v of grain) s += v * v;
  const k = j.noise / 255 / Math.sqrt(s / grain.length);
  return im.map((v, i) => v + k * Math.sqrt(0.3 + 1.4 * Math.max(0, v)) * grain[i]);
}

/** Y′CbCr of BT.709, planes behind each other; chroma is a mean of what it stands for, sited left. */
function codes(im: Float32Array, o: { range: "limited" | "full"; bits: number; sx: number; sy: number }): Uint8Array {
  const { width, height } = SIZE;
  const full = [0, 1, 2].map(() => new Float32Array(width * height));
  const top = 2 ** o.bits - 1;
  for (let i = 0; i < width * height; i++) {
    const v = rgbToYcbcr(im[i * 3], im[i * 3 + 1], im[i * 3 + 2], { matrix: "bt709", range: o.range }, o.bits);
    for (let p = 0; p < 3; p++) full[p][i] = v[p];
  }
  const [cw, ch] = [width >> o.sx, height >> o.sy];
  const planes = full.map((src, p) => {
    if (!p) return src;
    const out = new Float32Array(cw * ch);
    for (let y = 0; y < ch; y++)
      for (let x = 0; x < cw; x++) {
        let s = 0;
        const rows = o.sy ? [2 * y, 2 * y + 1] : [y];
        for (const yy of rows) {
          const at = yy * width;
          s += 0.25 * src[at + Math.max(0, 2 * x - 1)] + 0.5 * src[at + 2 * x] + 0.25 * src[at + Math.min(width - 1, 2 * x + 1)];
        }
        out[y * cw + x] = s / rows.length;
      }
    return out;
  });
  const all = planes.reduce((s, p) => s + p.length, 0);
  const out = o.bits > 8 ? new Uint16Array(all) : new Uint8Array(all);
  let at = 0;
  for (const p of planes) {
    for (let i = 0; i < p.length; i++) out[at + i] = Math.min(top, Math.max(0, Math.round(p[i])));
    at += p.length;
  }
  return new Uint8Array(out.buffer);
}
