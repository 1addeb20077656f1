import type { Alignment } from "../motion/register";

export type StillVerdict = "locked" | "settles" | "drifts" | "moves";

export interface Stillness {
  /** How the camera stands, from the best to the worst for one plate to serve. */
  verdict: StillVerdict;
  /** The largest shift of a frame against the shot, pixels. */
  maxShift: number;
  /** For "settles": the first frame from which the camera stands still. */
  settledAt?: number;
  /** Shift (pixels), turn (degrees, clockwise) and scale of each frame against the reference. */
  perFrame: [number, number, number, number][];
}

/** Below this, in pixels, a camera counts as standing still. */
export const STILL = 0.12;
/** Beyond this one plate cannot serve the whole shot. */
const MOVES = 24;

/** A shift's farthest effect in the picture: at a corner, turn and scale count too. */
export function reach(a: Pick<Alignment, "dx" | "dy" | "angle" | "scale">, width: number, height: number): number {
  const half = Math.hypot(width, height) / 2;
  return Math.hypot(a.dx, a.dy) + half * Math.hypot((a.angle * Math.PI) / 180, a.scale - 1);
}

/**
 * What the camera does, from each frame's alignment against one reference (null: nothing agreed): "locked" while no frame
 * is off by more than 0.12 px, "settles" when that is so from some frame in the first half on, "drifts" while one plate
 * can follow it, else "moves". A turn or scale that moves the corners by less than 0.3 px counts as none.
 */
export function stillnessOf(alignments: readonly (Alignment | null)[], width: number, height: number): Stillness {
  const lost = alignments.filter((a) => !a).length;
  let last: Alignment = { dx: 0, dy: 0, angle: 0, scale: 1, agree: 0 };
  const known = alignments.map((a) => (last = a ?? last));
  const corner = Math.max(...known.map((a) => reach({ ...a, dx: 0, dy: 0 }, width, height)));
  const plain = corner < 0.3;
  const perFrame = known.map((a): Stillness["perFrame"][number] => [a.dx, a.dy, plain ? 0 : a.angle, plain ? 1 : a.scale]);
  const off = perFrame.map(([dx, dy, angle, scale]) => reach({ dx, dy, angle, scale }, width, height));
  const maxShift = Math.max(...perFrame.map(([dx, dy]) => Math.hypot(dx, dy)));
  const settle = settledAt(perFrame, width, height);
  const verdict: StillVerdict =
    lost > alignments.length / 10
      ? "moves"
      : Math.max(...off) <= STILL
        ? "locked"
        : settle !== null && settle > 0 && settle <= alignments.length / 2
          ? "settles"
          : Math.max(...off) <= MOVES
            ? "drifts"
            : "moves";
  return { verdict, maxShift, perFrame, ...(verdict === "settles" ? { settledAt: settle! } : {}) };
}

/** The first frame from which on all lie as the last ones do. */
function settledAt(perFrame: Stillness["perFrame"], width: number, height: number): number | null {
  const tail = perFrame.slice(-Math.max(3, Math.floor(perFrame.length / 4)));
  const mid = (i: 0 | 1 | 2 | 3) => tail.map((p) => p[i]).sort((a, b) => a - b)[tail.length >> 1];
  const end = { dx: mid(0), dy: mid(1), angle: mid(2), scale: mid(3) };
  for (let n = perFrame.length; n > 0; n--) {
    const [dx, dy, angle, scale] = perFrame[n - 1];
    const off = reach({ dx: dx - end.dx, dy: dy - end.dy, angle: angle - end.angle, scale: scale / end.scale }, width, height);
    if (off > STILL) return n < perFrame.length ? n : null;
  }
  return 0;
}
