"use client";
import type { Point } from "@/core/document/geometry";
import type { Place } from "@/core/follow/homography";
import type { Viewport } from "../zoom";
import { Line } from "./DrawingMarks";

interface Props {
  /** The region that the selected patch follows, where it is at this frame. */
  corners: readonly Place[] | null;
  /** A box that is being drawn. */
  ring: readonly Point[];
  viewport: Viewport;
}

/** A region that is followed: its corners as small crosses, its sides as a fine line; and a new one while it is drawn. */
export function RegionMarks({ corners, ring, viewport }: Props) {
  const at = ([x, y]: readonly number[]) => [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale] as const;
  const path = (points: readonly (readonly number[])[]) => points.map((p, i) => `${i ? "L" : "M"}${at(p).join(" ")}`).join("");
  return (
    <g pointerEvents="none">
      {corners && (
        <g data-testid="region">
          <Line d={`${path(corners)}Z`} dashed="6 3" width={1.2} />
          {corners.length <= 12 &&
            corners.map((c, i) => {
              const [x, y] = at(c);
              return (
                <g key={i} data-testid="region-corner">
                  <Line d={`M${x - 6} ${y}h4M${x + 2} ${y}h4M${x} ${y - 6}v4M${x} ${y + 2}v4`} width={1.6} />
                </g>
              );
            })}
        </g>
      )}
      {ring.length > 1 && <Line d={path(ring)} width={1.8} />}
    </g>
  );
}
