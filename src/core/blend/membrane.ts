/** What a cell of a membrane's grid is. */
export const FIXED = 0;
export const FREE = 1;
/** Beyond the picture: nothing is known there and nothing asked; the membrane meets it level. */
export const ABSENT = 2;
/** A free cell with an absent neighbour; told apart from the others only within the solver. */
const EDGE = 3;

/** A grid on which a membrane is spanned. Its outermost cells must not be free. */
export interface Grid {
  width: number;
  height: number;
  kind: Uint8Array;
}

interface Level extends Grid {
  /** The membrane; at the fixed cells what they are fixed at. */
  u: Float64Array;
  /** A correction, what it has to make good, and what is left of that. */
  e: Float64Array;
  f: Float64Array;
  r: Float64Array;
  /** The free cells: pairs of first and end, row by row. */
  runs: Int32Array;
  /** Likewise those near the rim. */
  near: Int32Array;
  /** Whether any cell is absent. */
  open: boolean;
  /** How strongly each cell is drawn to 0 against one neighbour: (spacing / reach)². */
  draw: number;
}

const MOST_CYCLES = 40;
const SMALLEST = 6;
/**
 * Spans a membrane over the free cells of a grid: the discrete Laplace equation with the fixed cells as its rim (Pérez, Gangnet
 * & Blake 2003, "Poisson image editing"; with a zero right side as in Georgiev 2004), solved from coarse to fine by multigrid
 * V-cycles (Brandt 1977). It never leaves the range of its rim.
 * With a `reach` it is screened: u − reach²·Δu = 0 (Bhat et al. 2008, "Fourier analysis of the 2D screened Poisson equation"), so that
 * it falls off by 1/e over so many cells, and lies between 0 and its rim.
 * @param rim values at the fixed cells, any unit; changed in place at the free ones
 * @param residual the largest Laplacian left over, in the unit of the rim
 * @param reach in cells; without one it reaches everywhere
 * @returns the largest Laplacian that is left
 */
export function spanMembrane(grid: Grid, rim: Float64Array, residual = 0.01, reach = Infinity): number {
  const { width: w, height: h } = grid;
  const kind = grid.kind.slice();
  let low = Infinity;
  let high = -Infinity;
  let any = false;
  for (let i = 0; i < kind.length; i++) {
    if (kind[i] !== FREE) continue;
    if (!any && (i < w || i >= kind.length - w || i % w === 0 || i % w === w - 1))
      throw new RangeError("a membrane's outermost cells must not be free");
    any = true;
    if ((kind[i - 1] & kind[i + 1] & kind[i - w] & kind[i + w] & 1) === 1) continue;
    if (kind[i - 1] === ABSENT || kind[i + 1] === ABSENT || kind[i - w] === ABSENT || kind[i + w] === ABSENT) kind[i] = EDGE;
    for (const j of [i - 1, i + 1, i - w, i + w])
      if (kind[j] === FIXED) {
        low = Math.min(low, rim[j]);
        high = Math.max(high, rim[j]);
      }
  }
  if (!any) return 0;
  const draw = 1 / (reach * reach);
  if (draw > 0) [low, high] = [Math.min(low, 0), Math.max(high, 0)];
  if (low > high) {
    for (let i = 0; i < kind.length; i++) if (isFree(kind[i])) rim[i] = 0;
    return 0;
  }
  const levels = [levelOf({ width: w, height: h, kind }, rim, draw)];
  while (Math.min(levels.at(-1)!.width, levels.at(-1)!.height) > SMALLEST) levels.push(coarser(levels.at(-1)!));
  const last = levels.at(-1)!;
  for (let i = 0; i < 40; i++) relax(last, last.u, null);
  let left = 0;
  for (let k = levels.length - 2; k >= 0; k--) {
    const level = levels[k];
    interpolate(levels[k + 1].u, levels[k + 1], level.runs, level.width, level.u, false);
    for (let c = 0; c < (k === 0 ? MOST_CYCLES : 1); c++) {
      relaxNear(level, level.u, null);
      relax(level, level.u, null);
      left = residualOf(level, level.u, null);
      if (k === 0 && left <= residual) break;
      correct(levels, k);
      relax(level, level.u, null);
    }
  }
  const [top] = levels;
  for (let i = 0; i < kind.length; i++) if (isFree(kind[i])) rim[i] = Math.min(high, Math.max(low, top.u[i]));
  return left;
}

const isFree = (k: number) => (k & 1) === 1;

function levelOf(g: Grid, u: Float64Array, draw: number): Level {
  const n = u.length;
  const open = g.kind.includes(ABSENT);
  const runs = runsOf(g, (i) => isFree(g.kind[i]));
  return { ...g, u, e: new Float64Array(n), f: new Float64Array(n), r: new Float64Array(n), runs, near: nearRim(g), open, draw };
}

/** How near the rim cells are smoothed by themselves as well: coarser grids hardly reach there. */
const NEAR = 4;
/** How often. */
const NEAR_SWEEPS = 4;

