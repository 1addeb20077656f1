import { GROW, PX } from "../ranges";
import type { Mask, PaintedShape, Shape } from "../document/mask";
import { type Rect, union } from "../pixels/frame";
import type { Cutouts } from "../cutout/cutout-data";
import { cutoutMatte } from "./cutout";
import { strokeBounds, strokeMatte } from "./stroke";
import { changesInTime, valueAt } from "../time/keyed";
import { boundaryOf } from "./boundary";
import { halfContour } from "./contour";
import { coverage } from "./coverage";
import { cropped, emptyMatte, inverted, join, type Matte } from "./matte";
import { isHard, hardMatte } from "./hard";
import { boundsOf, grown, softened } from "./edge";
import { type MaskPictures, pictureMatte } from "./picture";
import { shapePolygon } from "./polygon";

/**
 * α of a mask at frame `n` over a picture of `width` × `height` (the take's size × `scale`).
 * Shapes join in order from empty, each with its own grow and feather; then the mask's grow and feather, by the shapes' own distances
 * where all are hard, else from the α = ½ contour; then invert; then cut-outs that are held out. The picture's border is no edge: shapes are followed beyond it as far as needed.
 */
export function maskMatte(mask: Mask, n: number, width: number, height: number, scale = 1, pictures?: MaskPictures, cutouts?: Cutouts): Matte {
  const heldOut = heldOutOf(mask);
  const drawn: Mask = { ...mask, shapes: mask.shapes.filter((s) => s.on !== false && !heldOut.includes(s)) };
  const fresh = () => drawnMatte(drawn, n, width, height, scale, pictures, cutouts);
  if (!heldOut.length) return fresh();
  // who is held out moves; what they are held out of mostly does not
  const still = !drawn.shapes.some((s) => s.kind === "picture") && !changesInTime(drawn);
  const key = `${width}x${height}/${scale}`;
  const known = still ? drawnOnce.get(mask) : undefined;
  let m = known?.key === key ? known.matte : fresh();
  if (still) drawnOnce.set(mask, { key, matte: m });
  const picture: Rect = { x0: 0, y0: 0, x1: width, y1: height };
  for (const s of heldOut) m = { ...join(m, shapeMatte(s, n, picture, scale, pictures, cutouts), "cut"), outside: m.outside };
  return m;
}

/** Of masks that stay as they are, what things are held out of. */
const drawnOnce = new WeakMap<Mask, { key: string; matte: Matte }>();

/** A mask before anything is held out of it. */
function drawnMatte(mask: Mask, n: number, width: number, height: number, scale: number, pictures?: MaskPictures, cutouts?: Cutouts): Matte {
  const feather = valueAt(mask.feather ?? 0, n, PX) * scale;
  const grow = valueAt(mask.grow ?? 0, n, GROW) * scale;
  const soft = feather !== 0 || grow !== 0;
  const pad = soft ? Math.ceil(Math.abs(grow) + Math.max(feather, 1) / 2) + 1 : 0;
  const field: Rect = { x0: -pad, y0: -pad, x1: width + pad, y1: height + pad };
  const picture: Rect = { x0: 0, y0: 0, x1: width, y1: height };
  const hard = mask.shapes.filter((s) => isHard(s, n));
  let m = emptyMatte();
  if (soft && hard.length === mask.shapes.length) m = hardMatte(hard, n, feather, grow, field, scale);
  else {
    for (const shape of mask.shapes) m = join(m, shapeMatte(shape, n, field, scale, pictures, cutouts), shape.op);
    // a shape that is soft has no line to measure from but that of its half
    if (soft && m.data.length) m = softened(halfContour(m), m, feather, grow, field);
  }
  m = cropped(m, picture);
  return mask.invert ? inverted(m, picture) : m;
}

/** What is held out of a mask: from the finished one, with an edge of its own. */
const heldOutOf = (mask: Mask): Shape[] => mask.shapes.filter((s) => s.on !== false && s.kind === "cutout" && s.op === "cut");

/** How much of each pixel a mask holds out at frame `n`, thing by thing, as `maskMatte` has it. */
export const heldOutMattes = (mask: Mask, n: number, width: number, height: number, scale = 1, cutouts?: Cutouts): Matte[] =>
  heldOutOf(mask).map((s) => shapeMatte(s, n, { x0: 0, y0: 0, x1: width, y1: height }, scale, undefined, cutouts));

