"use client";
import { type RefObject, useEffect, useRef } from "react";
import { pixelAspect } from "@/client/editor/state/select";
import { sourceRef, takesSource } from "@/client/editor/retouch-target";
import { useEditorPick, useEditorShape, useEditorState } from "../../editor/context";
import type { Viewport } from "../zoom";
import { useSourcePicture } from "./useSourcePicture";
import type { Point } from "@/core/document/geometry";

interface Props {
  viewport: Viewport;
  size: { w: number; h: number };
  at: Point;
  offset: [number, number] | null;
  picture: RefObject<HTMLCanvasElement | null>;
  drawing: boolean;
}

/** The brush where the pointer is, filled with the pixels it will lay down, and the mark of its source. */
export function BrushRing({ viewport, size, at, offset, picture, drawing }: Props) {
  const s = useEditorPick("retouch", "handles");
  const ref = useEditorShape(sourceRef);
  const other = useSourcePicture(ref);
  // of pixels that are wider than high the stage is stretched, with the ring on it
  const aspect = useEditorState(pixelAspect);
  const ghost = useRef<HTMLCanvasElement>(null);
  const { brush, tool, scale, angle, mirror, point, aid } = s.retouch;
  const shift = offset ?? (ref ? ([0, 0] as [number, number]) : null);
  const shows = !aid && takesSource(tool) && shift !== null && s.handles && !drawing && (!ref || other !== null);

  // what the brush will lay down, so that an edge can be lined up with an edge
  useEffect(() => {
    const c = ghost.current;
    const from = ref ? other : picture.current;
    if (!c || !from || !shift) return;
    const px = Math.max(2, Math.min(1600, Math.ceil(brush.size * viewport.scale)));
    c.width = px;
    c.height = px;
    const g = c.getContext("2d")!;
    g.imageSmoothingEnabled = viewport.scale < 2;
    g.beginPath();
    g.arc(px / 2, px / 2, px / 2, 0, 2 * Math.PI);
    g.clip();
    // a point q of the source lies at start + scale · mirror · R(angle) (q − start − offset)
    const k = px / brush.size;
    g.setTransform(k * aspect, 0, 0, k, px / 2, px / 2);
    g.scale(mirror ? -scale : scale, scale);
    g.rotate((angle * Math.PI) / 180);
    g.translate(-at[0] - shift[0], -at[1] - shift[1]);
    g.drawImage(from, 0, 0);
  });

  const ring = { x: viewport.left + at[0] * viewport.scale, y: viewport.top + at[1] * viewport.scale, r: (brush.size / 2) * viewport.scale };
  const across = ring.r / aspect;
  const mark = point && tool !== "uncover" && !aid ? (point.offset ? [at[0] + point.offset[0], at[1] + point.offset[1]] : point.at) : null;
  return (
    <>
      {shows && (
        <canvas
          ref={ghost}
          data-testid="brush-preview"
          className="pointer-events-none absolute opacity-85"
          style={{ left: ring.x - across, top: ring.y - ring.r, width: 2 * across, height: 2 * ring.r }}
        />
      )}
      <svg className="pointer-events-none absolute inset-0" width={size.w} height={size.h} aria-hidden>
        <ellipse cx={ring.x} cy={ring.y} rx={across} ry={ring.r} fill="none" stroke="#000" strokeOpacity=".6" strokeWidth="2.4" />
        <ellipse cx={ring.x} cy={ring.y} rx={across} ry={ring.r} fill="none" stroke="#efe7da" strokeWidth="1" />
        {brush.hardness < 1 && (
          <ellipse
            cx={ring.x}
            cy={ring.y}
            rx={across * brush.hardness}
            ry={ring.r * brush.hardness}
            fill="none"
            stroke="#efe7da"
            strokeOpacity=".45"
            strokeWidth="1"
          />
        )}
        {mark && (
          <g transform={`translate(${viewport.left + mark[0] * viewport.scale} ${viewport.top + mark[1] * viewport.scale})`} fill="none">
            <path d="M-9 -9L-3 -3M9 -9L3 -3M-9 9L-3 3M9 9L3 3" stroke="#000" strokeOpacity=".6" strokeWidth="3" />
            <path d="M-9 -9L-3 -3M9 -9L3 -3M-9 9L-3 3M9 9L3 3" stroke="#efe7da" strokeWidth="1.4" />
          </g>
        )}
      </svg>
    </>
  );
}