function nearRim(g: Grid): Int32Array {
  const { width: w, kind } = g;
  const near = new Uint8Array(kind.length);
  for (let i = w; i < kind.length - w; i++) {
    if (!isFree(kind[i])) continue;
    if (kind[i - 1] !== FIXED && kind[i + 1] !== FIXED && kind[i - w] !== FIXED && kind[i + w] !== FIXED) continue;
    const [cx, cy] = [i % w, Math.floor(i / w)];
    for (let y = Math.max(1, cy - NEAR + 1); y <= Math.min(g.height - 2, cy + NEAR - 1); y++)
      for (let x = Math.max(1, cx - NEAR + 1); x <= Math.min(w - 2, cx + NEAR - 1); x++) if (isFree(kind[y * w + x])) near[y * w + x] = 1;
  }
  return runsOf(g, (i) => near[i] === 1);
}

/** Runs of the cells that `counts`. */
function runsOf({ width: w, height: h }: Grid, counts: (i: number) => boolean): Int32Array {
  const out: number[] = [];
  for (let y = 1; y < h - 1; y++) {
    const row = y * w;
    let from = -1;
    for (let x = 1; x < w; x++) {
      const on = x < w - 1 && counts(row + x);
      if (on && from < 0) from = row + x;
      else if (!on && from >= 0) {
        out.push(from, row + x);
        from = -1;
      }
    }
  }
  return Int32Array.from(out);
}

/**
 * Every second cell; a coarse cell is free where the fine one at its place and all around it are. A rim that fell between
 * two coarse cells would let the correction run too far; the few cells along it are left to the smoothing.
 */
function coarser(fine: Level): Level {
  const width = (fine.width >> 1) + 1;
  const height = (fine.height >> 1) + 1;
  const kind = new Uint8Array(width * height);
  const u = new Float64Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = Math.min(2 * y, fine.height - 1) * fine.width + Math.min(2 * x, fine.width - 1);
      const o = y * width + x;
      const inside = x > 0 && y > 0 && x < width - 1 && y < height - 1;
      if (inside && isFree(fine.kind[i]) && !rimAround(fine, i)) kind[o] = FREE;
      else {
        kind[o] = fine.kind[i] === ABSENT ? ABSENT : FIXED;
        if (kind[o] === FIXED) u[o] = meanAround(fine, Math.min(2 * x, fine.width - 1), Math.min(2 * y, fine.height - 1));
      }
    }
  for (let i = 0; i < kind.length; i++)
    if (kind[i] === FREE && (kind[i - 1] === ABSENT || kind[i + 1] === ABSENT || kind[i - width] === ABSENT || kind[i + width] === ABSENT))
      kind[i] = EDGE;
  return levelOf({ width, height, kind }, u, 4 * fine.draw);
}

function rimAround({ width: w, kind }: Level, i: number): boolean {
  for (let j = i - w; j <= i + w; j += w) if (kind[j - 1] === FIXED || kind[j] === FIXED || kind[j + 1] === FIXED) return true;
  return false;
}

/** The mean of the fixed cells around. */
function meanAround({ width: w, height: h, kind, u }: Level, x: number, y: number): number {
  let sum = 0;
  let n = 0;
  for (let j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++)
    for (let i = j * w + Math.max(0, x - 1); i <= j * w + Math.min(w - 1, x + 1); i++)
      if (kind[i] === FIXED) {
        sum += u[i];
        n++;
      }
  return n ? sum / n : 0;
}

/** Adds to the membrane of level `k` what its residual asks for, found on the coarser grids. */
function correct(levels: Level[], k: number): void {
  const [fine, coarse] = [levels[k], levels[k + 1]];
  restrict(fine, coarse);
  cycle(levels, k + 1);
  interpolate(coarse.e, coarse, fine.runs, fine.width, fine.u, true);
}

/** One V-cycle on a correction. */
function cycle(levels: Level[], at: number): void {
  const here = levels[at];
  here.e.fill(0);
  if (at === levels.length - 1) {
    for (let i = 0; i < 16; i++) relax(here, here.e, here.f);
    return;
  }
  relax(here, here.e, here.f);
  relaxNear(here, here.e, here.f);
  relax(here, here.e, here.f);
  residualOf(here, here.e, here.f);
  restrict(here, levels[at + 1]);
  cycle(levels, at + 1);
  interpolate(levels[at + 1].e, levels[at + 1], here.runs, here.width, here.e, true);
  relax(here, here.e, here.f);
  relax(here, here.e, here.f);
}

/** Sweeps over the cells near the rim alone (partial relaxation; Brandt & Livne 2011, "Multigrid Techniques", 5.3: it costs little and keeps the rate of the inside). */
function relaxNear({ width, kind, near, open, draw }: Level, u: Float64Array, f: Float64Array | null): void {
  for (let i = 0; i < NEAR_SWEEPS; i++) relax({ width, kind, runs: near, open, draw }, u, f);
}

