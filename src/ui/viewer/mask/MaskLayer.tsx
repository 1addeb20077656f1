"use client";
import { type PointerEvent, useRef, useState } from "react";
import { isDrawn } from "@/client/editor/shapes";
import { hasTracks, maskAt } from "@/core/compose/tie";
import { maskOf } from "@/core/document/recipe";
import { selectedLayer } from "@/client/editor/state/select";
import { frameGesture, handleGesture, moveGesture, pivotGesture, scaleGesture, turnGesture } from "@/client/editor/tools/adjust";
import { edgeGesture } from "@/client/editor/tools/edge";
import type { Gesture, Mods } from "@/client/editor/tools/gesture";
import { contains, frameOf, NEAR, targetAt } from "@/client/editor/tools/hit";
import { type Carry, carriedBack, carriedTo, carryOf } from "@/client/editor/tools/carry";
import { closeDrawn, cornerAt, cornerGesture, regionGesture } from "@/client/editor/tools/follow";
import { trackOf, trackPathIn } from "@/client/editor/actions/following";
import { brushGesture, ringGesture } from "@/client/editor/tools/mask-brush";
import { modsOf } from "@/client/editor/tools/pointer";
import { drawGesture, loopGesture, pointGesture } from "@/client/editor/tools/shapes";
import { sourceGesture } from "@/client/editor/tools/source";
import type { Point } from "@/core/document/geometry";
import { shapePolygon } from "@/core/shape/polygon";
import { useEditor, useEditorPick, useEditorState } from "../../editor/context";
import { capturePointer } from "../capturePointer";
import { usePointerPipe } from "../usePointerPipe";
import { usePointerAtOnce } from "../usePointerAtOnce";
import { type Viewport, quarterOf } from "../zoom";
import { BrushCircle } from "./BrushCircle";
import { DrawingMarks, TraceMarks } from "./DrawingMarks";
import { bandsOf } from "./EdgeBand";
import { EdgeWord, MaskMarks } from "./MaskMarks";
import { RegionMarks } from "./RegionMarks";
import { sourceGripAt, SourceMarks } from "./SourceMarks";
import { patchesOn } from "@/recipe/query";

/** How far a pointer may slip on a click, in pixels of the screen. */
const CLICK = 4;

interface Props {
  viewport: Viewport;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  blocked: boolean;
}

