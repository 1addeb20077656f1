import type { Point } from "../../document/geometry";
import { pieces } from "../../plate/regions";
import { convexHull } from "../../shape/hull";
import { boxOf, isOwn, joinedPieces, LEAST_ALONE, LEAST_CELLS } from "../crossing";
import type { Finding } from "../finding";
import { type CellGrid, marked, pixelsOf } from "../grid";
import type { PatchRecord } from "../patch-record";
import { UNLIKE } from "../sight";
import { type Bare, type Uncovered, uncoveredFrom } from "../uncovered";
import { finding, framesOf, times } from "./telling";

/** What is seen in a single frame, and of few cells, has to be so many times as strong. */
const ALONE = 2;

/** Frames in words. */
const count = (n: number) => (n === 1 ? "one frame" : `${n} frames`);

/** The frames in which a patch hides anything, in their order. */
export const hidesIn = (r: PatchRecord): number[] =>
  [...r.hidden].flatMap(([n, cells]) => (cells.reduce((s, v) => s + v, 0) >= LEAST_CELLS ? [n] : [])).sort((a, b) => a - b);

/** The things that the patch's edge cuts through, and whether they are what was to go. */
export function crossingsOf(r: PatchRecord) {
  const hides = hidesIn(r);
  const told = joinedPieces(r.cuts).map((pieces) => ({ pieces, own: isOwn(r.grid, pieces, r.kept, hides) }));
  return [...told, ...joinedPieces(r.passers).map((pieces) => ({ pieces, own: false }))];
}
export type Crossings = ReturnType<typeof crossingsOf>;

/** What is hidden in the patch's first or last frames, and seen beside them. */
export function uncovered(r: PatchRecord, cut: Crossings): Finding[] {
  const laid = framesOf(r);
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
export function crossings(r: PatchRecord, cut: Crossings): Finding[] {
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
    const told = finding(r, own ? "leak" : "bite", frames, worst.n, pixelsOf(r.grid, worst.box), { value: worst.off, limit: UNLIKE }, words);
    return own ? told : { ...told, outline: outlineOf(r.grid, c) };
  });
}

/** A loop round what is seen of a thing, by a cell wider than that, on the frame on which most is seen and least hidden. */
function outlineOf(g: CellGrid, pieces: Crossings[number]["pieces"]): NonNullable<Finding["outline"]> {
  const best = pieces.reduce((a, b) => (b.visible.length - b.hidden > a.visible.length - a.hidden ? b : a));
  const corners = best.visible.flatMap((i): Point[] => {
    const [x, y] = [i % g.across, Math.floor(i / g.across)];
    const { x0, y0, x1, y1 } = pixelsOf(g, { x0: x - 1, y0: y - 1, x1: x + 2, y1: y + 2 });
    return [[x0, y0], [x1, y0], [x1, y1], [x0, y1]]; // prettier-ignore
  });
  return { f: best.n, points: convexHull(corners).map(([x, y]) => [x, y]) };
}

/** In so many of its frames something has to be there beside a patch that hides nothing, and in no more of those without it. */
const BESIDE = { laid: 0.6, bare: 0.25 };

/** Something that is there beside a patch as long as the patch is, while that hides nothing: it lies where the thing is not. */
export function missed(r: PatchRecord): Finding[] {
  if (hidesIn(r).length) return [];
  const largest = (n: number) => {
    const near = r.nearAt(n);
    const data = r.kept.get(n)!.visible.map((v, i) => Number(v && near[i]));
    return pieces(marked(r.grid, data)).reduce<number[]>((a, p) => (p.length > a.length ? p : a), []);
  };
  const told = [...r.kept.values()].map(({ n, laid }) => ({ n, laid, cells: largest(n) }));
  const [laid, bare] = [true, false].map((is) => told.filter((t) => t.laid === is));
  const there = (list: typeof told) => list.filter((t) => t.cells.length >= LEAST_ALONE);
  const seen = there(laid);
  if (seen.length < BESIDE.laid * laid.length || there(bare).length > BESIDE.bare * bare.length) return [];
  const worst = seen.reduce((a, b) => (b.cells.length > a.cells.length ? b : a));
  const box = pixelsOf(r.grid, boxOf(r.grid, worst.cells));
  const words = {
    says: "The patch hides nothing, and something that is there only while it is laid is seen beside it.",
    do: "Draw the mask where the thing is.",
    remedy: "none" as const,
  };
  return [
    finding(
      r,
      "leak",
      seen.map((t) => t.n),
      worst.n,
      box,
      { value: worst.cells.length, limit: LEAST_ALONE },
      words,
    ),
  ];
}
