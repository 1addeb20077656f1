"use client";
import type { ReactNode } from "react";
import { type Shape, stageSize } from "./zoom";

/** Where the picture lies as it was recorded, with everything that is drawn over it: shown upright, and as wide as it is meant to be seen, by turning and stretching all of it at once. */
export function Stage({ shape, size, children }: { shape: Shape; size: { w: number; h: number }; children: ReactNode }) {
  const { w, h } = stageSize(shape, size.w, size.h);
  const { quarter, aspect } = shape;
  const plain = quarter === 0 && aspect === 1;
  return (
    <div
      className="absolute"
      style={{
        width: w,
        height: h,
        left: (size.w - w) / 2,
        top: (size.h - h) / 2,
        ...(plain ? {} : { transform: `rotate(${quarter}deg) scaleX(${aspect})` }),
      }}
    >
      {children}
    </div>
  );
}