/**
 * α of a painted shape over `field`, also beyond the picture: its strokes in order, each laid *over* what is there (Porter & Duff 1984), an erasing one taking its
 * share away; strokes with a stretch of frames count only within it.
 */
function paintedMatte(shape: PaintedShape, n: number, field: Rect, scale: number): Matte {
  const size = `${field.x0},${field.y0},${field.x1},${field.y1}/${scale}`;
  const strokes = shape.strokes.filter((s) => !s.frames || (n >= s.frames[0] && n <= s.frames[1]));
  const known = under.filter((k) => k.size === size && k.strokes.length < strokes.length && k.strokes.every((s, i) => s === strokes[i]));
  const most = known.sort((a, b) => b.strokes.length - a.strokes.length)[0];
  let m = most?.matte ?? emptyMatte();
  for (let i = most?.strokes.length ?? 0; i < strokes.length; i++) {
    // all but the last is kept: a stroke that is being drawn, or one more, costs only itself
    if (i === strokes.length - 1 && i > 0) {
      under = [{ size, strokes: strokes.slice(0, i), matte: m }, ...under.filter((k) => k !== most)].slice(0, 4);
    }
    const s = strokes[i];
    const stroke = strokeMatte(
      { ...s.brush, size: s.brush.size * scale },
      s.path.map((p) => [p[0] * scale, p[1] * scale, ...p.slice(2)]),
      field,
    );
    m = join(m, stroke, s.erase ? "cut" : "over");
  }
  return m;
}

/** What was painted under the newest strokes, newest first. */
let under: { size: string; strokes: readonly object[]; matte: Matte }[] = [];

function shapeMatte(shape: Shape, n: number, field: Rect, scale: number, pictures?: MaskPictures, cutouts?: Cutouts): Matte {
  const feather = valueAt(shape.feather ?? 0, n, PX) * scale;
  const grow = valueAt(shape.grow ?? 0, n, GROW) * scale;
  if (shape.kind === "painted" || shape.kind === "picture" || shape.kind === "cutout") {
    // both go on beyond the border, which is no edge: their contour is followed as far as the edge reaches
    const beyond = grown(field, Math.ceil(Math.abs(grow) + Math.max(feather, 1) / 2) + 1, EVERYWHERE);
    const m =
      shape.kind === "painted"
        ? paintedMatte(shape, n, beyond, scale)
        : shape.kind === "picture"
          ? pictureMatte(shape, beyond, scale, pictures)
          : cutoutMatte(shape, n, beyond, scale, cutouts);
    return (feather === 0 && grow === 0) || m.data.length === 0 ? m : softened(halfContour(m), m, feather, grow, field);
  }
  const edges = boundaryOf(shapePolygon(shape, n, scale));
  if (edges.length === 0) return emptyMatte();
  const bounds = boundsOf(edges);
  if (feather !== 0 || grow !== 0) return softened(edges, bounds, feather, grow, field);
  const rect = grown(bounds, 0, field);
  return { ...rect, data: coverage(edges, rect), outside: 0 };
}

const NOWHERE: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
const EVERYWHERE: Rect = { x0: -Infinity, y0: -Infinity, x1: Infinity, y1: Infinity };

/** A rectangle of whole pixels outside which α of a mask at frame `n` is 0; the whole picture where the mask is inverted. */
export function maskBounds(mask: Mask, n: number, width: number, height: number): Rect {
  const whole = { x0: 0, y0: 0, x1: width, y1: height };
  if (mask.invert) return whole;
  const reach = (v: Mask | Shape) => {
    const [feather, grow] = [valueAt(v.feather ?? 0, n, PX), valueAt(v.grow ?? 0, n, GROW)];
    return feather === 0 && grow === 0 ? 0 : Math.max(0, grow + Math.max(feather, 1) / 2);
  };
  let all = NOWHERE;
  for (const s of mask.shapes) {
    if (s.op !== "add" || s.on === false) continue;
    if (s.kind === "picture" || s.kind === "cutout") return whole;
    const bounds = s.kind === "painted" ? s.strokes.map((k) => strokeBounds(k.brush, k.path)).reduce(union, NOWHERE) : boundsOf(shapePolygon(s, n));
    all = union(all, grown(bounds, reach(s) + reach(mask) + 1, EVERYWHERE));
  }
  return all;
}
