import { PX, UNIT } from "../../core/ranges";
import type { Outline, Point } from "../../core/document/geometry";
import type { Shape } from "../../core/document/mask";
import { type Affine, applied, type Arm, scaleTurn, transformed, withArm } from "../../core/shape/outline";
import { shapePolygon } from "../../core/shape/polygon";
import { isKeyed, type Keyed, mapValues, type Value, valueAt, withValue } from "../../core/time/keyed";
import type { Draft } from "../../recipe/edits";
import { fieldOf, setField } from "../../recipe/fields";

/** Whether a change of a shape holds from the frame shown, as a keyframe there, or throughout. */
export type Holds = "here" | "throughout";

/** A handle of a shape on the picture: a point that can be dragged. */
export interface Handle {
  shape: number;
  kind: "point" | "radius" | "corner" | "round" | Arm;
  index: number;
  x: number;
  y: number;
}

/** What of a mask is picked: whole shapes, and points of outlines. */
export interface Picked {
  shapes: number[];
  points: { shape: number; index: number }[];
}
export const NOTHING_PICKED: Picked = { shapes: [], points: [] };

export type Drawn = Exclude<Shape, { kind: "picture" | "painted" | "cutout" }>;
export const isDrawn = (s: Shape): s is Drawn => s.kind !== "picture" && s.kind !== "painted" && s.kind !== "cutout";

/** What a shape is called where it has no name. */
export function shapeName(s: Shape, index: number): string {
  const kind = { path: "Outline", ellipse: "Oval", box: "Box", painted: "Painted", picture: "Picture", cutout: "Cut-out" }[s.kind];
  return s.name || `${kind} ${index + 1}`;
}

const r2 = (v: number) => Number(v.toFixed(2));
/** A vector turned clockwise by `degrees`. */
export const turn = (x: number, y: number, degrees: number): [number, number] => {
  const a = (degrees * Math.PI) / 180;
  return [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)];
};

/** All handles of a shape at frame `n`, but for the arms of curve points. */
export function handlesOf(s: Shape, shape: number, n: number): Handle[] {
  if (s.kind === "path") return valueAt(s.points, n).map((p, index) => ({ shape, kind: "point", index, x: p[0], y: p[1] }));
  if (!isDrawn(s)) return [];
  const [cx, cy] = valueAt(s.center, n);
  const angle = valueAt(s.angle ?? 0, n);
  const at = (x: number, y: number, kind: Handle["kind"], index: number): Handle => {
    const [dx, dy] = turn(x, y, angle);
    return { shape, kind, index, x: cx + dx, y: cy + dy };
  };
  if (s.kind === "ellipse") {
    const [rx, ry] = valueAt(s.radii, n, PX);
    return ([[rx, 0], [0, ry], [-rx, 0], [0, -ry]] as const).map(([x, y], i) => at(x, y, "radius", i)); // prettier-ignore
  }
  const [w, h] = valueAt(s.size, n, PX).map((v) => v / 2);
  const corners = ([[-w, -h], [w, -h], [w, h], [-w, h]] as const).map(([x, y], i) => at(x, y, "corner", i)); // prettier-ignore
  // the corners' roundness, on the upper side: at the left corner for none, in the middle for all of it
  const most = Math.min(w, h);
  return [...corners, at(-w + Math.max(0.12 * w, valueAt(s.round ?? 0, n, UNIT) * most), -h, "round", 0)];
}

/** The ends of the arms of a curve point. */
export function armsOf(s: Shape, shape: number, index: number, n: number): Handle[] {
  const p = s.kind === "path" ? valueAt(s.points, n)[index] : undefined;
  if (!p || p.length < 6) return [];
  return (["in", "out"] as const).flatMap((kind) => {
    const k = kind === "in" ? 2 : 4;
    return p[k] || p[k + 1] ? [{ shape, kind, index, x: p[0] + p[k], y: p[1] + p[k + 1] }] : [];
  });
}

/** The frames at which the place of a shape has keyframes: its points, or middle, size and turn. */
export function placedAt(s: Shape): number[] {
  if (!isDrawn(s)) return [];
  const values: (Keyed<unknown> | undefined)[] =
    s.kind === "path" ? [s.points] : s.kind === "ellipse" ? [s.center, s.radii, s.angle] : [s.center, s.size, s.angle, s.round];
  return values.flatMap((v) => (v !== undefined && isKeyed(v) ? v.keys.map((k) => k.f) : []));
}

/** The frame of a shape's first keyframe; null while none of its places is keyed. */
export function homeOf(s: Shape): number | null {
  const frames = placedAt(s);
  return frames.length ? Math.min(...frames) : null;
}

/**
 * A value changed at frame `n`. Here: its keyframe there, a new one where it has keys or its shape has (since `home`). Throughout:
 * the constant, or every keyframe alike.
 */
