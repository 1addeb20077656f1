import { ciede2000, toLab } from "../measure/ciede2000";
import { median, nth } from "../motion/gray";
import { ycbcrToRgb } from "../pixels/colour";
import { union, type Rect } from "../pixels/frame";
import { LEAST_LOOKS } from "./clean";
import { isOwn, joinedPieces, LEAST_ALONE, LEAST_CELLS } from "./crossing";
import type { Doubt, Finding, FindingKind, Remedy } from "./finding";
import { pixelsOf } from "./grid";
import type { PatchRecord } from "./layer-prover";
import { pieces } from "../plate/regions";
import { boxOf } from "./crossing";
import { UNLIKE } from "./sight";
import { type ArcStep, rimStep } from "./steps";
import { type Bare, type Uncovered, uncoveredFrom } from "./uncovered";

/** CIEDE2000 of an arc's step above which an edge is seen. */
const EDGE_SEEN = 1;
/** Frames over which steps are averaged. */
const TOGETHER = 5;
/** Codes by which a rim's step may move: low-passed, and in a single frame. */
const LIGHT = { slow: 0.5, single: 1.5 };
/** Pixels a picture may lie off, and how sure that has to be. */
const OFF = { most: 0.1, sure: 0.03, alike: 0.5 };
/** What is seen in a single frame, and of few cells, has to be so many times as strong. */
const ALONE = 2;
/** A picture that lies off by so many standard errors lies off for sure, however large they are. */
const SURELY = 6;
/** log₂ of energies in time beyond which grain is wrong; and the codes of σ that are seen at all. */
const GRAIN = { log2: 0.25, seen: 0.6 };
/** In so many of a patch's frames its picture shows what the scene does not. */
const THROUGHOUT = 0.8;
const LEAST_SHOWN = 4;
/** The share of a patch of which nothing is known without it, above which it cannot be told. */
const UNKNOWN = 0.5;

interface Told {
  findings: Finding[];
  doubts: Doubt[];
}

/** What is wrong with one patch, by all that was seen of it. */
export function judged(r: PatchRecord): Told {
  const drift = driftOf(r);
  const misplaced = drift.length > 0;
  const cut = crossingsOf(r);
  const findings = [...uncovered(r, cut), ...crossings(r, cut), ...drift, ...shown(r, misplaced), ...light(r, misplaced), ...grain(r)];
  return { findings, doubts: doubtsOf(r) };
}

const finding = (
  r: PatchRecord,
  kind: FindingKind,
  frames: readonly number[],
  worst: number,
  box: Rect,
  measure: { value: number; limit: number },
  words: { says: string; do: string; remedy: Remedy },
): Finding => ({
  kind,
  intruder: r.intruder,
  layer: r.layer.id,
  in: Math.min(...frames),
  out: Math.max(...frames),
  worst,
  box,
  ...measure,
  ...words,
});

const count = (n: number) => (n === 1 ? "one frame" : `${n} frames`);
const times = (v: number) => `${v.toFixed(v < 10 ? 1 : 0)} times what noise does`;

/** The things that the patch's edge cuts through, and whether they are what was to go. */
function crossingsOf(r: PatchRecord) {
  const hides = [...r.hidden].flatMap(([n, cells]) => (cells.reduce((s, v) => s + v, 0) >= LEAST_CELLS ? [n] : [])).sort((a, b) => a - b);
  return joinedPieces(r.cuts).map((pieces) => ({ pieces, own: isOwn(r.grid, pieces, r.kept, hides) }));
}
type Crossings = ReturnType<typeof crossingsOf>;

/** What is hidden in the patch's first or last frames, and seen beside them. */
function uncovered(r: PatchRecord, cut: Crossings): Finding[] {
  const laid = [...r.hidden.keys()].sort((a, b) => a - b);
  if (!laid.length) return [];
  const sides = [
    { from: laid[0], step: -1, remedy: "earlier" as const },
    { from: laid[laid.length - 1], step: 1, remedy: "later" as const },
  ];
  return sides.flatMap(({ from, step, remedy }) => {
    // somebody who passes goes on beside the patch
    const passes = new Set(cut.filter((c) => !c.own).flatMap((c) => c.pieces.filter((p) => p.n === from).flatMap((p) => p.cells)));
    const hidden = r.hidden.get(from)!.map((v, i) => Number(v && !passes.has(i)));
    const list = uncoveredFrom(
      r.grid,
      { hidden, mask: r.masks.get(from)!, inner: r.masks.get(from - step) ?? null },
      outward(r.bare, from + step, step),
    );
    if (!list.length || (list.length === 1 && list[0].cells.length < LEAST_ALONE && list[0].off < ALONE * UNLIKE)) return [];
    const worst = list.reduce((a, b) => (b.off * b.cells.length > a.off * a.cells.length ? b : a));
    const frames = list.map((u: Uncovered) => u.n);
    const side = step < 0 ? "before the patch begins" : "after the patch ends";
    return [
      finding(
        r,
        "leak",
        frames,
        worst.n,
        pixelsOf(r.grid, worst.box),
        { value: worst.off, limit: UNLIKE },
        {
          says: `What the patch hides is still seen ${side}: ${times(worst.off)}.`,
          do: `Let the patch ${step < 0 ? "begin" : "end"} ${count(Math.abs(frames[frames.length - 1] - from))} ${step < 0 ? "earlier" : "later"}.`,
          remedy,
        },
      ),
    ];
  });
}

