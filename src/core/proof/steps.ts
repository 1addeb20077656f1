import { median } from "../motion/gray";
import { type CellGrid, type Cells, distanceTo } from "./grid";

/** Cells on either side of a mask's edge whose means are compared. */
const BAND = 4;
/** Cells that an arc needs on either side. */
const LEAST = 6;
/** Standard errors of a mean that chance makes. */
const CHANCE = 2;
/** Side of the squares along the edge that count as one arc, in cells. */
export const ARC = 8;

/** How far a patch's rim steps against what lies around it: an arc each. */
export interface ArcStep {
  /** The arc: its square's place. */
  at: number;
  /** Mean inside less mean outside, beyond what the scene itself steps there: 8-bit codes, a plane each. */
  step: number[];
  /** The same with nothing taken off for chance. */
  raw: number[];
  /** Mean colour outside. */
  colour: number[];
}

/** Which cells lie on either side of an edge, and in which arc; kept as long as the mask stays. */
export interface EdgeBands {
  inside: { cell: number; arc: number }[];
  outside: { cell: number; arc: number }[];
}

/** Cells within and outside of a mask along its edge, beyond its feather. @param together α of all patches */
export function edgeBands(g: CellGrid, alpha: Float32Array, together: Float32Array): EdgeBands {
  const fromOut = distanceTo(g, (i) => alpha[i] < 0.98);
  const fromIn = distanceTo(g, (i) => alpha[i] > 0.02);
  const arcOf = (i: number) => Math.floor(Math.floor(i / g.across) / ARC) * Math.ceil(g.across / ARC) + Math.floor((i % g.across) / ARC);
  const out: EdgeBands = { inside: [], outside: [] };
  for (let i = 0; i < alpha.length; i++) {
    if (alpha[i] >= 0.98 && fromOut[i] <= BAND) out.inside.push({ cell: i, arc: arcOf(i) });
    else if (together[i] <= 0.001 && fromIn[i] > 0 && fromIn[i] <= BAND) out.outside.push({ cell: i, arc: arcOf(i) });
  }
  return out;
}

/**
 * The steps along a patch's rim in one frame.
 * @param mended the mended picture @param scene what the scene is there, in this light @param counts whether a cell may be asked: nothing passes there
 */
export function arcSteps(bands: EdgeBands, mended: Cells, scene: Cells, counts: (i: number) => boolean): ArcStep[] {
  const arcs = new Map<number, { inn: number[]; out: number[] }>();
  const add = (list: EdgeBands["inside"], side: "inn" | "out") => {
    for (const { cell, arc } of list) {
      if (!counts(cell)) continue;
      let a = arcs.get(arc);
      if (!a) arcs.set(arc, (a = { inn: [], out: [] }));
      a[side].push(cell);
    }
  };
  add(bands.inside, "inn");
  add(bands.outside, "out");
  const out: ArcStep[] = [];
  for (const [at, { inn, out: around }] of arcs) {
    if (inn.length < LEAST || around.length < LEAST) continue;
    const sides = mended.map((m, p) => [meanOf(inn, m, scene[p]), meanOf(around, m, scene[p])] as const);
    const raw = sides.map(([a, b]) => a.mean - b.mean);
    out.push({
      at,
      raw,
      // what chance makes of so few cells is taken off
      step: raw.map((v, p) => Math.sign(v) * Math.max(0, Math.abs(v) - CHANCE * Math.hypot(sides[p][0].error, sides[p][1].error))),
      colour: mended.map((m) => around.reduce((s, i) => s + m[i], 0) / around.length),
    });
  }
  return out;
}

/** Arcs by which the step of a whole rim is told. */
const LEAST_ARCS = 4;

/** The step of a whole rim, a plane each: the middle of its arcs, less twice what chance makes of so many; null where too few can be told. */
export function rimStep(arcs: readonly ArcStep[]): number[] | null {
  if (arcs.length < LEAST_ARCS) return null;
  return arcs[0].step.map((_, p) => {
    const steps = arcs.map((a) => a.step[p]);
    const middle = median([...steps]);
    const error = (1.4826 * median(steps.map((s) => Math.abs(s - middle)))) / Math.sqrt(arcs.length);
    return Math.sign(middle) * Math.max(0, Math.abs(middle) - CHANCE * error);
  });
}

/** The mean of what cells differ by, and its standard error. */
function meanOf(cells: readonly number[], a: Float32Array, b: Float32Array): { mean: number; error: number } {
  let [s, q] = [0, 0];
  for (const i of cells) {
    const d = a[i] - b[i];
    s += d;
    q += d * d;
  }
  const mean = s / cells.length;
  return { mean, error: Math.sqrt(Math.max(0, q / cells.length - mean * mean) / cells.length) };
}