export function changed<T extends Value>(k: Keyed<T>, n: number, holds: Holds, change: (v: T) => T, home: number | null = null): Keyed<T> {
  if (holds === "throughout") return mapValues(k, change);
  if (isKeyed(k)) return withValue(k, n, change(valueAt(k, n)));
  if (home === null || home === n) return home === null ? change(k) : { keys: [{ f: n, v: change(k) }] };
  return {
    keys: [
      { f: home, v: k },
      { f: n, v: change(k) },
    ].sort((a, b) => a.f - b.f),
  };
}

/** The same for a field of a shape that may be left out. */
function put<T extends Value>(s: Draft<Shape>, field: string, n: number, holds: Holds, otherwise: T, change: (v: T) => T): void {
  const now = fieldOf(s, field) as Keyed<T> | undefined;
  setField(s, field, changed(now ?? otherwise, n, holds, change, homeOf(s as Shape)));
}
const points = (s: Draft<Shape>, n: number, holds: Holds, change: (v: Outline) => number[][]) => put<Outline>(s, "points", n, holds, [], change);

/** Draws a handle to (x, y) at frame `n`. `alone`: an arm leaves its fellow where it is. */
export function dragHandle(s: Draft<Shape>, h: Handle, x: number, y: number, n: number, holds: Holds, alone = false): void {
  if (s.kind === "path") {
    const p = valueAt(s.points as Keyed<Outline>, n)[h.index];
    if (!p) return;
    if (h.kind === "in" || h.kind === "out") points(s, n, holds, (o) => withArm(o, h.index, h.kind as Arm, x - p[0], y - p[1], alone));
    else points(s, n, holds, (o) => transformed(o, [1, 0, 0, 1, x - p[0], y - p[1]], new Set([h.index])));
    return;
  }
  if (!isDrawn(s as Shape)) return;
  const e = s as Draft<Exclude<Drawn, { kind: "path" }>>;
  const [cx, cy] = valueAt(e.center as Keyed<Point>, n);
  const [dx, dy] = turn(x - cx, y - cy, -valueAt(e.angle ?? 0, n));
  if (e.kind === "ellipse")
    put<Point>(s, "radii", n, holds, [1, 1], ([rx, ry]) =>
      h.index % 2 === 0 ? [r2(Math.max(1, Math.abs(dx))), ry] : [rx, r2(Math.max(1, Math.abs(dy)))],
    );
  else if (h.kind === "round") {
    const [w, h2] = valueAt(e.size as Keyed<Point>, n, PX).map((v) => v / 2);
    put<number>(s, "round", n, holds, 0, () => r2(Math.min(1, Math.max(0, (dx + w) / Math.min(w, h2)))));
  } else {
    // the corner that lies across stays where it is
    const [w, h2] = valueAt(e.size as Keyed<Point>, n, PX).map((v) => v / 2);
    const [sx, sy] = [h.index === 1 || h.index === 2 ? 1 : -1, h.index >= 2 ? 1 : -1];
    const [fx, fy] = [-sx * w, -sy * h2];
    const [mx, my] = turn((dx + fx) / 2, (dy + fy) / 2, valueAt(e.angle ?? 0, n));
    put<Point>(s, "size", n, holds, [2, 2], () => [r2(Math.max(2, Math.abs(dx - fx))), r2(Math.max(2, Math.abs(dy - fy)))]);
    put<Point>(s, "center", n, holds, [0, 0], () => [r2(cx + mx), r2(cy + my)]);
  }
}

/** How shapes are moved: by (dx, dy), scaled by (sx, sy) and turned by degrees about a pivot. */
export interface Move {
  dx: number;
  dy: number;
  sx: number;
  sy: number;
  degrees: number;
  px: number;
  py: number;
  /** How much wider than high the pixels are: what is turned keeps its form on the screen. */
  aspect?: number;
}
export const STILL: Move = { dx: 0, dy: 0, sx: 1, sy: 1, degrees: 0, px: 0, py: 0 };

function affineOf(m: Move): Affine {
  const k = m.aspect ?? 1;
  const t = scaleTurn(k * m.px, m.py, m.sx, m.sy, m.degrees);
  return [t[0], k * t[1], t[2] / k, t[3], t[4] / k + m.dx, t[5] + m.dy];
}

/** The oval that one becomes under a plane map: half axes and turn by its singular values. */
export function ovalThrough([a, b, c, d]: Affine, [rx, ry]: Point, degrees: number): { radii: [number, number]; angle: number } {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const [xx, yx] = [(a * cos + c * sin) * rx, (b * cos + d * sin) * rx];
  const [xy, yy] = [(c * cos - a * sin) * ry, (d * cos - b * sin) * ry];
  // E·Eᵀ has the axes as its eigenvectors
  const [p, q, r] = [xx * xx + xy * xy, xx * yx + xy * yy, yx * yx + yy * yy];
  const spread = Math.hypot((p - r) / 2, q);
  const first = (Math.atan2(2 * q, p - r) * 90) / Math.PI;
  const [long, short] = [Math.sqrt((p + r) / 2 + spread), Math.sqrt(Math.max(0, (p + r) / 2 - spread))];
  // of both axes the one that was across before stays so
  const along = (Math.atan2(yx, xx) * 180) / Math.PI;
  const near = Math.abs(((along - first + 270) % 180) - 90) <= 45;
  return near ? { radii: [long, short], angle: first } : { radii: [short, long], angle: first + 90 };
}