function* outward(bare: ReadonlyMap<number, Bare>, from: number, step: number): Generator<Bare> {
  for (let n = from; bare.has(n); n += step) yield bare.get(n)!;
}

/** Things that the patch's edge cuts through. */
function crossings(r: PatchRecord, cut: Crossings): Finding[] {
  return cut.map(({ pieces: c, own }) => {
    const weight = (p: (typeof c)[number]) => p.off * p.visible.length;
    const worst = c.reduce((a, b) => (weight(b) > weight(a) ? b : a));
    const frames = c.map((p) => p.n);
    const words = own
      ? {
          says: `Something of what the patch hides is seen beside it: ${times(worst.off)}.`,
          do: "Draw the mask wider there, so that all of the thing lies within it.",
          remedy: "wider" as const,
        }
      : {
          says: `The patch cuts into something that passes.`,
          do: "Hold out what passes, or draw the mask so that it keeps clear of it.",
          remedy: "hold-out" as const,
        };
    return finding(r, own ? "leak" : "bite", frames, worst.n, pixelsOf(r.grid, worst.box), { value: worst.off, limit: UNLIKE }, words);
  });
}

/** What the patch's own picture shows though the scene does not. */
function shown(r: PatchRecord, misplaced: boolean): Finding[] {
  const every = Uint8Array.from(r.shows, (v, i) => Number(r.asked[i] >= 2 && v >= THROUGHOUT * r.asked[i]));
  const laid = [...r.hidden.keys()];
  if (!laid.length) return [];
  // a picture that lies off differs along its lines: then only what is more than a line counts
  const data = misplaced ? cores(r.grid, every) : every;
  const found = pieces({ width: r.grid.across, height: r.grid.down, data }).filter((cells) => cells.length >= LEAST_SHOWN);
  if (!found.length) return [];
  const offOf = (cells: number[]) => cells.reduce((sum, i) => sum + r.showsOff[i], 0);
  const worst = found.reduce((x, y) => (offOf(y) > offOf(x) ? y : x));
  const value = offOf(worst) / worst.length;
  const words = {
    says: `The patch's own picture shows something that other frames do not show there: ${times(value)}.`,
    do: "Take the picture from another frame, or retouch it there.",
    remedy: "picture" as const,
  };
  return [finding(r, "leak", laid, laid[Math.floor(laid.length / 2)], pixelsOf(r.grid, boxOf(r.grid, worst)), { value, limit: UNLIKE }, words)];
}

/** Cells whose neighbours nearly all count as well. */
function cores({ across, down }: PatchRecord["grid"], data: Uint8Array): Uint8Array {
  return data.map((v, i) => {
    const [x, y] = [i % across, Math.floor(i / across)];
    if (!v || x < 1 || y < 1 || x >= across - 1 || y >= down - 1) return 0;
    let n = 0;
    for (let j = -1; j <= 1; j++) for (let k = -1; k <= 1; k++) n += data[i + j * across + k];
    return Number(n >= 8);
  });
}

