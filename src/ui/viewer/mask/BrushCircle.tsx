"use client";
import type { MaskBrush } from "@/client/editor/state/mask";
import type { Point } from "@/core/document/geometry";
import { pixelAspect } from "@/client/editor/state/select";
import { useEditorState } from "../../editor/context";
import type { Viewport } from "../zoom";

/** The mask's brush: its size, where it is still full, and whether it takes away. */
export function BrushCircle({ at, brush, viewport }: { at: Point; brush: MaskBrush; viewport: Viewport }) {
  const [x, y, r] = [viewport.left + at[0] * viewport.scale, viewport.top + at[1] * viewport.scale, (brush.size / 2) * viewport.scale];
  // stretched with all that lies on the stage
  const across = r / useEditorState(pixelAspect);
  const sign = brush.erase ? "M-4 0H4" : "M-4 0H4M0-4V4";
  return (
    <g fill="none" pointerEvents="none" data-testid="mask-brush">
      <ellipse cx={x} cy={y} rx={across} ry={r} stroke="#000" strokeOpacity=".65" strokeWidth="3" />
      <ellipse cx={x} cy={y} rx={across} ry={r} stroke="#efe7da" strokeWidth="1.2" />
      {brush.hardness < 1 && (
        <ellipse cx={x} cy={y} rx={across * brush.hardness} ry={r * brush.hardness} stroke="#efe7da" strokeOpacity=".6" strokeDasharray="2 3" />
      )}
      <g transform={`translate(${x} ${y})`}>
        <path d={sign} stroke="#000" strokeOpacity=".65" strokeWidth="3.4" />
        <path d={sign} stroke="#efe7da" strokeWidth="1.4" />
      </g>
    </g>
  );
}
