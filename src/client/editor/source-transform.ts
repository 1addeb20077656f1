import { SCALE } from "../../core/ranges";
import type { PatchLayer } from "../../core/document/layer";
import type { Placing } from "../../core/pixels/resample";
import { valueAt } from "../../core/time/keyed";
import { turn } from "./shapes";

/** How a source lies at one frame: take point p reads c + R(−angle)(p − c − (x, y)) / scale. */
export type SourceTransform = Omit<Placing, "mirror">;

/** How a layer's source, as large as the take, lies at frame `n`. */
export function sourceTransformAt(l: Pick<PatchLayer, "place">, n: number, size: { width: number; height: number }): SourceTransform {
  const p = l.place ?? {};
  const [cx, cy] = p.pivot ? valueAt(p.pivot, n) : [size.width / 2, size.height / 2];
  return { x: valueAt(p.x ?? 0, n), y: valueAt(p.y ?? 0, n), scale: valueAt(p.scale ?? 1, n, SCALE), angle: valueAt(p.angle ?? 0, n), cx, cy };
}

/** The point of the source that a point of the take reads. */
export function readAt(l: SourceTransform, [px, py]: readonly number[]): [number, number] {
  const [dx, dy] = turn(px - l.cx - l.x, py - l.cy - l.y, -l.angle);
  return [l.cx + dx / l.scale, l.cy + dy / l.scale];
}

/** The point of the take at which a point of the source lies. */
export function liesAt(l: SourceTransform, [qx, qy]: readonly number[]): [number, number] {
  const [dx, dy] = turn((qx - l.cx) * l.scale, (qy - l.cy) * l.scale, l.angle);
  return [l.cx + l.x + dx, l.cy + l.y + dy];
}

/** The source moved so that every point of the take reads (dx, dy) farther. */
export function readFarther(l: SourceTransform, dx: number, dy: number): SourceTransform {
  const [x, y] = turn(dx * l.scale, dy * l.scale, l.angle);
  return { ...l, x: l.x - x, y: l.y - y };
}

/** The source scaled and turned so that the point of the take `m` goes on reading the point it reads. */
export function readTurned(l: SourceTransform, m: readonly number[], scale: number, angle: number): SourceTransform {
  const q = readAt(l, m);
  const next = { ...l, scale, angle, x: 0, y: 0 };
  const [x, y] = liesAt(next, q);
  return { ...next, x: m[0] - x, y: m[1] - y };
}