/** Whether the patch's picture lies where it belongs. */
function driftOf(r: PatchRecord): Finding[] {
  const sure = r.places.filter((p) => p.alike > OFF.alike && (p.error < OFF.sure || Math.hypot(p.dx, p.dy) > SURELY * p.error));
  if (sure.length < Math.max(1, r.places.length / 2)) return [];
  const off = (p: (typeof sure)[number]) => Math.hypot(p.dx, p.dy);
  const bad = sure.filter((p) => off(p) > OFF.most + 2 * p.error);
  if (bad.length < Math.max(1, sure.length / 3)) return [];
  const value = median(bad.map(off));
  const worst = bad.reduce((a, b) => (off(b) > off(a) ? b : a));
  const [dx, dy] = [median(bad.map((p) => p.dx)), median(bad.map((p) => p.dy))];
  const box = maskBox(r, worst.n);
  return [
    finding(
      r,
      "drift",
      bad.map((p) => p.n),
      worst.n,
      box,
      { value, limit: OFF.most },
      {
        says: `The patch's picture lies ${value.toFixed(2)} px off what surrounds it.`,
        do: `Move it by ${dx.toFixed(2)} px to the right and ${dy.toFixed(2)} px down, or let it follow a track.`,
        remedy: "align",
      },
    ),
  ];
}

const maskBox = (r: PatchRecord, n: number): Rect => {
  const mask = r.masks.get(n);
  const cells: number[] = [];
  mask?.forEach((v, i) => v && cells.push(i));
  return pixelsOf(r.grid, boxOf(r.grid, cells));
};

/** Steps along the rim: an edge that is seen, and light that runs away. */
function light(r: PatchRecord, misplaced: boolean): Finding[] {
  const frames = [...r.steps.keys()].sort((a, b) => a - b);
  if (!frames.length) return [];
  const chance = r.chanceSteps(frames[Math.floor(frames.length / 2)]);
  const out: Finding[] = [];
  const seam = misplaced ? null : seamOf(r, frames, chance);
  if (seam) out.push(seam);
  const runs = runawayOf(r, frames, chance);
  if (runs) out.push(runs);
  return out;
}

function seamOf(r: PatchRecord, frames: number[], chance: ArcStep[][]): Finding | null {
  const limits = r.pivots.map((_, p) =>
    chanceOf(
      chance.flatMap((arcs) => arcs.map((a) => Math.abs(a.step[p]))),
      0.99,
    ),
  );
  const seen: { frames: number[]; at: number; value: number }[] = [];
  const all: number[] = [];
  for (let k = 0; k < frames.length; k += TOGETHER) {
    const some = frames.slice(k, k + TOGETHER);
    const arcs = new Map<number, ArcStep[]>();
    for (const n of some) for (const a of r.steps.get(n)!) arcs.set(a.at, [...(arcs.get(a.at) ?? []), a]);
    for (const [at, list] of arcs) {
      if (list.length < Math.min(3, some.length)) continue;
      const step = limits.map((limit, p) =>
        lasting(
          list.map((a) => a.step[p]),
          limit,
        ),
      );
      const colour = limits.map((_, p) => list.reduce((sum, a) => sum + a.colour[p], 0) / list.length);
      const value = step.some((v) => v !== 0)
        ? difference(
            r,
            colour,
            colour.map((v, p) => v + step[p]),
          )
        : 0;
      all.push(value);
      if (value > EDGE_SEEN) seen.push({ frames: some, at, value });
    }
  }
  if (!all.length) return null;
  const value = nth(Float64Array.from(all), Math.min(all.length - 1, Math.floor(0.95 * all.length)));
  if (value <= EDGE_SEEN || !seen.length) return null;
  const worst = seen.reduce((x, y) => (y.value > x.value ? y : x));
  return finding(
    r,
    "seam",
    seen.flatMap((x) => x.frames),
    worst.frames[0],
    arcBox(r, worst.at),
    { value, limit: EDGE_SEEN },
    {
      says: `The patch's edge is seen: its two sides differ by ΔE₀₀ ${value.toFixed(1)}.`,
      do: "Let the patch follow the light, or take the seam off; a wider feather hides what is left.",
      remedy: "light",
    },
  );
}

/** The mean of a step over some frames, less what single frames make of it (two standard errors); 0 where clean frames show as much. */
function lasting(steps: readonly number[], limit: number): number {
  const n = steps.length;
  const mean = steps.reduce((s, v) => s + v, 0) / n;
  if (Math.abs(mean) <= limit) return 0;
  const spread = Math.sqrt(steps.reduce((s, v) => s + (v - mean) ** 2, 0) / Math.max(1, n - 1));
  return Math.sign(mean) * Math.max(0, Math.abs(mean) - (2 * spread) / Math.sqrt(n));
}

/** CIEDE2000 of two colours of the take, 8-bit codes. */
function difference(r: PatchRecord, a: number[], b: number[]): number {
  const { format, colour } = r.footage;
  const lab = (v: number[]) => {
    if (format.model === "rgb") return toLab(v[2] / 255, v[0] / 255, v[1] / 255);
    const rgb = ycbcrToRgb(v[0], v[1] ?? 128, v[2] ?? 128, colour, 8).map((c) => Math.min(1, Math.max(0, c)));
    return toLab(rgb[0], rgb[1], rgb[2]);
  };
  return ciede2000(lab(a), lab(b));
}

