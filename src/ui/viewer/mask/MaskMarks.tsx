"use client";
import { keyframesOf } from "@/client/editor/keyframes";
import { type Drawn, type Handle, isDrawn, type Picked } from "@/client/editor/shapes";
import { maskAt, type Tracks, hasTracks } from "@/core/compose/tie";
import type { Shape } from "@/core/document/mask";
import { maskOf } from "@/core/document/recipe";
import { layerTitle, patchesOn } from "@/recipe/query";
import type { PatchLayer } from "@/core/document/layer";
import type { Point } from "@/core/document/geometry";
import type { Recipe } from "@/core/document/recipe";
import { shapePolygon } from "@/core/shape/polygon";
import { valueAt } from "@/core/time/keyed";
import { useEditorState } from "../../editor/context";
import { type Viewport, quarterOf } from "../zoom";
import { Line } from "./DrawingMarks";
import { EdgeBand, edgeOf } from "./EdgeBand";
import { frameMarks, type MoveFrame, visibleHandles } from "@/client/editor/tools/hit";

interface Props {
  recipe: Recipe;
  layer: PatchLayer | null;
  frame: number;
  viewport: Viewport;
  picked: Picked;
  /** Whether handles are shown, or only outlines. */
  handles: boolean;
  /** The handle that is dragged: it alone is shown then. */
  held: Handle | null;
  dragging: boolean;
  hot: Handle | null;
  moveFrame: MoveFrame | null;
  ghosts: boolean;
  /** The shape whose own edge is taken hold of; null for the mask's. */
  ownEdge: number | null;
  hotEdge: "feather" | "grow" | null;
  /** What was measured of the tracks that masks follow. */
  tracks: Tracks;
  /** How the selected mask is carried by its track, as an SVG transform. */
  carried: string | undefined;
}

/** The masks on the picture: the selected one with its edge, handles, and the shapes of the keyframes beside; the others as faint outlines. */
export function MaskMarks({
  recipe,
  layer,
  frame,
  viewport,
  picked,
  handles,
  held,
  dragging,
  hot,
  moveFrame,
  ghosts,
  ownEdge,
  hotEdge,
  tracks,
  carried,
}: Props) {
  const pathOf = (poly: Float64Array) => {
    let d = "";
    for (let i = 0; i < poly.length; i += 2)
      d += `${i ? "L" : "M"}${(viewport.left + poly[i] * viewport.scale).toFixed(1)} ${(viewport.top + poly[i + 1] * viewport.scale).toFixed(1)}`;
    return `${d}Z`;
  };
  const others = dragging
    ? []
    : patchesOn(recipe).filter((l) => l.id !== layer?.id && l.on !== false && frame >= l.in && frame <= l.out); // prettier-ignore
  const isShown = (s: Shape): s is Drawn => isDrawn(s) && s.on !== false;
  const drawn = (l: PatchLayer) => maskOf(recipe, l).shapes.filter(isShown);
  const lying = (l: PatchLayer) => (hasTracks(recipe, l, tracks) ? maskAt(recipe, l, frame, tracks).shapes.filter(isShown) : []);
  const mask = layer && maskOf(recipe, layer);
  const marks = layer && ghosts && !dragging ? keyframesOf(recipe, layer) : [];
  const beside = [marks.findLast((f) => f < frame), marks.find((f) => f > frame)];
  return (
    <>
      <g pointerEvents="none" opacity=".55" data-testid="other-masks">
        {others.flatMap((l) =>
          lying(l).map((s, i) => <path key={l.id + i} d={pathOf(shapePolygon(s, frame))} fill="none" stroke="#efe7da" strokeDasharray="1 5" />),
        )}
      </g>
      <g transform={carried}>
        {beside.map((f, k) =>
          f === undefined || !layer
            ? null
            : drawn(layer).map((s, i) => {
                const d = pathOf(shapePolygon(s, f));
                if (d === pathOf(shapePolygon(s, frame))) return null;
                return (
                  <g key={`${k}/${i}`} opacity=".7" pointerEvents="none" data-testid="ghost">
                    <Line d={d} dashed={k ? "2 5" : "7 4"} width={1} />
                  </g>
                );
              }),
        )}
        {mask?.shapes.map((s, i) => {
          if (!isDrawn(s) || s.on === false) return null;
          return (
            <EdgeBand
              key={i}
              id={`edge${i}`}
              polygon={shapePolygon(s, frame)}
              viewport={viewport}
              {...edgeOf(mask, s, frame, ownEdge === i)}
              hot={ownEdge === null || ownEdge === i ? hotEdge : null}
              strong={picked.shapes.includes(i)}
            />
          );
        })}
        {layer && mask && !dragging && <NameTag layer={layer} recipe={recipe} drawn={drawn(layer)} frame={frame} viewport={viewport} />}
        {moveFrame && handles && <FrameMarks frame={moveFrame} viewport={viewport} />}
        {mask &&
          handles &&
          visibleHandles(mask.shapes, picked, frame).map((h) => {
            const same = (o: Handle | null) => o?.shape === h.shape && o.index === h.index && o.kind === h.kind;
            if (dragging && !same(held)) return null;
            const [x, y] = [viewport.left + h.x * viewport.scale, viewport.top + h.y * viewport.scale];
            const on = same(hot) || same(held) || (h.kind === "point" && picked.points.some((p) => p.shape === h.shape && p.index === h.index));
            const fill = on ? "var(--color-ochre)" : "#efe7da";
            if (h.kind === "in" || h.kind === "out") {
              const of = mask.shapes[h.shape];
              const p = of.kind === "path" ? valueAt(of.points, frame)[h.index] : [h.x, h.y];
              return (
                <g key={`${h.shape}/${h.kind}/${h.index}`}>
                  <Line d={`M${viewport.left + p[0] * viewport.scale} ${viewport.top + p[1] * viewport.scale}L${x} ${y}`} width={1} />
                  <circle data-testid="arm" cx={x} cy={y} r="3.6" fill={fill} stroke="#1a1613" strokeWidth="1.2" />
                </g>
              );
            }
            const r = on ? 4.6 : 3.4;
            const shape = { "data-testid": "handle", fill, stroke: "#1a1613", strokeWidth: 1.2 };
            const key = `${h.shape}/${h.kind}/${h.index}`;
            return h.kind === "round" ? (
              <path key={key} d={`M${x} ${y - 5}l4.4 8h-8.8Z`} {...shape} />
            ) : (
              <rect key={key} x={x - r} y={y - r} width={2 * r} height={2 * r} {...shape} />
            );
          })}
      </g>
    </>
  );
}