/** Moves a whole shape, or some points of an outline. An oval or box that is turned is scaled alike in both directions. */
export function moveShape(s: Draft<Shape>, m: Move, n: number, holds: Holds, chosen?: ReadonlySet<number>): void {
  const a = affineOf(m);
  if (s.kind === "path") return points(s, n, holds, (o) => transformed(o, a, chosen));
  if (!isDrawn(s as Shape)) return;
  const e = s as Draft<Exclude<Drawn, { kind: "path" }>>;
  const angle = valueAt(e.angle ?? 0, n);
  put<Point>(s, "center", n, holds, [0, 0], ([x, y]) => applied(a, x, y).map(r2));
  if (m.sx !== 1 || m.sy !== 1) {
    const even = Math.sqrt(Math.abs(m.sx * m.sy));
    const across = Math.abs(angle % 180) === 90;
    const [kx, ky] = angle % 90 !== 0 ? [even, even] : across ? [m.sy, m.sx] : [m.sx, m.sy];
    put<Point>(s, e.kind === "ellipse" ? "radii" : "size", n, holds, [1, 1], ([w, h]) => [
      r2(Math.max(1, Math.abs(w * kx))),
      r2(Math.max(1, Math.abs(h * ky))),
    ]);
  }
  if (!m.degrees) return;
  const moves = [angle, e.kind === "ellipse" ? e.radii : 0].some((v) => isKeyed(v as Keyed<unknown>)) && holds === "throughout";
  if (e.kind !== "ellipse" || (m.aspect ?? 1) === 1 || moves) return put<number>(s, "angle", n, holds, 0, (v) => r2(v + m.degrees));
  const turned = ovalThrough(a, valueAt(e.radii as Keyed<Point>, n), angle);
  put<Point>(s, "radii", n, holds, [1, 1], () => turned.radii.map(r2));
  put<number>(s, "angle", n, holds, 0, () => r2(turned.angle));
}

/** Where an oval or a box lies: its middle, its whole width and height, its turn in degrees. */
export interface Placed {
  center: Point;
  size: Point;
  angle: number;
}

/** Lays an oval or a box by numbers. */
export function placeShape(s: Draft<Shape>, to: Partial<Placed>, n: number, holds: Holds): void {
  if (s.kind !== "ellipse" && s.kind !== "box") return;
  const { center, size, angle } = to;
  if (center) put<Point>(s, "center", n, holds, [0, 0], () => center);
  if (size && s.kind === "ellipse") put<Point>(s, "radii", n, holds, [1, 1], () => size.map((v) => v / 2));
  if (size && s.kind === "box") put<Point>(s, "size", n, holds, [2, 2], () => size);
  if (angle !== undefined) put<number>(s, "angle", n, holds, 0, () => angle);
}

/** Changes an outline's points at every keyframe alike, so that points go on belonging to each other. */
export function everyOutline(s: Draft<Shape>, change: (points: Outline) => number[][]): void {
  if (s.kind === "path") s.points = mapValues(s.points as Keyed<Outline>, change) as typeof s.points;
}

/** A shape drawn at frame `n` as it goes into a mask: where changes hold from a frame on, its places are keyed there. */
export function drawnAt<S extends Draft<Shape>>(s: S, n: number, holds: Holds): S {
  if (holds === "throughout") return s;
  const keyed = (v: unknown) => ({ keys: [{ f: n, v }] });
  const out = { ...s };
  for (const f of ["points", "center", "radii", "size", "angle"]) if (fieldOf(out, f) !== undefined) setField(out, f, keyed(fieldOf(out, f)));
  return out;
}

/** The rectangle round some shapes, or round some points, at frame `n`; null for nothing. */
export function boxOfPicked(shapes: readonly Shape[], picked: Picked, n: number): { x0: number; y0: number; x1: number; y1: number } | null {
  const xy: number[] = [];
  if (picked.points.length) {
    for (const { shape, index } of picked.points) {
      const s = shapes[shape];
      const p = s?.kind === "path" ? valueAt(s.points, n)[index] : undefined;
      if (p) xy.push(p[0], p[1]);
    }
  } else for (const i of picked.shapes) if (shapes[i] && isDrawn(shapes[i])) xy.push(...shapePolygon(shapes[i], n));
  if (!xy.length) return null;
  const [xs, ys] = [0, 1].map((k) => xy.filter((_, i) => i % 2 === k));
  // no spreading: a flattened outline can have many points
  const least = (v: number[]) => v.reduce((a, b) => Math.min(a, b));
  const most = (v: number[]) => v.reduce((a, b) => Math.max(a, b));
  return { x0: least(xs), y0: least(ys), x1: most(xs), y1: most(ys) };
}