const chanceOf = (values: number[], share: number): number =>
  values.length ? nth(Float64Array.from(values), Math.floor(share * (values.length - 1))) : 0;

/** The square of an arc, in pixels of the take. */
function arcBox(r: PatchRecord, at: number): Rect {
  const wide = Math.ceil(r.grid.across / 8);
  const [x, y] = [(at % wide) * 8, Math.floor(at / wide) * 8];
  return pixelsOf(r.grid, { x0: x, y0: y, x1: Math.min(r.grid.across, x + 8), y1: Math.min(r.grid.down, y + 8) });
}

function runawayOf(r: PatchRecord, frames: number[], chance: ArcStep[][]): Finding | null {
  const series = frames.flatMap((n) => {
    const step = rimStep(r.steps.get(n)!);
    return step ? [{ n, step }] : [];
  });
  if (series.length < 3) return null;
  const told = chance.map(rimStep).filter((s): s is number[] => s !== null);
  let worst: { n: number; value: number; limit: number; frames: number[] } | null = null;
  for (let p = 0; p < series[0].step.length; p++) {
    const middle = median(series.map((s) => s.step[p]));
    const usual = chanceOf(
      told.map((s) => Math.abs(s[p])),
      0.95,
    );
    const off = series.map((s) => s.step[p] - middle);
    const slow = off.map((_, k) => {
      const some = off.slice(Math.max(0, k - 2), k + 3);
      return some.reduce((a, b) => a + b, 0) / some.length;
    });
    for (const [values, least] of [
      [slow, LIGHT.slow],
      [off, LIGHT.single],
    ] as const) {
      const limit = Math.max(least, 1.5 * usual);
      const bad = series.filter((_, k) => Math.abs(values[k]) > limit).map((s) => s.n);
      if (!bad.length) continue;
      const at = values.reduce((m, v, k) => (Math.abs(v) > Math.abs(values[m]) ? k : m), 0);
      const value = Math.abs(values[at]);
      if (!worst || value / limit > worst.value / worst.limit) worst = { n: series[at].n, value, limit, frames: bad };
    }
  }
  if (!worst) return null;
  return finding(r, "runaway-light", worst.frames, worst.n, maskBox(r, worst.n), worst, {
    says: `The light around the patch changes by ${worst.value.toFixed(1)} codes and the patch does not follow.`,
    do: "Let the patch follow the light around it.",
    remedy: "light",
  });
}

function grain(r: PatchRecord): Finding[] {
  const g = r.grain.result();
  if (!g || g.footage <= 0) return [];
  const log2 = 2 * Math.log2(Math.max(1e-3, g.patch) / g.footage);
  if (Math.abs(log2) <= GRAIN.log2 || Math.abs(g.patch - g.footage) < GRAIN.seen) return [];
  const laid = [...r.hidden.keys()].sort((a, b) => a - b);
  const worst = laid[Math.floor(laid.length / 2)];
  const box = g.blocks.map((b) => r.grain.place(b)).reduce(union);
  const still = log2 < 0;
  return [
    finding(
      r,
      "dead-grain",
      laid,
      worst,
      box,
      { value: Math.abs(log2), limit: GRAIN.log2 },
      {
        says: `The patch's grain moves ${still ? "less" : "more"} than the footage's: ${g.patch.toFixed(1)} codes against ${g.footage.toFixed(1)}.`,
        do: still ? "Lay the footage's grain over the patch." : "Take grain off the patch, or lay less of it.",
        remedy: "grain",
      },
    ),
  ];
}

function doubtsOf(r: PatchRecord): Doubt[] {
  const out: Doubt[] = [];
  const add = (says: string) => out.push({ intruder: r.intruder, layer: r.layer.id, says });
  let [n, unknown] = [0, 0];
  for (const mask of r.masks.values())
    mask.forEach((m, i) => {
      if (!m) return;
      n++;
      if (r.clean.looks[i] < LEAST_LOOKS) unknown++;
    });
  if (n && unknown > UNKNOWN * n) {
    add("No frames show what lies behind this patch without it, so that its picture cannot be compared with the scene: look at it yourself.");
    if (!r.fits) add("Its picture does not show what surrounds it either, so that nothing can be told of its edge.");
  }
  return out;
}
