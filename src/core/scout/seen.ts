import { withParts } from "./along";
import type { Point } from "../document/geometry";
import { Apart } from "./apart";
import { backgroundOf, type Cells } from "../plate/cells";
import { byEnds, byHabit, byLeaving, byThread, type Guess, HIGH, isThin, LOW, some } from "./guess";
import { median } from "../motion/gray";
import { both, count, type Grid, gridOf, grown, hysteresis, pieces, without } from "../plate/regions";
import { inLightOfPlace } from "./local-light";
import { loopRound, ringsOf, tidyForm } from "./rings";

/** Where and when a thing is seen. Frames are the take's own. */
export interface Seen {
  /** Whether it is there in every frame, so that the shot has no background behind it. */
  never: boolean;
  /** First frame in which it is seen. */
  first: number;
  /** Last frame in which it is seen. */
  last: number;
  /** The frame in which most of it is seen. */
  worst: number;
  /** Its bounds at the worst frame, pixels. */
  box: { x0: number; y0: number; x1: number; y1: number };
  /** How much of it is seen in each frame of the shot, pixels. */
  area: number[];
  /** What was found of it on each frame: the outlines, in take pixels; none where it is not seen. */
  forms: Point[][][];
  /** A loop round all of it on the frame it was outlined on, where it goes on beyond the outline. */
  whole: Point[] | null;
  /** By how many pixels it moves at most from where it was outlined. */
  moves: number;
  /** Stretches in which something else is where it was. */
  others: [number, number][];
  /** Stretches in which it reaches beyond the outline it was drawn round with: a patch of that shape leaves it there. */
  beyond: [number, number][];
  /** The cleanest frames for its area, best first, and how far they are off the background there: 1 is the noise. */
  clean: { frame: number; off: number; side: "before" | "after" }[];
}

/** Cells that come and go all the time, as what bobs, flaps or ripples does: a thing that passes does so once or twice. */
function living(offs: readonly Float32Array[], width: number, height: number): Grid {
  const turns = new Uint16Array(width * height);
  for (let f = 1; f < offs.length; f++) {
    const [a, b] = [offs[f - 1], offs[f]];
    for (let i = 0; i < turns.length; i++) if (a[i] > LOW !== b[i] > LOW) turns[i]++;
  }
  const most = Math.max(6, offs.length / 16);
  const data = new Uint8Array(turns.length);
  for (let i = 0; i < data.length; i++) data[i] = turns[i] > most ? 1 : 0;
  return { width, height, data };
}

/** Pieces of `g` that touch `near`. */
function touching(g: Grid, near: Grid): Grid {
  const data = new Uint8Array(g.data.length);
  for (const piece of pieces(g)) if (piece.some((i) => near.data[i])) for (const i of piece) data[i] = 1;
  return { ...g, data };
}

/**
 * Finds when the thing outlined roughly at frame `at` is seen: what differs from the background there is followed from
 * frame to frame as long as it hangs together with where it was.
 * @param frames the shot's frames as cells, in one light and place; @param from number of the first of them
 */
export function whereSeen(frames: readonly Cells[], from: number, at: number, outline: readonly (readonly number[])[]): Seen {
  const { width, height, cell } = frames[0];
  const wanted = gridOf(outline, width, height, cell);
  const room = count(wanted);
  if (room === 0) throw new RangeError("The outline is too small: draw it round the thing with some room.");
  const here = at - from;
  const often = backgroundOf(some(frames));
  const found = byLeaving(frames, here, wanted) ?? byHabit(frames, often, here, wanted);
  const habit = (!found || isThin(both(found.mask, wanted)) ? byThread(frames, often, here, wanted) : null) ?? found;
  const first = habit && follow(frames, from, here, wanted, habit);
  // what has left the place it was outlined in is not what is there most often
  if (first && (first.moves > farAcross(outline) || (first.clean.length && first.clean[0].off < CLEAN))) return drawn(first, cell);
  const ends = byEnds(frames, often, here, wanted);
  const best = (ends && follow(frames, from, here, wanted, ends)) ?? first;
  return best ? drawn(best, cell) : never(frames, from, here, wanted);
}

/** The larger side of an outline, pixels. */
function farAcross(outline: readonly (readonly number[])[]): number {
  const [xs, ys] = [0, 1].map((k) => outline.map((p) => p[k]));
  return Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
}

/** Beyond this many standard deviations over its area no frame counts as clean. */
const CLEAN = 4;

