"use client";
import type { ReactNode } from "react";
import { type Quarter, stageSize } from "./zoom";

/** Where the picture lies as it was recorded, with everything that is drawn over it: shown upright by turning all of it at once. */
export function Stage({ quarter, size, children }: { quarter: Quarter; size: { w: number; h: number }; children: ReactNode }) {
  const { w, h } = stageSize(quarter, size.w, size.h);
  return (
    <div
      className="absolute"
      style={{ width: w, height: h, left: (size.w - w) / 2, top: (size.h - h) / 2, ...(quarter ? { transform: `rotate(${quarter}deg)` } : {}) }}
    >
      {children}
    </div>
  );
}
