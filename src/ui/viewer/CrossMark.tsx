"use client";
import { useCrossPlace } from "./useCross";
import { Line } from "./mask/DrawingMarks";
import type { Viewport } from "./zoom";

/** The cross that is moved by keys; full while it presses. */
export function CrossMark({ viewport }: { viewport: Viewport }) {
  const { on, x, y, down } = useCrossPlace();
  if (!on) return null;
  const [sx, sy] = [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale];
  const gap = down ? 2 : 5;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="cross" data-x={x} data-y={y} data-down={down} aria-hidden>
      <Line
        d={`M${sx - 16} ${sy}H${sx - gap}M${sx + gap} ${sy}H${sx + 16}M${sx} ${sy - 16}V${sy - gap}M${sx} ${sy + gap}V${sy + 16}`}
        width={down ? 2.4 : 1.4}
      />
    </svg>
  );
}