/** What was found, before it is drawn: the form on each frame, and all of it where it goes on beyond the outline. */
type Followed = Omit<Seen, "forms" | "whole"> & { masks: readonly (Grid | null)[]; whole: Grid | null };

const drawn = ({ masks, whole, ...seen }: Followed, cell: number): Seen => ({
  ...seen,
  forms: masks.map((m) => (m ? ringsOf(tidyForm(m), cell) : [])),
  whole: whole && loopRound(tidyForm(whole), cell),
});

/** Follows a thing from frame `here` both ways. */
function follow(shot: readonly Cells[], from: number, here: number, wanted: Grid, { background: back, mask: thing, off: offOf }: Guess): Followed {
  const frames = shot.map((f) => inLightOfPlace(f, back));
  const { width, height, cell } = frames[0];
  const n = frames.length;

  const offs = frames.map((f) => offOf(f, back));
  const lives = living(offs, width, height);
  for (const o of offs) for (let i = 0; i < o.length; i++) if (lives.data[i]) o[i] = 0;
  const all = offs.map((o) => hysteresis(o, width, height, LOW, HIGH));
  const mask = withParts(frames, all, here, both(thing, all[here]), wanted);
  const masks: (Grid | null)[] = Array<Grid | null>(n).fill(null);
  masks[here] = mask;
  const least = Math.max(4, (0.0001 * width * height) | 0);
  let moves = 0;
  /** Cells of it in each frame, those behind another among them. */
  const sizes = new Array<number>(n).fill(0);
  sizes[here] = count(mask);
  const go = (dir: 1 | -1) => {
    const apart = new Apart(frames[here], all[here], mask);
    let gap = 0;
    for (let i = here + dir; i >= 0 && i < n && gap < 3; i += dir) {
      const { mask: m, hidden } = apart.next(frames[i], all[i], least);
      gap = m || hidden ? 0 : gap + 1;
      masks[i] = m;
      sizes[i] = hidden + (m ? count(m) : 0);
      if (m) moves = Math.max(moves, cell * Math.hypot(...apart.moved));
    }
  };
  go(1);
  go(-1);
  alone(sizes, here).forEach((mine, i) => !mine && (masks[i] = null));
  const area = masks.map((m) => (m ? count(m) * cell * cell : 0));
  const first = area.findIndex((a) => a > 0);
  const last = area.findLastIndex((a) => a > 0);
  const worst = fullest(masks, offs, first, last);

  // the area that must be clean: all the places it passes
  const passed: Grid = { width, height, data: new Uint8Array(wanted.data) };
  for (const m of masks) if (m) for (let i = 0; i < m.data.length; i++) passed.data[i] |= m.data[i];
  const off = offs.map((o) => {
    let s = 0;
    let k = 0;
    for (let i = 0; i < o.length; i++)
      if (passed.data[i]) {
        s += Math.min(o[i], 20) ** 2;
        k++;
      }
    return Math.sqrt(s / k);
  });
  // a cell of room: an outline is drawn by hand
  const reached = grown(wanted, 1);
  const outside = masks.map((m) => !!m && count(without(m, reached)) > least);
  const others: [number, number][] = [];
  const dirty = (i: number) => (i < first || i > last) && count(touching(all[i], passed)) > Math.max(least, 0.05 * count(masks[worst]!));
  for (let i = 0; i < n; i++) {
    if (!dirty(i)) continue;
    const end = others.at(-1);
    if (end && end[1] >= from + i - 2) end[1] = from + i;
    else others.push([from + i, from + i]);
  }
  return {
    never: false,
    first: from + first,
    last: from + last,
    worst: from + worst,
    box: boxOf(masks[worst]!, cell),
    area,
    masks,
    whole: count(without(mask, reached)) > least ? mask : null,
    moves: Math.round(moves),
    others,
    beyond: stretches(outside, from),
    clean: cleanest(off, frames, first, last, worst, from),
  };
}

/**
 * Which frames belong to the thing itself: where its size shrinks to a valley and grows again beyond, another thing takes over
 * where it left. Also left out is what is hardly there beside its full size.
 */
