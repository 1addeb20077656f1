"use client";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { useStore } from "zustand";
import { takeOf } from "@/client/editor/state/select";
import { framedNow } from "@/client/editor/actions/view";
import { useEditor, useEditorPick, useEditorState } from "../editor/context";
import { OriginalPane, Wipe, WipeBar } from "./Against";
import { CrossMark } from "./CrossMark";
import { KeptFrame } from "./KeptFrame";
import { useCross } from "./useCross";
import { Stage } from "./Stage";
import { usePointer } from "./StatusLine";
import { viewportOf, onStage, panBy, shapeOf, stageSize, viewerSize, zoomBy } from "./zoom";
import { modeName, openPlate } from "@/client/editor/state/mode";
import { SURFACES } from "./surfaces";

/** The big picture on a neutral ground, with what is drawn over it. Panning and zooming never paint. */
export function Viewer() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "shot", "shown", "zoom", "frame", "mode", "looks", "framed", "selection");
  const plate = openPlate(s);
  const Surface = SURFACES[modeName(s)];
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useStore(viewerSize);
  const grab = useEditorState((x) => x.holding.grab);
  const [pinching, setPinching] = useState(false);
  const fingers = useRef(new Map<number, { x: number; y: number }>());
  const pan = useRef<{ x: number; y: number } | null>(null);
  const { info } = takeOf(s);
  const cross = useCross(editor, box);

  useEffect(() => {
    const el = box.current!;
    const measure = () => {
      viewerSize.setState({ w: el.clientWidth, h: el.clientHeight });
    };
    const o = new ResizeObserver(measure);
    o.observe(el);
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const r = el.getBoundingClientRect();
      if (e.shiftKey || (Math.abs(e.deltaX) > Math.abs(e.deltaY) && !e.ctrlKey)) panBy(editor, -e.deltaX || -e.deltaY, 0);
      else zoomBy(editor, Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0016)), { x: e.clientX - r.left, y: e.clientY - r.top });
    };
    el.addEventListener("wheel", wheel, { passive: false });
    return () => {
      o.disconnect();
      el.removeEventListener("wheel", wheel);
    };
  }, [editor]);

  // the picture, and while a stroke is drawn, the parts of it that change
  useEffect(() => {
    const p = s.shown;
    const c = canvas.current;
    if (!p || !c) return;
    if (c.width !== p.width || c.height !== p.height) {
      c.width = p.width;
      c.height = p.height;
    }
    c.getContext("2d")!.putImageData(new ImageData(p.pixels, p.width, p.height), 0, 0);
  }, [s.shown]);
  useEffect(() => {
    editor.onPart((x, y, part) => canvas.current?.getContext("2d")?.putImageData(part, x, y));
  }, [editor]);

  const shownWidth = info ? viewportOf(s, size.w, size.h).scale * info.width : 0;
  useEffect(() => {
    editor.painter.shownWidth = shownWidth * window.devicePixelRatio;
  }, [editor, shownWidth]);

  if (!info) return null;
  const viewport = viewportOf(s, size.w, size.h);
  const shape = shapeOf(s);
  const stage = stageSize(shape, size.w, size.h);
  const toTake = (e: { clientX: number; clientY: number }): [number, number] => {
    const r = box.current!.getBoundingClientRect();
    const [x, y] = onStage(shape, size, e.clientX - r.left, e.clientY - r.top);
    return [(x - viewport.left) / viewport.scale, (y - viewport.top) / viewport.scale];
  };
  const read = (e: PointerEvent) => {
    const p = s.shown;
    const [x, y] = toTake(e);
    if (!p || x < 0 || y < 0 || x >= info.width || y >= info.height) return usePointer.setState({ text: "" });
    const i = 4 * (Math.floor((y * p.height) / info.height) * p.width + Math.floor((x * p.width) / info.width));
    usePointer.setState({ text: `${Math.floor(x)},${Math.floor(y)} R${p.pixels[i]} G${p.pixels[i + 1]} B${p.pixels[i + 2]}` });
  };
  /** Two fingers move and zoom the picture, and never paint. */
  const pinch = (e: PointerEvent): boolean => {
    const all = fingers.current;
    const before = [...all.values()].map((f) => ({ ...f }));
    if (!all.has(e.pointerId)) return false;
    all.set(e.pointerId, { x: e.clientX, y: e.clientY });
    if (all.size !== 2) return all.size > 2;
    const now = [...all.values()];
    const r = box.current!.getBoundingClientRect();
    const middle = (f: typeof now) => ({ x: (f[0].x + f[1].x) / 2 - r.left, y: (f[0].y + f[1].y) / 2 - r.top });
    const apart = (f: typeof now) => Math.max(1, Math.hypot(f[0].x - f[1].x, f[0].y - f[1].y));
    const [a, b] = [middle(before), middle(now)];
    panBy(editor, b.x - a.x, b.y - a.y);
    zoomBy(editor, apart(now) / apart(before), b);
    return true;
  };
  const panDown = (e: PointerEvent) => {
    if (e.isTrusted) cross.pointerComes();
    if (e.pointerType === "touch") {
      fingers.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
      if (fingers.current.size > 1) {
        // what the first finger began is not meant
        editor.history.breakOff();
        setPinching(true);
        e.stopPropagation();
        return;
      }
    }
    if (e.button !== 1 && !grab) return;
    e.preventDefault();
    e.stopPropagation();
    pan.current = { x: e.clientX, y: e.clientY };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const panMove = (e: PointerEvent) => {
    read(e);
    if (fingers.current.size > 1 && pinch(e)) return e.stopPropagation();
    if (e.pointerType === "touch" && fingers.current.has(e.pointerId)) fingers.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
    if (!pan.current) return;
    e.stopPropagation();
    panBy(editor, e.clientX - pan.current.x, e.clientY - pan.current.y);
    pan.current = { x: e.clientX, y: e.clientY };
  };
  const lift = (e: PointerEvent) => {
    fingers.current.delete(e.pointerId);
    if (fingers.current.size === 0) setPinching(false);
  };
  const { against } = s.looks;
  const original = s.shown?.original && !plate ? s.shown : null;
  const pane = (
    <div
      ref={box}
      data-testid="viewer"
      className="relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-surround outline-none select-none focus-visible:outline-2 focus-visible:-outline-offset-2 focus-visible:outline-ochre"
      style={{ cursor: grab ? "grab" : undefined }}
      tabIndex={0}
      role="group"
      aria-roledescription="picture that is drawn on"
      aria-label={`The picture at frame ${s.frame}. Arrow keys move a cross by a pixel, with Shift by ten; Space presses and lets go, Enter ends or closes what is drawn.`}
      onKeyDown={cross.onKeyDown}
      onFocus={cross.onFocus}
      onBlur={cross.onBlur}
      onPointerDownCapture={panDown}
      onPointerMoveCapture={panMove}
      onPointerUpCapture={(e) => {
        if (pan.current || pinching) e.stopPropagation();
        pan.current = null;
        lift(e);
      }}
      onPointerCancelCapture={lift}
      onPointerLeave={() => usePointer.setState({ text: "" })}
    >
      <Stage shape={shape} size={size}>
        <canvas
          ref={canvas}
          data-testid="picture"
          data-frame={s.shown?.frame}
          data-quality={s.shown?.quality}
          data-size={`${info.width}x${info.height}`}
          aria-label={`The picture at frame ${s.frame}`}
          role="img"
          className="absolute origin-top-left"
          style={{
            left: viewport.left,
            top: viewport.top,
            width: info.width * viewport.scale,
            height: info.height * viewport.scale,
            imageRendering: viewport.scale >= 2 ? "pixelated" : "auto",
          }}
        />
        {against === "wipe" && original && <Wipe shown={original} viewport={viewport} width={info.width} height={info.height} />}
        {/* what is drawn over the picture lies in the pixels of the take */}
        {!framedNow(s) && <Surface viewport={viewport} size={stage} toTake={toTake} picture={canvas} blocked={grab || pinching} />}
        {against === "wipe" && original && <WipeBar viewport={viewport} width={info.width} height={info.height} toTake={toTake} />}
        <KeptFrame viewport={viewport} />
        <CrossMark viewport={viewport} />
      </Stage>
      {!s.shown && <p className="absolute inset-0 flex items-center justify-center text-bone">Fetching the first picture …</p>}
    </div>
  );
  return (
    <div className="flex min-h-0 flex-1">
      {against === "beside" && !plate && (
        <OriginalPane shown={original} viewport={viewport} shape={shape} size={size} width={info.width} height={info.height} />
      )}
      {pane}
    </div>
  );
}
