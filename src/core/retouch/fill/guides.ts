/** A straight line that is carried on through a hole: the points (x, y) with x·nx + y·ny = d, n a unit vector; pixels, centres at halves. */
export interface Guide {
  nx: number;
  ny: number;
  d: number;
}

const ANGLES = 360;
/** How far from the hole a line is looked for, and how near to it it must begin; pixels. */
const BAND = 22;
const NEAR = 9;
const MOST = 24;
/** Votes below which a line is none. */
const LEAST_VOTES = 60;

export const throughPoints = (a: readonly number[], b: readonly number[]): Guide => {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const l = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [-dy / l, dx / l];
  return { nx, ny, d: nx * a[0] + ny * a[1] };
};

export const halfGuide = (g: Guide): Guide => ({ ...g, d: g.d / 2 });

/**
 * Straight edges that go into a hole on one side and come out of it on another: a Hough transform (Duda & Hart 1972) of the edge
 * points in a band round the hole, each voting in the direction of its own gradient; a line must have points on both sides,
 * with the same side bright. Strongest first.
 */
export function linesAcross(luma: Float32Array, width: number, height: number, hole: Uint8Array, distance: Float32Array): Guide[] {
  interface Edge {
    x: number;
    y: number;
    theta: number;
    mag: number;
  }
  const edges: Edge[] = [];
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      if (hole[i] || distance[i] > BAND || distance[i] < 3) continue;
      const gx = luma[i + 1 - width] + 2 * luma[i + 1] + luma[i + 1 + width] - luma[i - 1 - width] - 2 * luma[i - 1] - luma[i - 1 + width];
      const gy = luma[i + width - 1] + 2 * luma[i + width] + luma[i + width + 1] - luma[i - width - 1] - 2 * luma[i - width] - luma[i - width + 1];
      const mag = Math.hypot(gx, gy) / 8;
      if (mag < 2.5) continue;
      edges.push({ x: x + 0.5, y: y + 0.5, theta: Math.atan2(gy, gx), mag: Math.min(mag, 12) });
    }
  if (edges.length < 12) return [];
  const reach = Math.hypot(width, height);
  const bins = 2 * Math.ceil(reach) + 1;
  const votes = new Float32Array(ANGLES * bins);
  for (const e of edges) {
    const centre = Math.round((e.theta / (2 * Math.PI)) * ANGLES);
    for (let k = -5; k <= 5; k++) {
      const a = (((centre + k) % ANGLES) + ANGLES) % ANGLES;
      const t = (2 * Math.PI * a) / ANGLES;
      const d = Math.round(e.x * Math.cos(t) + e.y * Math.sin(t) + reach);
      if (d >= 0 && d < bins) votes[a * bins + d] += e.mag;
    }
  }
  const out: Guide[] = [];
  const peaks: number[] = [];
  for (let i = 0; i < votes.length; i++) if (votes[i] >= LEAST_VOTES) peaks.push(i);
  peaks.sort((a, b) => votes[b] - votes[a]);
  let tried = 0;
  for (const best of peaks) {
    if (tried === 3 * MOST || out.length === MOST) break;
    if (votes[best] === 0) continue;
    tried++;
    const a = Math.floor(best / bins);
    const d = (best % bins) - reach;
    // whatever becomes of it, it and its neighbours are done with
    for (let k = -4; k <= 4; k++)
      for (let j = -3; j <= 3; j++) {
        const at = (best % bins) + j;
        if (at >= 0 && at < bins) votes[((a + k + ANGLES) % ANGLES) * bins + at] = 0;
      }
    const line = refined({ nx: Math.cos((2 * Math.PI * a) / ANGLES), ny: Math.sin((2 * Math.PI * a) / ANGLES), d }, edges);
    if (line && crosses(line, edges, hole, width, height) && !out.some((g) => alike(g, line, width, height))) out.push(line);
  }
  return out;

  function refined(g: Guide, all: Edge[]): Guide | null {
    let line = g;
    for (let round = 0; round < 3; round++) {
      const near = all.filter((e) => Math.abs(e.x * line.nx + e.y * line.ny - line.d) < 2.5 - 0.5 * round && along(e, line) > 0.94);
      if (near.length < 8) return null;
      let [s, mx, my] = [0, 0, 0];
      for (const e of near) {
        s += e.mag;
        mx += e.mag * e.x;
        my += e.mag * e.y;
      }
      mx /= s;
      my /= s;
      let [xx, xy, yy] = [0, 0, 0];
      for (const e of near) {
        xx += e.mag * (e.x - mx) ** 2;
        xy += e.mag * (e.x - mx) * (e.y - my);
        yy += e.mag * (e.y - my) ** 2;
      }
      // the direction of the points' greatest spread; its normal, on the side of the gradient
      const t = 0.5 * Math.atan2(2 * xy, xx - yy);
      let [nx, ny] = [-Math.sin(t), Math.cos(t)];
      if (nx * line.nx + ny * line.ny < 0) [nx, ny] = [-nx, -ny];
      line = { nx, ny, d: nx * mx + ny * my };
    }
    return line;
  }

  /** How well an edge point's gradient agrees with a line's normal. */
  function along(e: Edge, l: Guide): number {
    return Math.cos(e.theta) * l.nx + Math.sin(e.theta) * l.ny;
  }

  /** Whether a line has points close before and close behind a run of it through the hole. */
  function crosses(l: Guide, all: Edge[], h: Uint8Array, w: number, hh: number): boolean {
    const near = all.filter((e) => Math.abs(e.x * l.nx + e.y * l.ny - l.d) < 1.6 && along(e, l) > 0.94).map((e) => e.y * l.nx - e.x * l.ny);
    let from: number | null = null;
    for (let t = -reach; t <= reach; t += 0.5) {
      const x = Math.floor(l.nx * l.d - l.ny * t);
      const y = Math.floor(l.ny * l.d + l.nx * t);
      const inside = x >= 0 && y >= 0 && x < w && y < hh && h[y * w + x] === 1;
      if (inside) from ??= t;
      else if (from !== null) {
        const before = near.filter((v) => v < from! && v > from! - BAND);
        const after = near.filter((v) => v > t && v < t + BAND);
        if (t - from > 4 && before.length >= 5 && after.length >= 5 && Math.max(...before) > from - NEAR && Math.min(...after) < t + NEAR)
          return true;
        from = null;
      }
    }
    return false;
  }
}

const alike = (a: Guide, b: Guide, w: number, h: number) => {
  const same = a.nx * b.nx + a.ny * b.ny;
  if (Math.abs(same) < 0.998) return false;
  const off = (g: Guide) => g.nx * (w / 2) + g.ny * (h / 2) - g.d;
  return Math.abs(off(a) - Math.sign(same) * off(b)) < 2;
};
