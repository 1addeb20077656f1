"use client";
import { type PointerEvent, useEffect, useRef } from "react";
import type { Shown } from "@/client/picture/painter";
import { useEditor, useEditorPick } from "../editor/context";
import { panBy } from "./zoom";
import { useHold } from "../editor/useHold";
import { Stage } from "./Stage";
import type { Shape, Viewport } from "./zoom";

/** Draws the frame as it came into a canvas of its own. */
function useOriginal(shown: Shown | null) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = canvas.current;
    if (!c || !shown?.original) return;
    if (c.width !== shown.width || c.height !== shown.height) {
      c.width = shown.width;
      c.height = shown.height;
    }
    c.getContext("2d")!.putImageData(new ImageData(shown.original, shown.width, shown.height), 0, 0);
  }, [shown]);
  return canvas;
}

const place = (viewport: Viewport, width: number, height: number) => ({
  left: viewport.left,
  top: viewport.top,
  width: width * viewport.scale,
  height: height * viewport.scale,
  imageRendering: viewport.scale >= 2 ? ("pixelated" as const) : ("auto" as const),
});

/** The original over the mended picture, up to the wipe's line. */
export function Wipe({ shown, viewport, width, height }: { shown: Shown; viewport: Viewport; width: number; height: number }) {
  const { looks } = useEditorPick("looks");
  const canvas = useOriginal(shown);
  const rest = `${(100 * (1 - looks.wipe)).toFixed(3)}%`;
  return (
    <canvas
      ref={canvas}
      data-testid="wipe"
      aria-hidden
      className="pointer-events-none absolute origin-top-left"
      style={{ ...place(viewport, width, height), clipPath: looks.across ? `inset(0 0 ${rest} 0)` : `inset(0 ${rest} 0 0)` }}
    />
  );
}

/** The wipe's line: dragged over the picture; a double click lays it the other way. */
export function WipeBar({
  viewport,
  width,
  height,
  toTake,
}: {
  viewport: Viewport;
  width: number;
  height: number;
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
}) {
  const editor = useEditor();
  const { looks } = useEditorPick("looks");
  const { wipe, across } = looks;
  const hold = useHold<number>((begun) => editor.view.lookAgainst({ wipe: begun }));
  const follow = (e: PointerEvent) => {
    if (hold.now === null) return;
    const [x, y] = toTake(e);
    editor.view.lookAgainst({ wipe: Math.min(1, Math.max(0, across ? y / height : x / width)) });
  };
  const at = across ? viewport.top + wipe * height * viewport.scale : viewport.left + wipe * width * viewport.scale;
  const long = across
    ? { left: viewport.left, width: width * viewport.scale, top: at - 7, height: 14 }
    : { top: viewport.top, height: height * viewport.scale, left: at - 7, width: 14 };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Wipe: original before it, mended after it"
      aria-valuenow={Math.round(100 * wipe)}
      data-testid="wipe-bar"
      className="absolute z-10 flex touch-none items-center justify-center"
      style={{ ...long, cursor: across ? "row-resize" : "col-resize" }}
      title="Drag; double click: the other way"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        hold.take(wipe, e);
      }}
      onPointerMove={follow}
      onPointerUp={hold.release}
      onPointerCancel={hold.cancel}
      onLostPointerCapture={hold.cancel}
      onDoubleClick={(e) => {
        e.stopPropagation();
        editor.view.lookAgainst({ across: !across, wipe: 0.5 });
      }}
    >
      <span className={across ? "h-[3px] w-full" : "h-full w-[3px]"} style={{ background: "#efe7da", outline: "1px solid rgb(0 0 0 / .6)" }} />
      <Word text="original" side={across ? { bottom: 12, left: 8 } : { right: 14, top: 8 }} />
      <Word text="mended" side={across ? { top: 12, left: 8 } : { left: 14, top: 8 }} />
    </div>
  );
}

function Word({ text, side }: { text: string; side: React.CSSProperties }) {
  return (
    <span className="pointer-events-none absolute rounded bg-ground/80 px-1.5 text-[12px] leading-[18px] text-bone" style={side}>
      {text}
    </span>
  );
}

/** The original in a pane of its own, moved and zoomed with the mended picture. */
export function OriginalPane({
  shown,
  viewport,
  shape,
  size,
  width,
  height,
}: {
  shown: Shown | null;
  viewport: Viewport;
  shape: Shape;
  size: { w: number; h: number };
  width: number;
  height: number;
}) {
  const editor = useEditor();
  const canvas = useOriginal(shown);
  const from = useRef<{ x: number; y: number } | null>(null);
  return (
    <div
      data-testid="original-pane"
      className="relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden border-r border-line bg-surround select-none"
      style={{ cursor: "grab" }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        panBy(editor, e.clientX - from.current.x, e.clientY - from.current.y);
        from.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerUp={() => (from.current = null)}
    >
      <Stage shape={shape} size={size}>
        <canvas
          ref={canvas}
          data-testid="original"
          role="img"
          aria-label="The original"
          className="absolute origin-top-left"
          style={place(viewport, width, height)}
        />
      </Stage>
      <Word text="original" side={{ left: 10, top: 8 }} />
    </div>
  );
}
