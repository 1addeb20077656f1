"use client";
import { type PointerEvent, useRef, useState } from "react";
import { round } from "@/client/bench/names";
import { layerTitle, selectedLayer } from "@/client/bench/state";
import { dragHandle, type Handle, handlesOf, moveShape, shapesOf } from "@/client/bench/shapes";
import type { PatchLayer } from "@/core/document";
import { shapePolygon } from "@/core/shape/mask";
import { valueAt, withValue } from "@/core/time/keyed";
import type { Draft } from "@/recipe/edits";
import { useBench, useBenchPick } from "../bench/context";
import { EdgeBand } from "./EdgeBand";
import { usePointerAtOnce } from "./usePointerAtOnce";
import type { Lie } from "./zoom";

interface Props {
  lie: Lie;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  blocked: boolean;
}

type Gesture =
  | { kind: "handle"; handle: Handle }
  | { kind: "shape"; shape: number; from: [number, number] }
  | { kind: "edge"; what: "feather" | "grow"; at: [number, number]; normal: [number, number] }
  | { kind: "drag"; from: [number, number] };

const NEAR = 9;

/** Masks on the picture: drawing outlines, ovals and boxes, and adjusting them. */
export function MaskLayer({ lie, size, toTake, blocked }: Props) {
  const bench = useBench();
  const { dragged, ...s } = useBenchPick("recipe", "dragged", "stage", "frame", "tool", "handles", "peek", "drawing", "selection");
  const [rubber, setRubber] = useState<{ a: [number, number]; b: [number, number] } | null>(null);
  const [hover, setHover] = useState<[number, number] | null>(null);
  const gesture = useRef<Gesture | null>(null);
  const surface = useRef<HTMLDivElement>(null);
  const drawing = s.stage === "Patch";
  const layer = drawing ? selectedLayer({ ...s, recipe: dragged ?? s.recipe }) : null;
  const { frame, tool } = s;
  const toScreen = (x: number, y: number): [number, number] => [lie.left + x * lie.scale, lie.top + y * lie.scale];
  const shown = s.handles && drawing && !s.peek;
  const polygons =
    layer && shown ? shapesOf(layer).map((sh) => (sh.kind === "picture" || sh.kind === "painted" ? null : shapePolygon(sh, frame))) : [];
  const handles = layer && shown && tool === "adjust" ? shapesOf(layer).flatMap((sh, i) => handlesOf(sh, i, frame)) : [];
  const mask = layer && !("use" in layer.mask) ? layer.mask : null;
  const feather = mask ? valueAt(mask.feather ?? 0, frame) : 0;
  const grow = mask ? valueAt(mask.grow ?? 0, frame) : 0;

  const change = (l: PatchLayer, name: string, edit: (d: Draft<PatchLayer>) => void, dragging: boolean) =>
    bench.changeLayer(l.id, name, edit, dragging && "picture");

  const hitHandle = (p: [number, number]): Handle | null => {
    const near = handles.map((h) => ({ h, d: Math.hypot(h.x - p[0], h.y - p[1]) * lie.scale })).sort((a, b) => a.d - b.d)[0];
    return near && near.d < NEAR ? near.h : null;
  };

  const down = (e: PointerEvent) => {
    if (e.button !== 0 || blocked || !drawing) return;
    const p = toTake(e);
    if (tool === "outline") {
      const first = s.drawing[0];
      if (first && s.drawing.length >= 3 && Math.hypot(first[0] - p[0], first[1] - p[1]) * lie.scale < NEAR) bench.closeOutline();
      else bench.set({ drawing: [...s.drawing, [round(p[0]), round(p[1])]] });
      return;
    }
    e.currentTarget.setPointerCapture(e.pointerId);
    if (tool === "oval" || tool === "box") {
      gesture.current = { kind: "drag", from: p };
      setRubber({ a: p, b: p });
      return;
    }
    const handle = hitHandle(p);
    if (handle) return void (gesture.current = { kind: "handle", handle });
    const inside = polygons.findLastIndex((poly) => poly && contains(poly, p));
    if (inside >= 0) return void (gesture.current = { kind: "shape", shape: inside, from: p });
    pick(p);
  };

  /** Chooses the topmost patch under the pointer. */
  const pick = (p: [number, number]) => {
    const layers = s.recipe.intruders.flatMap((i) => i.layers).filter((l): l is PatchLayer => l.kind === "patch");
    const hit = layers.findLast((l) =>
      shapesOf(l).some((sh) => sh.kind !== "picture" && sh.kind !== "painted" && contains(shapePolygon(sh, frame), p)),
    );
    bench.select(hit ? { kind: "layer", layer: hit.id } : null);
  };

  const apply = (g: Gesture, p: [number, number], final: boolean) => {
    if (!layer) return;
    const title = layerTitle(s.recipe, layer.id);
    const shapeOf = (d: Draft<PatchLayer>, i: number) => ("use" in d.mask ? null : d.mask.shapes[i]);
    if (g.kind === "handle") {
      change(
        layer,
        `Move a point of ${title}`,
        (d) => {
          const sh = shapeOf(d, g.handle.shape);
          if (sh) dragHandle(sh as never, g.handle, p[0], p[1], frame);
        },
        !final,
      );
    } else if (g.kind === "shape") {
      change(
        layer,
        `Move the shape of ${title}`,
        (d) => {
          const sh = shapeOf(d, g.shape);
          if (sh) moveShape(sh as never, p[0] - g.from[0], p[1] - g.from[1], frame);
        },
        !final,
      );
    } else if (g.kind === "edge") {
      const along = (p[0] - g.at[0]) * g.normal[0] + (p[1] - g.at[1]) * g.normal[1];
      change(
        layer,
        `${g.what === "feather" ? "Feather" : "Grow"} ${title}`,
        (d) => {
          if ("use" in d.mask) return;
          if (g.what === "feather")
            d.mask.feather = withValue(
              d.mask.feather ?? 0,
              frame,
              round(Math.min(2000, Math.max(0, 2 * (along - grow - 9 / lie.scale))), 1),
            ) as typeof d.mask.feather;
          else d.mask.grow = withValue(d.mask.grow ?? 0, frame, round(along, 1)) as typeof d.mask.grow;
        },
        !final,
      );
    }
  };

  const move = (e: PointerEvent) => {
    const p = toTake(e);
    const g = gesture.current;
    if (!g || g.kind === "drag") setHover(p);
    if (g?.kind === "drag") setRubber({ a: g.from, b: p });
    else follow(e);
  };

  /** A shape, handle or edge follows the pointer; once for each place, however many events tell of it. */
  const follow = (e: { clientX: number; clientY: number }) => {
    const g = gesture.current;
    if (!g || g.kind === "drag" || (followed.current.x === e.clientX && followed.current.y === e.clientY)) return;
    followed.current = { x: e.clientX, y: e.clientY };
    apply(g, toTake(e), false);
  };
  const followed = useRef({ x: NaN, y: NaN });
  usePointerAtOnce(surface, follow);

  const up = (e: PointerEvent) => {
    const g = gesture.current;
    gesture.current = null;
    followed.current = { x: NaN, y: NaN };
    if (!g) return;
    const p = toTake(e);
    if (g.kind !== "drag") return apply(g, p, true);
    setRubber(null);
    const w = Math.abs(p[0] - g.from[0]);
    const h = Math.abs(p[1] - g.from[1]);
    if (w * lie.scale < 4 || h * lie.scale < 4) return pick(p);
    const center: [number, number] = [round((p[0] + g.from[0]) / 2), round((p[1] + g.from[1]) / 2)];
    bench.layShape(
      tool === "oval"
        ? { kind: "ellipse", op: "add", center, radii: [round(w / 2), round(h / 2)] }
        : { kind: "box", op: "add", center, size: [round(w), round(h)] },
    );
  };

  const cancel = () => {
    if (gesture.current && gesture.current.kind !== "drag") bench.cancelPreview();
    gesture.current = null;
    setRubber(null);
  };

  const grabEdge = (e: PointerEvent, what: "feather" | "grow", at: [number, number], normal: [number, number]) => {
    if (blocked) return;
    e.stopPropagation();
    (e.currentTarget.closest("[data-mask-layer]") as HTMLElement).setPointerCapture(e.pointerId);
    gesture.current = { kind: "edge", what, at, normal };
  };

  const line = (points: readonly (readonly number[])[]) => points.map((p) => toScreen(p[0], p[1]).join(",")).join(" ");
  const hot = hover && tool === "adjust" ? hitHandle(hover) : null;
  return (
    <div
      ref={surface}
      data-mask-layer
      className="absolute inset-0 touch-none"
      style={{ cursor: blocked ? "grab" : tool === "adjust" ? (hot ? "move" : "default") : drawing ? "crosshair" : "default" }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={cancel}
      onPointerLeave={() => setHover(null)}
      onDoubleClick={() => tool === "outline" && s.drawing.length >= 3 && bench.closeOutline()}
    >
      <svg className="absolute inset-0" width={size.w} height={size.h}>
        {polygons.map(
          (poly, i) =>
            poly && (
              <EdgeBand
                key={i}
                id={`edge-${i}`}
                polygon={poly}
                lie={lie}
                feather={feather}
                grow={grow}
                bar={i === polygons.length - 1 && tool === "adjust"}
                grab={grabEdge}
              />
            ),
        )}
        {handles.map((h) => {
          const [x, y] = toScreen(h.x, h.y);
          const on = hot === h || (hot && hot.shape === h.shape && hot.kind === h.kind && hot.index === h.index);
          return (
            <rect
              key={`${h.shape}-${h.kind}-${h.index}`}
              data-testid="handle"
              x={x - 3.5}
              y={y - 3.5}
              width="7"
              height="7"
              fill={on ? "var(--color-ochre)" : "#efe7da"}
              stroke="#1a1613"
              strokeWidth="1.2"
            />
          );
        })}
        {s.drawing.length > 0 && (
          <g fill="none">
            <polyline points={line(hover ? [...s.drawing, hover] : s.drawing)} stroke="#000" strokeOpacity=".65" strokeWidth="3" />
            <polyline points={line(hover ? [...s.drawing, hover] : s.drawing)} stroke="#efe7da" strokeWidth="1.3" />
            {s.drawing.map((p, i) => {
              const [x, y] = toScreen(p[0], p[1]);
              return (
                <circle
                  key={i}
                  cx={x}
                  cy={y}
                  r={i === 0 ? 5 : 2.6}
                  fill={i === 0 && s.drawing.length >= 3 ? "var(--color-ochre)" : "#efe7da"}
                  stroke="#1a1613"
                  strokeWidth="1.2"
                />
              );
            })}
          </g>
        )}
        {rubber && <Rubber kind={tool} a={toScreen(...rubber.a)} b={toScreen(...rubber.b)} />}
      </svg>
    </div>
  );
}

function Rubber({ kind, a, b }: { kind: string; a: [number, number]; b: [number, number] }) {
  const x = Math.min(a[0], b[0]);
  const y = Math.min(a[1], b[1]);
  const w = Math.abs(a[0] - b[0]);
  const h = Math.abs(a[1] - b[1]);
  return (
    <>
      {[
        ["#000", 3, 0.65],
        ["#efe7da", 1.3, 1],
      ].map(([stroke, width, opacity]) => {
        const look = { fill: "none", stroke: String(stroke), strokeWidth: Number(width), strokeOpacity: Number(opacity) };
        return kind === "oval" ? (
          <ellipse key={String(stroke)} cx={x + w / 2} cy={y + h / 2} rx={w / 2} ry={h / 2} {...look} />
        ) : (
          <rect key={String(stroke)} x={x} y={y} width={w} height={h} {...look} />
        );
      })}
    </>
  );
}

/** Even-odd test, enough for choosing with the pointer. */
function contains(poly: Float64Array, [x, y]: [number, number]): boolean {
  let inside = false;
  for (let i = 0, j = poly.length - 2; i < poly.length; j = i, i += 2) {
    if (poly[i + 1] > y !== poly[j + 1] > y && x < ((poly[j] - poly[i]) * (y - poly[i + 1])) / (poly[j + 1] - poly[i + 1]) + poly[i])
      inside = !inside;
  }
  return inside;
}
