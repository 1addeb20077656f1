/** Demo takes mended by the recipes kept beside them, against the truth, and against three outside ways of doing it. */
import { cpSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { maskOf } from "../../src/core/document/recipe";
import type { PatchLayer } from "../../src/core/document/layer";
import type { Recipe } from "../../src/core/document/recipe";
import { intersect, union, type Rect } from "../../src/core/pixels/frame";
import { readMeasured } from "../../src/engine/render/measured";
import { maskMatte } from "../../src/core/shape/mask";
import { over } from "../../src/core/shape/matte";
import { cli, file, root, type Row } from "../measure";
import { type Areas, areasOf, groundOf, judge, movingGrain, noiseOf, type Figures, type Ground } from "./figures";
import { delogo, inpaint } from "./rivals";
import { judged } from "./judges";
import { matched } from "./matched";
import { type Known, pictures, Truth, type Picture } from "./truth";

/** Frames that are measured, spread over the mended stretch. */
const FRAMES = 8;
/** Frames from which it is known how much noise the take itself has where it is mended. */
const GROUND = 8;
/** Takes whose recipe takes a thing away only where it stands on still ground: what is left of it is counted there. */
const IN_PART = new Set(["letter", "quay"]);
/** Room round the mask, in which the noise is compared. */
const ROOM = 40;
const WAYS = ["Umber Moth", "no mending", "ffmpeg delogo", "OpenCV inpaint"] as const;
type Way = (typeof WAYS)[number];

export interface Report {
  take: string;
  frames: number[];
  /** dB: what the take's own noise allows against a truth without noise. */
  limit: number;
  ways: Record<Way, { mean: Figures; worst: Figures; each: Figures[] }>;
  /** Energy in time of the grain inside against that which the take has there, over the frames; 0: it stands still. */
  moves: number;
  /** What the take has there by itself, where there are frames in which nothing is to be mended. */
  ground: Ground | null;
}

const folder = join(root, "demo/recipes");
const mean = (v: number[]) => v.reduce((a, b) => a + b, 0) / v.length;

function summary(each: Figures[]): Report["ways"][Way] {
  const of = (f: (v: number[]) => number, low: (v: number[]) => number, off: (v: number[]) => number): Figures => {
    const all = (k: keyof Figures) => each.map((e) => e[k]);
    return {
      psnr: low(all("psnr")),
      ssim: low(all("ssim")),
      edge: f(all("edge")),
      light: f(all("light")),
      noise: off(all("noise")),
      left: f(all("left").map(Math.abs)),
    };
  };
  const farthest = (v: number[]) => v.reduce((a, b) => (Math.abs(Math.log(b)) > Math.abs(Math.log(a)) ? b : a));
  return {
    each,
    mean: of(mean, mean, mean),
    worst: of(
      (v) => Math.max(...v),
      (v) => Math.min(...v),
      farthest,
    ),
  };
}

/** Mends a film by a recipe and measures it. @param path where the recipe lies */
export async function measure(name: string, truth: Known, path: string): Promise<Report> {
  const { width, height, film: own } = truth;
  const recipe = JSON.parse(readFileSync(path, "utf8")) as Recipe;
  const layers = recipe.intruders.flatMap((i) => i.layers).filter((l): l is PatchLayer => l.kind === "patch");
  const { cutouts } = await readMeasured(recipe, (hash) => join(dirname(path), "measured", hash));
  const matteOf = (l: PatchLayer, n: number) => maskMatte(maskOf(recipe, l), n, width, height, 1, undefined, cutouts);
  const from = Math.min(...layers.map((l) => l.in));
  const to = Math.max(...layers.map((l) => l.out));
  const count = Math.min(FRAMES, to - from + 1);
  const spread = Array.from({ length: count }, (_, i) => from + Math.round((i * (to - from)) / Math.max(1, count - 1)));
  const worst = truth.worst.filter((n) => n >= from && n <= to);
  const list = [...new Set([...spread, ...worst])].sort((a, b) => a - b);

  let around: Rect | null = null;
  for (const n of list)
    for (const l of layers) {
      const m = matteOf(l, n);
      around = around ? union(around, m) : { x0: m.x0, y0: m.y0, x1: m.x1, y1: m.y1 };
    }

  const roomy = { x0: (around!.x0 - ROOM) & ~1, y0: (around!.y0 - ROOM) & ~1, x1: (around!.x1 + ROOM + 1) & ~1, y1: (around!.y1 + ROOM + 1) & ~1 };
  const box = intersect(roomy, truth.known);
  /** α of all patches together over the box. */
  const alphaAt = (n: number) => {
    const w = box.x1 - box.x0;
    const out = new Float64Array(w * (box.y1 - box.y0));
    for (const l of layers) {
      if (n < l.in || n > l.out) continue;
      const a = over(matteOf(l, n), box);
      for (let i = 0; i < out.length; i++) out[i] = Math.max(out[i], a[i]);
    }
    return out;
  };
  const mended = file(`${name}.mkv`);
  cli("render", path, "--out", mended, "--codec", "ffv1");
  const filled = delogo(own, around!, width, height, from, to);
  const film = (of: string) => pictures(of, width, height, list, box);
  const streams = { ours: film(mended), take: film(own), delogo: film(filled), clean: truth.clean(list, box), matte: truth.mattes(list, box) };
  const next = <T>(g: Generator<T>) => g.next().value as T;

  const each: Record<Way, Figures[]> = { "Umber Moth": [], "no mending": [], "ffmpeg delogo": [], "OpenCV inpaint": [] };
  const noise: number[] = [];
  const moving: number[] = [];
  let before: { ours: Picture; take: Picture; clean: Picture; inside: Uint8Array } | null = null;
  for (const n of list) {
    const alpha = alphaAt(n);
    const areas = areasOf(alpha, box.x1 - box.x0, box.y1 - box.y0);
    const clean = next(streams.clean);
    const shown = next(streams.take);
    const matte = next(streams.matte);
    // what of it stays beside the mask is no ground to compare with
    for (let i = 0; i < matte.length; i++) if (matte[i] > 2) areas.around[i] = 0;
    if (IN_PART.has(name.replace(/, matched$/, ""))) for (let i = 0; i < matte.length; i++) if (!alpha[i]) matte[i] = 0;
    const painted = await inpaint(
      shown,
      Uint8Array.from(alpha, (a) => (a > 0 ? 1 : 0)),
    );
    const judged = judge(clean, shown, matte, areas);
    const add = (way: Way, p: Picture) => each[way].push(judged(p));
    const ours = next(streams.ours);
    add("Umber Moth", ours);
    if (before) {
      const both = areas.inside.map((v, i) => v & before!.inside[i]);
      moving.push(movingGrain([before.ours, ours], [before.take, shown], [before.clean, clean], both, areas.around));
    }
    before = { ours, take: shown, clean, inside: areas.inside };
    add("no mending", shown);
    add("ffmpeg delogo", next(streams.delogo));
    add("OpenCV inpaint", painted);
    noise.push(noiseOf(shown, clean, areas.around));
  }
  const middle = areasOf(alphaAt((from + to) >> 1), box.x1 - box.x0, box.y1 - box.y0);
  const ground = groundAt(truth, box, middle, from, to);
  const limit = 20 * Math.log10(255 / (mean(noise) * Math.sqrt(ground?.noise ?? 1)));
  for (const way of WAYS) for (const f of each[way]) f.noise /= ground?.noise ?? 1;
  const moves = mean(moving) / (ground?.moves ?? 1);
  return { take: name, frames: list, limit, moves, ground, ways: Object.fromEntries(WAYS.map((w) => [w, summary(each[w])])) as Report["ways"] };
}

/** What the take has of noise where it is mended, from the frames nearest to those that are in which nothing hides the place; null where there are fewer than two. */
function groundAt(truth: Known, box: Rect, areas: Areas, from: number, to: number): Report["ground"] {
  const away = (n: number) => Math.max(from - n, n - to);
  const near = Array.from({ length: truth.frames }, (_, n) => n).filter((n) => away(n) > 1);
  const candidates = near.sort((a, b) => away(a) - away(b)).slice(0, 60).sort((a, b) => a - b); // prettier-ignore
  const free: number[] = [];
  let i = 0;
  for (const matte of truth.mattes(candidates, box)) {
    const n = candidates[i++];
    if (!matte.some((m, k) => m > 2 && (areas.inside[k] || areas.around[k]))) free.push(n);
  }
  const list = free.sort((a, b) => away(a) - away(b)).slice(0, GROUND).sort((a, b) => a - b); // prettier-ignore
  if (list.length < 2) return null;
  return groundOf([...pictures(truth.film, truth.width, truth.height, list, box)], [...truth.clean(list, box)], areas);
}

const two = (v: number) => (Number.isFinite(v) ? v.toFixed(2) : "∞");

/** The whole table of some reports. */
function print(reports: Report[]): void {
  console.table(
    reports.flatMap((r) =>
      WAYS.map((way) => {
        const { mean: m, worst: w } = r.ways[way];
        return {
          take: r.take,
          way,
          "PSNR dB": `${two(m.psnr)} (${two(w.psnr)})`,
          SSIM: `${m.ssim.toFixed(4)} (${w.ssim.toFixed(4)})`,
          "edge ΔE₀₀": `${two(m.edge)} (${two(w.edge)})`,
          noise: `${two(m.noise)} (${two(w.noise)})`,
          "light off": `${two(m.light)} (${two(w.light)})`,
          "left %": `${two(100 * m.left)} (${two(100 * w.left)})`,
        };
      }),
    ),
  );
}

const own = (v?: number) => (v === undefined ? "" : `, the take by itself ${two(v)}`);

/** The rows of the quality table that follow from some reports. @param heading what kind of takes they are of */
function rowsOf(reports: Report[], heading: string): Row[] {
  return reports.flatMap((r): Row[] => {
    const { mean: m, worst: w } = r.ways["Umber Moth"];
    const others = WAYS.slice(1).map((o) => `${o} ${two(r.ways[o].mean.psnr)}`);
    return [
      {
        what: `${heading}, ${r.take}: PSNR within the mask`,
        ours: `${two(m.psnr)} dB`,
        reach: `≥ ${two(r.limit - 0.5)} dB`,
        judge: others.join(", "),
        ok: m.psnr >= r.limit - 0.5,
      },
      {
        what: `${heading}, ${r.take}: CIEDE2000 at the mask's edge, p95, worst frame`,
        ours: two(w.edge),
        reach: "< 1.0",
        judge: `inpaint ${two(r.ways["OpenCV inpaint"].worst.edge)}${own(r.ground?.edge)}`,
        ok: w.edge < 1,
      },
      {
        // over the frames together: an encoder gives its kinds of pictures unlike noise, a held frame has that of one of them
        what: `${heading}, ${r.take}: noise inside against the take's own there, mean`,
        ours: `${two(m.noise)} (worst frame ${two(w.noise)})`,
        reach: "0.9–1.1",
        judge: `inpaint ${two(r.ways["OpenCV inpaint"].mean.noise)}`,
        ok: m.noise >= 0.9 && m.noise <= 1.1,
      },
      {
        what: `${heading}, ${r.take}: grain that moves, against the take's own there`,
        ours: two(r.moves),
        reach: "0.85–1.18",
        judge: "the take's own: 1",
        ok: r.moves >= 0.85 && r.moves <= 1.18,
      },
      {
        what: `${heading}, ${r.take}: light within, low-passed, p95`,
        ours: `${two(m.light)} codes (worst frame ${two(w.light)})`,
        reach: "< 0.4",
        judge: `inpaint ${two(r.ways["OpenCV inpaint"].mean.light)}${own(r.ground?.light)}`,
        ok: m.light < 0.4,
      },
      {
        what: `${heading}, ${r.take}: what is left of the intruder, worst frame`,
        ours: `${two(100 * w.left)} %`,
        reach: "< 1 %",
        judge: `inpaint ${two(100 * r.ways["OpenCV inpaint"].worst.left)} %`,
        ok: w.left < 0.01,
      },
    ];
  });
}

/** Every demo take that has a recipe. */
export async function truth(): Promise<Row[]> {
  const names = readdirSync(folder)
    .filter((n) => n.endsWith(".json"))
    .map((n) => n.replace(/\.json$/, ""))
    .sort();
  const reports: Report[] = [];
  for (const take of names) {
    const known = new Truth(take);
    reports.push(await measure(take, known, join(folder, `${take}.json`)));
    // the same, matched as new patches are
    const recipe = JSON.parse(readFileSync(join(folder, `${take}.json`), "utf8")) as { takes: Record<string, { path: string }> };
    for (const t of Object.values(recipe.takes)) t.path = resolve(folder, t.path);
    const path = file(`${take}-matched.json`);
    // what the recipe goes by lies beside the new one as well
    cpSync(join(folder, "measured"), join(dirname(path), "measured"), { recursive: true });
    writeFileSync(path, JSON.stringify(await matched(recipe, dirname(path))));
    reports.push(await measure(`${take}, matched`, known, path));
  }
  print(reports);
  writeFileSync(join(root, "benchmarks", "truth.json"), JSON.stringify(reports, null, 1) + "\n");
  return rowsOf(reports, "Truth");
}

/** The takes that only judge, each mended by a held frame as an editor would, matched as a new patch is. */
export async function judges(): Promise<Row[]> {
  const reports: Report[] = [];
  for await (const { name, known, recipe } of judged()) reports.push(await measure(name, known, recipe));
  print(reports);
  return rowsOf(reports, "Judge");
}