function alone(sizes: readonly number[], here: number): boolean[] {
  const most = Math.max(...sizes);
  const mine = sizes.map(() => false);
  for (const dir of [1, -1]) {
    let peak = sizes[here];
    let low = here;
    for (let i = here; i >= 0 && i < sizes.length; i += dir) {
      if (sizes[i] < 0.004 * most) {
        // one frame that falls out is no end
        if (!(sizes[i + dir] >= 0.004 * most)) break;
        continue;
      }
      if (sizes[i] <= sizes[low]) low = i;
      else if (sizes[low] < 0.3 * peak && sizes[i] > 1.8 * sizes[low] && sizes[i] > 0.15 * most) {
        for (let k = low; k !== i + dir; k += dir) mine[k] = false;
        mine[low] = true;
        break;
      }
      peak = Math.max(peak, sizes[i]);
      mine[i] = true;
    }
  }
  return mine;
}

/** The frame in which most is seen: by how far its cells are off, averaged over a few frames so that noise does not decide. */
function fullest(masks: (Grid | null)[], offs: readonly Float32Array[], first: number, last: number): number {
  // a cell it covers by half is off by half of what one is that it fills
  const filled: number[] = [];
  masks.forEach((m, i) => m?.data.forEach((v, k) => v && (i + k) % 7 === 0 && filled.push(offs[i][k])));
  const full = median(filled);
  const soft = masks.map((m, i) => {
    let s = 0;
    if (m) for (let k = 0; k < m.data.length; k++) if (m.data[k]) s += Math.min(1, offs[i][k] / full);
    return s;
  });
  let best = first;
  let most = 0;
  for (let i = first; i <= last; i++) {
    const part = soft.slice(Math.max(first, i - 3), Math.min(last, i + 3) + 1);
    const mean = part.reduce((a, b) => a + b, 0) / part.length;
    if (mean > most) [most, best] = [mean, i];
  }
  return best;
}

/** The cleanest frames before and after, best first: near the background, in the light of the worst frame, close in time, and not all in one place. */
function cleanest(off: number[], frames: readonly Cells[], first: number, last: number, worst: number, from: number): Seen["clean"] {
  const light = (i: number) => Math.abs(frames[i].light[0].gain / frames[worst].light[0].gain - 1);
  const cost = off.map((o, i) => o + 20 * light(i) + 0.004 * Math.min(Math.abs(i - first), Math.abs(i - last)));
  const order = cost.map((_, i) => i).filter((i) => i < first || i > last);
  order.sort((a, b) => cost[a] - cost[b]);
  const out: Seen["clean"] = [];
  for (const side of ["before", "after"] as const) {
    const taken: number[] = [];
    for (const i of order) {
      if (taken.length === 3) break;
      if ((side === "before") !== i < first || taken.some((t) => Math.abs(t - i) < 4)) continue;
      taken.push(i);
      out.push({ frame: from + i, off: off[i], side });
    }
  }
  return out.sort((a, b) => cost[a.frame - from] - cost[b.frame - from]);
}

/** Runs of frames for which something holds. */
function stretches(holds: boolean[], from: number): [number, number][] {
  const out: [number, number][] = [];
  holds.forEach((h, i) => {
    if (!h) return;
    const last = out.at(-1);
    if (last && last[1] === from + i - 1) last[1]++;
    else out.push([from + i, from + i]);
  });
  return out;
}

function boxOf(g: Grid, cell: number): Seen["box"] {
  let [x0, y0, x1, y1] = [g.width, g.height, 0, 0];
  g.data.forEach((v, i) => {
    if (!v) return;
    const x = i % g.width;
    const y = (i - x) / g.width;
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
  });
  return { x0: x0 * cell, y0: y0 * cell, x1: x1 * cell, y1: y1 * cell };
}

/**
 * Of a thing that goes along with what it sits on the shot shows no background: what differs from that in its place is itself, elsewhere.
 * @param from number of the shot's first frame @param at that on which it was outlined
 */
export const carriedAlong = ({ area, box }: Seen, from: number, at: number): Seen => always(from, area.length, at, area[at - from] || 1, box);

function never(frames: readonly Cells[], from: number, here: number, wanted: Grid): Seen {
  const { cell } = frames[0];
  return always(from, frames.length, from + here, count(wanted) * cell ** 2, boxOf(wanted, cell));
}

/** What is there in all frames. */
function always(from: number, frames: number, at: number, area: number, box: Seen["box"]): Seen {
  return {
    ...{ never: true, first: from, last: from + frames - 1, worst: at, box },
    ...{
      area: new Array<number>(frames).fill(area),
      forms: Array.from({ length: frames }, () => []),
      whole: null,
      moves: 0,
      others: [],
      beyond: [],
      clean: [],
    },
  };
}