/** One Gauss–Seidel sweep over the cells of either colour of a chessboard; `f` is null for 0. */
function relax(
  { width: w, kind, runs, open, draw }: Pick<Level, "width" | "kind" | "runs" | "open" | "draw">,
  u: Float64Array,
  f: Float64Array | null,
): void {
  const share = 1 / (4 + draw);
  for (let colour = 0; colour < 2; colour++)
    for (let k = 0; k < runs.length; k += 2) {
      const from = runs[k];
      const end = runs[k + 1];
      const odd = (Math.floor(from / w) + (from % w) + colour) & 1;
      if (open)
        for (let i = from + odd; i < end; i += 2) {
          const g = f === null ? 0 : f[i];
          if (kind[i] === FREE) u[i] = share * (u[i - 1] + u[i + 1] + u[i - w] + u[i + w] - g);
          else u[i] = levelAtEdge(kind, u, i, w, g, draw);
        }
      else if (f === null) for (let i = from + odd; i < end; i += 2) u[i] = share * (u[i - 1] + u[i + 1] + u[i - w] + u[i + w]);
      else for (let i = from + odd; i < end; i += 2) u[i] = share * (u[i - 1] + u[i + 1] + u[i - w] + u[i + w] - f[i]);
    }
}

function levelAtEdge(kind: Uint8Array, u: Float64Array, i: number, w: number, f: number, draw: number): number {
  let sum = -f;
  let n = 0;
  for (const j of [i - 1, i + 1, i - w, i + w])
    if (kind[j] !== ABSENT) {
      sum += u[j];
      n++;
    }
  return n ? sum / (n + draw) : u[i];
}

/** What is left of the equation at each cell; returns the largest of it. */
function residualOf({ width: w, kind, runs, r, open, draw }: Level, u: Float64Array, f: Float64Array | null): number {
  let most = 0;
  for (let k = 0; k < runs.length; k += 2)
    for (let i = runs[k], end = runs[k + 1]; i < end; i++) {
      let v = f === null ? 0 : f[i];
      if (!open || kind[i] === FREE) v -= u[i - 1] + u[i + 1] + u[i - w] + u[i + w] - (4 + draw) * u[i];
      else {
        for (const j of [i - 1, i + 1, i - w, i + w]) if (kind[j] !== ABSENT) v -= u[j] - u[i];
        v += draw * u[i];
      }
      r[i] = v;
      if (v > most) most = v;
      else if (-v > most) most = -v;
    }
  return most;
}

/** The residual on the coarse grid, by full weighting; four times as large, since its cells lie twice as far apart. */
function restrict(fine: Level, coarse: Level): void {
  const { width: w, r } = fine;
  const { width: cw, runs, f } = coarse;
  for (let k = 0; k < runs.length; k += 2) {
    const y = Math.floor(runs[k] / cw);
    for (let o = runs[k], i = 2 * y * w + 2 * (runs[k] - y * cw); o < runs[k + 1]; o++, i += 2)
      f[o] = r[i] + 0.5 * (r[i - 1] + r[i + 1] + r[i - w] + r[i + w]) + 0.25 * (r[i - w - 1] + r[i - w + 1] + r[i + w - 1] + r[i + w + 1]);
  }
}

/** Values of the coarse grid, linearly between its cells, at runs of cells of the fine one: put there, or added to what is there. */
function interpolate(from: Float64Array, coarse: Level, runs: Int32Array, w: number, to: Float64Array, add: boolean): void {
  for (let k = 0; k < runs.length; k += 2) {
    const y = Math.floor(runs[k] / w);
    const keep = add ? 1 : 0;
    let x = runs[k] - y * w;
    let i = runs[k];
    const end = runs[k + 1];
    if (coarse.open) for (; i < end; i++, x++) to[i] = between(from, coarse, x, y) + keep * to[i];
    else {
      // the mean of two rows, which are the same one where the fine row lies on a coarse one
      let c = (y >> 1) * coarse.width + (x >> 1);
      const d = y & 1 ? coarse.width : 0;
      if (x & 1) {
        to[i] = 0.25 * (from[c] + from[c + 1] + from[c + d] + from[c + d + 1]) + keep * to[i];
        c++;
        i++;
      }
      for (; i < end; i += 2, c++) {
        to[i] = 0.5 * (from[c] + from[c + d]) + keep * to[i];
        if (i + 1 < end) to[i + 1] = 0.25 * (from[c] + from[c + 1] + from[c + d] + from[c + d + 1]) + keep * to[i + 1];
      }
    }
  }
}

function between(e: Float64Array, { width: cw, kind }: Level, x: number, y: number): number {
  const c = (y >> 1) * cw + (x >> 1);
  if (!(y & 1)) return x & 1 ? mean2(e, kind, c, c + 1) : e[c];
  if (!(x & 1)) return mean2(e, kind, c, c + cw);
  if (kind[c] === ABSENT && kind[c + 1] === ABSENT) return mean2(e, kind, c + cw, c + cw + 1);
  if (kind[c + cw] === ABSENT && kind[c + cw + 1] === ABSENT) return mean2(e, kind, c, c + 1);
  return 0.5 * (mean2(e, kind, c, c + 1) + mean2(e, kind, c + cw, c + cw + 1));
}

const mean2 = (e: Float64Array, kind: Uint8Array, a: number, b: number) =>
  kind[a] === ABSENT ? e[b] : kind[b] === ABSENT ? e[a] : 0.5 * (e[a] + e[b]);
