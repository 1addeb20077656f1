import type { Outline, PatchLayer, Point, Shape } from "../../core/document";
import { type Keyed, valueAt, withValue } from "../../core/time/keyed";
import type { Draft } from "../../recipe/edits";

/** A handle of a shape on the picture: a point that can be dragged. */
export interface Handle {
  shape: number;
  kind: "point" | "center" | "radius" | "corner";
  index: number;
  x: number;
  y: number;
}

const turn = (x: number, y: number, degrees: number): [number, number] => {
  const a = (degrees * Math.PI) / 180;
  return [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)];
};

/** The shapes of a layer's own mask. */
export const shapesOf = (l: PatchLayer): readonly Shape[] => ("use" in l.mask ? [] : l.mask.shapes);

/** All handles of a shape at frame `n`. */
export function handlesOf(s: Shape, shape: number, n: number): Handle[] {
  if (s.kind === "path") return valueAt(s.points, n).map((p, index) => ({ shape, kind: "point", index, x: p[0], y: p[1] }));
  if (s.kind === "ellipse") {
    const [cx, cy] = valueAt(s.center, n);
    const [rx, ry] = valueAt(s.radii, n);
    const angle = valueAt(s.angle ?? 0, n);
    return [
      [rx, 0],
      [0, ry],
      [-rx, 0],
      [0, -ry],
    ].map(([x, y], index) => {
      const [dx, dy] = turn(x, y, angle);
      return { shape, kind: "radius", index, x: cx + dx, y: cy + dy };
    });
  }
  if (s.kind === "box") {
    const [cx, cy] = valueAt(s.center, n);
    const [w, h] = valueAt(s.size, n);
    const angle = valueAt(s.angle ?? 0, n);
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([x, y], index) => {
      const [dx, dy] = turn((x * w) / 2, (y * h) / 2, angle);
      return { shape, kind: "corner", index, x: cx + dx, y: cy + dy };
    });
  }
  return [];
}

const r2 = (v: number) => Number(v.toFixed(2));

/** Sets a value of a shape at frame `n`: the key there, where the value is keyed. */
function put<S extends Draft<Shape>, K extends keyof S>(s: S, field: K, n: number, v: unknown): void {
  s[field] = withValue(s[field] as Keyed<unknown>, n, v) as S[K];
}

/** Drags a handle to (x, y). At a keyed value this sets the key of frame `n`. */
export function dragHandle(s: Draft<Shape>, h: Handle, x: number, y: number, n: number): void {
  if (s.kind === "path") {
    put(
      s,
      "points",
      n,
      valueAt(s.points as Keyed<Outline>, n).map((p, i) => (i === h.index ? [r2(x), r2(y), ...p.slice(2)] : [...p])),
    );
    return;
  }
  if (s.kind !== "ellipse" && s.kind !== "box") return;
  const [cx, cy] = valueAt(s.center as Keyed<Point>, n);
  const [dx, dy] = turn(x - cx, y - cy, -valueAt(s.angle ?? 0, n));
  if (s.kind === "ellipse") {
    const [rx, ry] = valueAt(s.radii as Keyed<Point>, n);
    put(s, "radii", n, h.index % 2 === 0 ? [r2(Math.max(1, Math.abs(dx))), ry] : [rx, r2(Math.max(1, Math.abs(dy)))]);
  } else put(s, "size", n, [r2(Math.max(2, Math.abs(dx) * 2)), r2(Math.max(2, Math.abs(dy) * 2))]);
}

/** Moves a whole shape by (dx, dy). */
export function moveShape(s: Draft<Shape>, dx: number, dy: number, n: number): void {
  if (s.kind === "path")
    put(
      s,
      "points",
      n,
      valueAt(s.points as Keyed<Outline>, n).map((p) => [r2(p[0] + dx), r2(p[1] + dy), ...p.slice(2)]),
    );
  else if (s.kind === "ellipse" || s.kind === "box") {
    const [cx, cy] = valueAt(s.center as Keyed<Point>, n);
    put(s, "center", n, [r2(cx + dx), r2(cy + dy)]);
  }
}
