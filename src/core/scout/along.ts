import type { Cells } from "../plate/cells";
import { Layer, type Shift } from "./layer";
import { both, type Grid, gridWith, grown, pieces, without } from "../plate/regions";

/** Frames on either side in which it is looked what moves along. */
const FRAMES = 12;
/** Cells a thing may move otherwise than before from one frame to the next, and how unlike itself it may be for that to be known. */
const TURN = 3;
const LOST = 1.5;
/** Cells by which a thing has to have moved for what lies apart from it to be told to move along. */
const MOVED = 3;
/** How unlike itself a cell is that did not move along; and by how much less it has to be where something moves by itself. */
const UNLIKE = 0.7;
const WORSE = 0.25;
/** Fewest cells of a part; and how many that lie apart are asked, the largest first. */
const SPECK = 4;
const MANY = 6;
/** Cells beside the thing within which its shadow is looked for. */
const NEAR = 16;
/** Cells by which an outline drawn by hand may miss. */
const ROUGH = 2;

/** What is seen, and what of it differs from the ground; frame by frame. */
interface Shot {
  frames: readonly Cells[];
  differs: readonly Grid[];
}
/** Where something has gone in the frames about the one it is looked at. */
type Path = readonly { frame: number; shift: Shift }[];

/**
 * An outlined thing with what moves along with it, such as its pole beyond the outline and its shadow; without what only hangs together with it
 * on this frame and goes its own way. Of what stands as the thing does, what is joined to it counts as its part, and nothing else.
 * @param mask what of the outlined piece differs from the ground @param wanted the outline
 */
export function withParts(frames: readonly Cells[], differs: readonly Grid[], here: number, mask: Grid, wanted: Grid): Grid {
  const shot = { frames, differs };
  const room = grown(wanted, ROUGH);
  const core = both(mask, room);
  const look = frames[here];
  const thing = new Layer(core, look);
  const path = pathOf(thing, shot, here);
  const out = { ...core, data: core.data.slice() };
  const part = (cells: readonly number[]) => new Layer(gridWith(cells, mask), look);
  for (const piece of pieces(without(mask, room))) for (const i of along(part(piece), path, shot, here)) out.data[i] = 1;
  if (Math.max(0, ...path.map(({ shift }) => Math.hypot(...shift))) < MOVED) return out;
  const beside = pieces(both(without(differs[here], mask), grown(core, NEAR))).filter((p) => p.length >= SPECK);
  for (const piece of beside.sort((a, b) => b.length - a.length).slice(0, MANY))
    if (2 * along(part(piece), path, shot, here).length > piece.length) for (const i of piece) out.data[i] = 1;
  return out;
}

/** Where a thing has gone in the frames about the one it was outlined on. */
function pathOf(thing: Layer, { frames, differs }: Shot, here: number): Path {
  const out: { frame: number; shift: Shift }[] = [];
  if (!thing.cells.length) return out;
  for (const way of [1, -1]) {
    let shift: Shift = [0, 0];
    for (let f = here + way; f >= 0 && f < frames.length && Math.abs(f - here) <= FRAMES; f += way) {
      const moved = thing.moved(frames[f], differs[f], TURN, shift);
      if (moved.cost > LOST) break;
      shift = moved.shift;
      out.push({ frame: f, shift });
    }
  }
  return out;
}

/** Which cells of a part move as the thing does: those that are more like themselves where it takes them than where the rest goes by itself. */
function along(part: Layer, path: Path, shot: Shot, here: number): number[] {
  const together = costs(part, path, shot);
  const rest = part.cells.filter((_, k) => together[k] > UNLIKE);
  if (rest.length < SPECK) return [...part.cells];
  const own = pathOf(new Layer(gridWith(rest, part.mask), part.look), shot, here);
  const alone = own.length ? costs(part, own, shot) : null;
  return smoothed(part, (k) => together[k] <= (alone ? alone[k] + WORSE : UNLIKE));
}

/** How unlike itself each cell of a part is along a path, at the mean of its frames; 0 where there is none. */
function costs(part: Layer, path: Path, { frames, differs }: Shot): Float32Array {
  return Float32Array.from(part.cells, (i) => {
    let [sum, n] = [0, 0];
    for (const { frame, shift } of path) {
      const off = part.costAt(i, frames[frame], differs[frame], shift);
      if (off < 0) continue;
      sum += off;
      n++;
    }
    return n ? sum / n : 0;
  });
}

/** The cells of a part for which something holds, each as most of those about it. */
function smoothed({ cells, mask: { width, height } }: Layer, holds: (k: number) => boolean): number[] {
  const of = new Map(cells.map((i, k) => [i, holds(k)]));
  return cells.filter((i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let votes = of.get(i) ? 0.5 : -0.5;
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const said = of.get(v * width + u);
        if (said !== undefined) votes += said ? 1 : -1;
      }
    return votes > 0;
  });
}
