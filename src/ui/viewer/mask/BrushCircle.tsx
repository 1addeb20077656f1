"use client";
import type { MaskBrush } from "@/client/editor/state/mask";
import type { Point } from "@/core/document";
import type { Lie } from "../zoom";

/** The mask's brush: its size, where it is still full, and whether it takes away. */
export function BrushCircle({ at, brush, lie }: { at: Point; brush: MaskBrush; lie: Lie }) {
  const [x, y, r] = [lie.left + at[0] * lie.scale, lie.top + at[1] * lie.scale, (brush.size / 2) * lie.scale];
  const sign = brush.erase ? "M-4 0H4" : "M-4 0H4M0-4V4";
  return (
    <g fill="none" pointerEvents="none" data-testid="mask-brush">
      <circle cx={x} cy={y} r={r} stroke="#000" strokeOpacity=".65" strokeWidth="3" />
      <circle cx={x} cy={y} r={r} stroke="#efe7da" strokeWidth="1.2" />
      {brush.hardness < 1 && <circle cx={x} cy={y} r={r * brush.hardness} stroke="#efe7da" strokeOpacity=".6" strokeDasharray="2 3" />}
      <g transform={`translate(${x} ${y})`}>
        <path d={sign} stroke="#000" strokeOpacity=".65" strokeWidth="3.4" />
        <path d={sign} stroke="#efe7da" strokeWidth="1.4" />
      </g>
    </g>
  );
}
