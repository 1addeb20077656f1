"use client";
import { sourceTransformAt, readAt } from "@/client/editor/source-transform";
import { boxOfPicked } from "@/client/editor/shapes";
import type { EditorState } from "@/client/editor/state/editor";
import { takeOf } from "@/client/editor/state/select";
import type { Mask } from "@/core/document/mask";
import type { PatchLayer } from "@/core/document/layer";
import type { Point } from "@/core/document/geometry";
import type { Recipe } from "@/core/document/recipe";
import type { Viewport } from "../zoom";
import { Line } from "./DrawingMarks";
import type { SourceGrip } from "@/client/editor/tools/source";
import { NEAR } from "@/client/editor/tools/hit";

/** The mask's box, and the area of the source that it shows: four corners each, and their middles. */
function areas(l: PatchLayer, mask: Mask, r: Recipe, shot: EditorState["shot"], n: number) {
  const info = takeOf({ recipe: r, shot }).info!;
  const b = boxOfPicked(mask.shapes, { shapes: mask.shapes.map((_, i) => i), points: [] }, n) ?? { x0: 0, y0: 0, x1: info.width, y1: info.height };
  const corners: Point[] = [[b.x0, b.y0], [b.x1, b.y0], [b.x1, b.y1], [b.x0, b.y1]]; // prettier-ignore
  const laid = sourceTransformAt(l, n, info);
  const middle: Point = [(b.x0 + b.x1) / 2, (b.y0 + b.y1) / 2];
  const read = (p: Point) => readAt(laid, p);
  const [up, out] = [read([middle[0], b.y0]), read(middle)];
  return { box: b, middle, source: corners.map(read), sourceMiddle: out, up };
}

/** The knob that turns the source, beyond the upper side of its area. */
function knobOf(up: Point, middle: Point, scale: number): Point {
  const [dx, dy] = [up[0] - middle[0], up[1] - middle[1]];
  const length = Math.hypot(dx, dy) || 1;
  return [up[0] + (dx / length) * (24 / scale), up[1] + (dy / length) * (24 / scale)];
}

/** What of the source a press takes hold of. */
export function sourceGripAt(l: PatchLayer, mask: Mask, r: Recipe, shot: EditorState["shot"], n: number, p: Point, scale: number): SourceGrip | null {
  const a = areas(l, mask, r, shot, n);
  const near = (q: Point) => Math.hypot(q[0] - p[0], q[1] - p[1]) * scale < NEAR + 2;
  if (near(knobOf(a.up, a.sourceMiddle, scale))) return "turn";
  if (a.source.some(near)) return "scale";
  const within = (c: readonly Point[]) => c.every((q, i) => {
    const o = c[(i + 1) % 4];
    return (o[0] - q[0]) * (p[1] - q[1]) - (o[1] - q[1]) * (p[0] - q[0]) >= 0;
  }); // prettier-ignore
  if (p[0] >= a.box.x0 && p[0] <= a.box.x1 && p[1] >= a.box.y0 && p[1] <= a.box.y1) return "picture";
  return within(a.source) ? "area" : null;
}

/** Where the patch's picture comes from: corner ticks round the area of the source, and a thread to the mask. */
export function SourceMarks({
  layer,
  mask,
  recipe,
  shot,
  frame,
  viewport,
}: {
  layer: PatchLayer;
  mask: Mask;
  recipe: Recipe;
  shot: EditorState["shot"];
  frame: number;
  viewport: Viewport;
}) {
  const a = areas(layer, mask, recipe, shot, frame);
  const screen = ([x, y]: Point): [number, number] => [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale];
  const c = a.source.map(screen);
  const to = (p: readonly number[], q: readonly number[], length: number) => {
    const d = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1;
    const k = Math.min(length, d / 3) / d;
    return `${p[0] + (q[0] - p[0]) * k} ${p[1] + (q[1] - p[1]) * k}`;
  };
  const ticks = c.map((p, i) => `M${to(p, c[(i + 1) % 4], 16)}L${p[0]} ${p[1]}L${to(p, c[(i + 3) % 4], 16)}`).join("");
  const [m, q] = [screen(a.middle), screen(a.sourceMiddle)];
  const [u, k] = [screen(a.up), screen(knobOf(a.up, a.sourceMiddle, viewport.scale))];
  const away = Math.hypot(m[0] - q[0], m[1] - q[1]) > 4;
  return (
    <g data-testid="source-area" pointerEvents="none">
      {away && <Line d={`M${q[0]} ${q[1]}L${m[0]} ${m[1]}`} dashed="1 4" width={1.2} />}
      <Line d={ticks} width={1.8} />
      <Line d={`M${u[0]} ${u[1]}L${k[0]} ${k[1]}`} width={1} />
      <circle data-testid="source-turn" cx={k[0]} cy={k[1]} r="5" fill="#efe7da" stroke="#1a1613" strokeWidth="1.2" />
      {away && <circle cx={m[0]} cy={m[1]} r="3" fill="#efe7da" stroke="#1a1613" strokeWidth="1.2" />}
      <circle data-testid="source-middle" cx={q[0]} cy={q[1]} r="3.5" fill="var(--color-ochre)" stroke="#1a1613" strokeWidth="1.2" />
    </g>
  );
}