/** The ticks that scale what is picked, the knob that turns it, and the point about which. */
function FrameMarks({ frame, viewport }: { frame: MoveFrame; viewport: Viewport }) {
  const { corners, knob } = frameMarks(frame, viewport.scale);
  const s = ([x, y]: readonly number[]): [number, number] => [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale];
  const ways = [[1, 1], [-1, 1], [-1, -1], [1, -1]]; // prettier-ignore
  const ticks = corners.map((c, i) => {
    const [x, y] = s(c);
    return `M${x + 9 * ways[i][0]} ${y}H${x}V${y + 9 * ways[i][1]}`;
  });
  const [kx, ky] = s(knob);
  const [px, py] = s(frame.pivot);
  return (
    <g data-testid="move-frame" pointerEvents="none">
      <Line d={ticks.join("")} width={1.8} />
      <g data-testid="turn">
        <Line d={`M${kx - 2.5} ${ky - 4.3}a5 5 0 1 0 5 0M${kx + 2.5} ${ky - 7.5}v3.4h3.2`} width={1.6} />
      </g>
      <Line d={`M${px - 6} ${py}H${px - 2}M${px + 2} ${py}H${px + 6}M${px} ${py - 6}V${py - 2}M${px} ${py + 2}V${py + 6}`} width={1.4} />
    </g>
  );
}

/** Whose mask it is, beside its lower edge. */
function NameTag({
  layer,
  recipe,
  drawn,
  frame,
  viewport,
}: {
  layer: PatchLayer;
  recipe: Recipe;
  drawn: readonly Drawn[];
  frame: number;
  viewport: Viewport;
}) {
  const turned = useEditorState(quarterOf);
  if (!drawn.length) return null;
  let [x0, y0, y1] = [Infinity, Infinity, -Infinity];
  for (const s of drawn) {
    const p = shapePolygon(s, frame);
    for (let i = 0; i < p.length; i += 2) [x0, y0, y1] = [Math.min(x0, p[i]), Math.min(y0, p[i + 1]), Math.max(y1, p[i + 1])];
  }
  const text = layer.name || layerTitle(recipe, layer.id);
  const wide = 6.2 * (text.length + (layer.locked ? 9 : 0)) + 14;
  const [x, y] = [Math.max(4, viewport.left + x0 * viewport.scale), viewport.top + y1 * viewport.scale + 34];
  return (
    <g pointerEvents="none" data-testid="name-tag" opacity=".9" transform={turned ? `rotate(${-turned} ${x} ${y})` : undefined}>
      <rect x={x} y={y} width={wide} height="18" rx="3" fill="#1a1613" fillOpacity=".82" />
      <text x={x + 6} y={y + 13} fontSize="12" fill={layer.locked ? "#b5a893" : "#dfae57"}>
        {layer.locked ? `${text} (locked)` : text}
      </text>
    </g>
  );
}

/** What a drag from here would change, beside the pointer. */
export function EdgeWord({ kind, at, viewport, turned }: { kind: "feather" | "grow"; at: Point; viewport: Viewport; turned: number }) {
  const [x, y] = [viewport.left + at[0] * viewport.scale, viewport.top + at[1] * viewport.scale];
  return (
    <g pointerEvents="none" data-testid="edge-word" transform={turned ? `rotate(${-turned} ${x} ${y})` : undefined}>
      <rect x={x + 14} y={y - 24} width={kind === "feather" ? 54 : 42} height="18" rx="3" fill="#1a1613" fillOpacity=".82" />
      <text x={x + 20} y={y - 11} fontSize="12" fill="#dfae57">
        {kind}
      </text>
    </g>
  );
}