/** Masks and sources on the picture: drawing, adjusting, painting, placing. */
export function MaskLayer({ viewport, size, toTake, blocked }: Props) {
  const editor = useEditor();
  const { dragged, ...s } = useEditorPick("recipe", "dragged", "shot", "mode", "frame", "tool", "handles", "peek", "drawing", "selection", "picked", "ghosts", "maskBrush", "playing", "tracks", "ring", "drawInto"); // prettier-ignore
  const [hover, setHover] = useState<Point | null>(null);
  const [pivot, setPivot] = useState<{ of: string; at: Point } | null>(null);
  const surface = useRef<HTMLDivElement>(null);
  const { pipe, live } = usePointerPipe(editor, blocked);
  const sizing = useEditorState((x) => x.holding.ring);
  const drawing = s.mode.stage === "Patch";
  const { frame, tool } = s;
  const recipe = dragged ?? s.recipe;
  const layer = drawing ? selectedLayer({ recipe, selection: s.selection }) : null;
  const mask = layer && maskOf(recipe, layer);
  const known = { recipe, frame, tracks: s.tracks };
  const carry = carryOf(known, layer);
  // what is drawn for the selected mask, or taken hold of in it, lies where its track has carried it
  const through = carry && (["adjust", "source", "brush"].includes(tool) || (tool !== "follow" && s.drawInto !== "new")) ? carry : null;
  const toMask = (e: { clientX: number; clientY: number }): Point => (through ? carriedBack(through, toTake(e)) : toTake(e));
  const carried = (c: Carry | null) => c ? `matrix(${[c[0], c[1], c[2], c[3], viewport.left * (1 - c[0]) - viewport.top * c[2] + c[4] * viewport.scale, viewport.top * (1 - c[3]) - viewport.left * c[1] + c[5] * viewport.scale].join(" ")})` : undefined; // prettier-ignore
  const followed = tool === "follow" ? trackOf(layer) : null;
  const corners = trackPathIn(known, followed)?.corners(frame) ?? null;
  // what is judged while it plays is not covered
  const shown = s.handles && drawing && !s.peek && !s.playing;
  const what = JSON.stringify([layer?.id, s.picked]);
  const moveFrame = mask && tool === "adjust" ? frameOf(mask.shapes, s.picked, frame, pivot?.of === what ? pivot.at : null) : null;

  // the edge that is dragged belongs to the one picked shape where a mask has several
  const ownEdge = mask && mask.shapes.length > 1 && s.picked.shapes.length === 1 && !s.picked.points.length ? s.picked.shapes[0] : null;
  const bands = mask && shown && tool === "adjust" && !layer.locked ? bandsOf(mask, frame, ownEdge) : [];

  /** Chooses the topmost patch under the pointer. */
  const pickLayer = (at: Point) => {
    const p = through ? carriedTo(through, at) : at;
    const hit = patchesOn(s.recipe).findLast(
      (l) =>
        hasTracks(s.recipe, l, s.tracks) &&
        maskAt(s.recipe, l, frame, s.tracks).shapes.some((sh) => isDrawn(sh) && sh.on !== false && contains(shapePolygon(sh, frame), p)),
    );
    editor.selection.select(hit ? { kind: "layer", layer: hit.id } : null);
  };

  /** What a press begins, as things stand. */
  const started = (p: Point, m: Mods): Gesture | null => {
    const clicked = () => pickLayer(p);
    if (tool === "outline") {
      const first = s.drawing[0];
      if (first && s.drawing.length >= 3 && Math.hypot(first[0] - p[0], first[1] - p[1]) * viewport.scale < NEAR) return (closeDrawn(editor), null);
      return pointGesture(editor, p, viewport.scale);
    }
    if (tool === "loop") return loopGesture(editor, p, viewport.scale, clicked);
    if (tool === "oval" || tool === "box") return drawGesture(editor, tool, p, viewport.scale, clicked);
    if (tool === "brush") return sizing ? ringGesture(editor, p) : layer && editor.patches.isLocked(layer) ? null : brushGesture(editor, p, m);
    if (tool === "source") {
      if (!layer || !mask) return (clicked(), null);
      if (editor.patches.isLocked(layer)) return null;
      const grip = sourceGripAt(layer, mask, recipe, s.shot, frame, p, viewport.scale);
      return grip ? sourceGesture(editor, grip, p) : (clicked(), null);
    }
    if (tool === "follow") {
      const grip = corners && followed ? cornerAt(corners, p, NEAR / viewport.scale) : null;
      return grip === null || s.drawing.length
        ? regionGesture(editor, p, CLICK / viewport.scale)
        : cornerGesture(editor, followed!, corners!, grip, p, m.shift);
    }
    if (!layer || !mask) return frameGesture(editor, p, viewport.scale, clicked);
    const t = targetAt(mask.shapes, s.picked, shown ? moveFrame : null, p, frame, viewport.scale, m.alt, bands);
    if (t && layer.locked) return (editor.patches.isLocked(layer), null);
    switch (t?.kind) {
      case "handle":
        return handleGesture(editor, t.handle, p, m);
      case "scale":
        return scaleGesture(editor, moveFrame!, t.corner, p);
      case "turn":
        return turnGesture(editor, moveFrame!, p);
      case "feather":
      case "grow":
        return edgeGesture(editor, t.kind, t.grip, p, ownEdge);
      case "pivot":
        return pivotGesture((at) => setPivot({ of: what, at }));
      case "edge":
      case "inside": {
        const one = t.shape;
        const mine = s.picked.shapes.includes(one);
        if (m.shift && !s.picked.points.length)
          editor.masks.pick({ points: [], shapes: mine ? s.picked.shapes.filter((i) => i !== one) : [...s.picked.shapes, one] });
        else if (!mine) editor.masks.pick({ points: [], shapes: [one] });
        return moveGesture(editor, p, "Move");
      }
      default:
        return frameGesture(editor, p, viewport.scale, clicked);
    }
  };

  /** Where the pointer is, and how hard a pen is pressed while it paints. */
  const pressed = (e: PointerEvent | globalThis.PointerEvent): Point => [
    ...(toMask(e) as [number, number]),
    ...(tool === "brush" && e.pointerType === "pen" ? [e.pressure] : []),
  ];

  const down = (e: PointerEvent) => {
    if (e.button !== 0 || blocked || !drawing) return;
    const p = pressed(e);
    if (pipe.begin(() => started(p, modsOf(e)), e.nativeEvent, p)) capturePointer(surface.current!, e.pointerId);
  };
  const draw = (e: globalThis.PointerEvent) => pipe.move(e, pressed);
  usePointerAtOnce(surface, draw);
  const move = (e: PointerEvent) => {
    if (!pipe.live || tool === "brush") setHover(toMask(e));
    draw(e.nativeEvent);
  };
  const up = (e: PointerEvent) => pipe.up(e.nativeEvent, toMask(e));
  const twice = (e: React.MouseEvent) => {
    const p = toMask(e);
    if ((tool === "outline" || tool === "follow") && s.drawing.length >= 3) return closeDrawn(editor);
    if (tool !== "adjust" || !layer || !mask || layer.locked) return;
    const t = targetAt(mask.shapes, s.picked, null, p, frame, viewport.scale);
    if (t?.kind === "handle" && t.handle.kind === "point") editor.masks.roundPoints({ shape: t.handle.shape, index: t.handle.index });
    else if (t?.kind === "edge") editor.masks.addPoint(t.shape, t.segment, t.t);
  };

  const hot =
    hover && !live && mask && tool === "adjust"
      ? targetAt(mask.shapes, s.picked, shown ? moveFrame : null, hover, frame, viewport.scale, false, bands)
      : null;
  const hotEdge = hot && "grip" in hot ? hot : null;
  const cursors = { handle: "move", scale: "nwse-resize", turn: "grab", pivot: "move", feather: "grab", grow: "grab", edge: "move", inside: "move" } as const; // prettier-ignore
  const cursor = blocked ? "grab" : !drawing ? "default" : tool === "adjust" ? (hot ? cursors[hot.kind] : "default") : tool === "brush" ? "none" : tool === "source" ? "move" : "crosshair"; // prettier-ignore
  return (
    <div
      ref={surface}
      data-surface
      data-testid="mask-layer"
      className="absolute inset-0 touch-none"
      style={{ cursor }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={pipe.cancel}
      onLostPointerCapture={pipe.cancel}
      onPointerLeave={() => setHover(null)}
      onDoubleClick={twice}
    >
      <svg className="absolute inset-0" width={size.w} height={size.h}>
        {shown && (
          <MaskMarks
            recipe={recipe}
            layer={layer}
            frame={frame}
            viewport={viewport}
            picked={s.picked}
            handles={tool === "adjust"}
            held={live?.gesture.handle ?? null}
            dragging={!!live && !live.gesture.trace}
            hot={hot?.kind === "handle" ? hot.handle : null}
            moveFrame={live ? null : moveFrame}
            ghosts={s.ghosts}
            ownEdge={ownEdge}
            hotEdge={hotEdge?.kind ?? null}
            tracks={s.tracks}
            carried={carried(carry)}
          />
        )}
        <g transform={carried(through)}>
          {hotEdge && hover && mask && <EdgeWord kind={hotEdge.kind} at={hover} viewport={viewport} turned={quarterOf(s)} />}
          {shown && layer && mask && tool === "source" && (
            <SourceMarks layer={layer} mask={mask} recipe={recipe} shot={s.shot} frame={frame} viewport={viewport} />
          )}
          {drawing && s.drawing.length > 0 && <DrawingMarks points={s.drawing} to={live ? null : hover} viewport={viewport} />}
          {live?.gesture.trace && live.points.length > 1 && (
            <TraceMarks kind={live.gesture.trace} points={live.points} mods={live.mods} viewport={viewport} />
          )}
          {drawing && tool === "brush" && hover && <BrushCircle at={hover} brush={s.maskBrush} viewport={viewport} />}
        </g>
        {shown && tool === "follow" && <RegionMarks corners={corners} ring={s.ring} viewport={viewport} />}
      </svg>
    </div>
  );
}
