import { isReframe, type ReframeLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { type Frame, maxCode, planeShift } from "../pixels/frame";
import { type Affine, lanczosPlane } from "../pixels/lanczos";
import { sitedPlane } from "../pixels/siting";
import { SCALE } from "../ranges";
import { valueAt } from "../time/keyed";
import { UserError } from "../user-error";
import type { Canvas } from "./canvas";

/** How the whole picture lies: enlarged and turned (degrees, clockwise) about its middle, then moved by take pixels. */
export interface Framing {
  x: number;
  y: number;
  scale: number;
  angle: number;
}

/** Take pixels of the picture that may be missing at a border: what rounding makes. */
const SPARE = 0.01;

const reframes = (recipe: Recipe, n: number): ReframeLayer[] =>
  recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers)
    .filter(isReframe)
    .filter((l) => l.on !== false && n >= l.in && n <= l.out);

/** Whether some layer frames frame `n` anew. */
export const isReframed = (recipe: Recipe, n: number): boolean => reframes(recipe, n).length > 0;

/** How frame `n` is framed anew; null where it stays as it is. @throws UserError where two layers would frame it */
export function framingAt(recipe: Recipe, n: number): Framing | null {
  const [layer, another] = reframes(recipe, n);
  if (!layer) return null;
  if (another)
    throw new UserError("refused", `Frame ${n} is reframed by two layers, and one a frame is allowed: switch one of them off, or end it earlier.`);
  const f = framingOf(layer, n);
  return f.x === 0 && f.y === 0 && f.scale === 1 && f.angle === 0 ? null : f;
}

/** How a layer frames frame `n`. */
export function framingOf({ place }: Pick<ReframeLayer, "place">, n: number): Framing {
  const { x, y, scale, angle } = place ?? {};
  return { x: valueAt(x ?? 0, n), y: valueAt(y ?? 0, n), scale: valueAt(scale ?? 1, n, SCALE), angle: valueAt(angle ?? 0, n) };
}

/** The first frame of a layer that would have an empty edge; null where there is none. */
export function emptyEdge(l: Pick<ReframeLayer, "place" | "in" | "out">, width: number, height: number): number | null {
  for (let n = l.in; n <= l.out; n++) if (!covers(framingOf(l, n), width, height)) return n;
  return null;
}

const withoutReframes = new WeakMap<Recipe, Recipe>();

/** The same recipe without its reframing: what is masked, followed and measured lies in take pixels. The same object for the same recipe. */
export function unframed(recipe: Recipe): Recipe {
  if (!recipe.intruders.some((i) => i.layers.some(isReframe))) return recipe;
  let r = withoutReframes.get(recipe);
  if (!r) {
    const intruders = recipe.intruders.map((i) => (i.layers.some(isReframe) ? { ...i, layers: i.layers.filter((l) => !isReframe(l)) } : i));
    withoutReframes.set(recipe, (r = { ...recipe, intruders }));
  }
  return r;
}

/** The point of the take that is seen at a point of the reframed picture, take pixels. */
export function behind({ x, y, scale, angle }: Framing, width: number, height: number): (px: number, py: number) => [number, number] {
  const [cos, sin] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const [cx, cy] = [width / 2, height / 2];
  return (px, py) => {
    const [dx, dy] = [(px - cx - x) / scale, (py - cy - y) / scale];
    return [cx + cos * dx + sin * dy, cy + cos * dy - sin * dx];
  };
}

/** What of the take is kept, as the corners of the reframed picture in take pixels, clockwise from its upper left. */
export function keptCorners(f: Framing, width: number, height: number): [number, number][] {
  const back = behind(f, width, height);
  return [back(0, 0), back(width, 0), back(width, height), back(0, height)];
}

/** Whether the picture covers all of its frame. */
export const covers = (f: Framing, width: number, height: number): boolean =>
  keptCorners(f, width, height).every(([x, y]) => x >= -SPARE && y >= -SPARE && x <= width + SPARE && y <= height + SPARE);

/**
 * A frame framed anew: each plane at its own sited positions, by the Lanczos kernel, rounded once.
 * @throws UserError where it would leave an edge empty
 */
export function reframed(frame: Frame, framing: Framing, n: number, { scale, siting }: Pick<Canvas, "scale" | "siting">): Frame {
  const { width, height, format } = frame;
  const f = { ...framing, x: framing.x * scale, y: framing.y * scale };
  if (!covers(f, width, height))
    throw new UserError("refused", `Reframed as it is, frame ${n} would have an empty edge: enlarge it, turn it less, or move it less.`);
  const back = behind(f, width, height);
  const planes = frame.planes.map((plane, p) => {
    const { sx, sy } = planeShift(format, p);
    const at = sitedPlane(format, p, siting);
    const [kx, ky] = [1 << sx, 1 << sy];
    // samples are points at their sited luma positions
    const read = (px: number, py: number): [number, number] => {
      const [u, v] = back(px * kx + at.x0, py * ky + at.y0);
      return [(u - at.x0) / kx, (v - at.y0) / ky];
    };
    const [c, fy] = read(0, 0);
    const [ac, dc] = read(1, 0);
    const [bc, ec] = read(0, 1);
    const map: Affine = { a: ac - c, b: bc - c, c, d: dc - fy, e: ec - fy, f: fy };
    if (f.angle === 0) map.b = map.d = 0;
    return lanczosPlane(plane, map, maxCode(format));
  });
  return { ...frame, planes };
}
