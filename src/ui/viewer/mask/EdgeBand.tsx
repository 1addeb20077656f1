"use client";
import { PX } from "@/core/ranges";
import { type Drawn, isDrawn } from "@/client/editor/shapes";
import type { Mask } from "@/core/document/mask";
import { shapePolygon } from "@/core/shape/polygon";
import { valueAt } from "@/core/time/keyed";
import type { Viewport } from "../zoom";
import type { Band } from "@/client/editor/tools/hit";

interface Props {
  id: string;
  polygon: Float64Array;
  viewport: Viewport;
  /** Of the mask, in take pixels. */
  feather: number;
  grow: number;
  /** Which side of the band the pointer can take hold of now: what is outside widens it, the inner rim grows the mask. */
  hot?: "feather" | "grow" | null;
  /** Whether the shape is picked. */
  strong?: boolean;
}

/**
 * A mask's edge drawn as what it is: a band as wide as the feather, where the grown edge lies, light and dark so that
 * it shows on anything; the outline itself as a fine line. The band is taken hold of anywhere along the edge: its outer side
 * widens it, its inner rim grows the mask; the rim that would follow the pointer lights up.
 */
export function EdgeBand({ id, polygon, viewport, feather, grow, hot, strong }: Props) {
  const at = (x: number, y: number): [number, number] => [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale];
  const points: string[] = [];
  for (let i = 0; i < polygon.length; i += 2) {
    points.push(
      at(polygon[i], polygon[i + 1])
        .map((v) => v.toFixed(1))
        .join(" "),
    );
  }
  const d = `M${points.join("L")}Z`;
  // how far the soft edge reaches outward and inward of the outline, and where it begins there
  const sides = [
    { side: "out", far: grow + feather / 2, near: grow - feather / 2 },
    { side: "in", far: feather / 2 - grow, near: -grow - feather / 2 },
  ].filter((x) => x.far > 0 && (feather > 0 || grow !== 0));
  const px = (v: number) => Math.max(0.01, 2 * v * viewport.scale);
  const box = screenBox(polygon, at, viewport.scale * Math.max(0, ...sides.map((x) => x.far)) + 3);
  return (
    <g>
      <defs>
        <clipPath id={`${id}-in`}>
          <path d={d} />
        </clipPath>
        <clipPath id={`${id}-out`} clipPathUnits="userSpaceOnUse">
          <path d={`M${box.x} ${box.y}h${box.width}v${box.height}h${-box.width}Z ${d}`} clipRule="evenodd" />
        </clipPath>
        {sides.flatMap(({ side, far, near }) =>
          (["band", "rim"] as const).map((what) => (
            <mask key={side + what} id={`${id}-${side}-${what}`} maskUnits="userSpaceOnUse" {...box}>
              <path d={d} fill="none" stroke="#fff" strokeWidth={px(far)} strokeLinejoin="round" />
              <path d={d} fill="none" stroke="#000" strokeWidth={what === "rim" ? px(far) - 2.4 : px(near)} strokeLinejoin="round" />
            </mask>
          )),
        )}
      </defs>
      {sides.map(({ side, far }) => (
        <g key={side} clipPath={`url(#${id}-${side})`} pointerEvents="none" fill="none" strokeLinejoin="round">
          <path d={d} stroke="#14100d" strokeOpacity=".3" strokeWidth={px(far)} mask={`url(#${id}-${side}-band)`} />
          <path
            d={d}
            stroke={hot === (side === "out" ? "feather" : "grow") ? "var(--color-ochre)" : "#efe7da"}
            strokeOpacity={hot === (side === "out" ? "feather" : "grow") ? 1 : 0.75}
            strokeWidth={px(far)}
            mask={`url(#${id}-${side}-rim)`}
          />
        </g>
      ))}
      <path d={d} fill="none" stroke="#000" strokeOpacity=".7" strokeWidth="3" pointerEvents="none" />
      <path
        d={d}
        fill="none"
        stroke={hot && !sides.length ? "var(--color-ochre)" : "#efe7da"}
        strokeWidth={strong ? 1.9 : 1.2}
        pointerEvents="none"
      />
    </g>
  );
}

/** What the band covers on the screen, with `reach` to all sides: a browser without a graphics card paints no more than that. */
function screenBox(polygon: Float64Array, at: (x: number, y: number) => [number, number], reach: number) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < polygon.length; i += 2) {
    const [x, y] = at(polygon[i], polygon[i + 1]);
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  }
  return { x: x0 - reach, y: y0 - reach, width: x1 - x0 + 2 * reach, height: y1 - y0 + 2 * reach };
}

/** The feather and growth with which a shape's edge is drawn: its own alone, or with the mask's. */
export function edgeOf(mask: Mask, s: Drawn, n: number, own: boolean): { feather: number; grow: number } {
  const feather = valueAt(s.feather ?? 0, n, PX);
  const grow = valueAt(s.grow ?? 0, n);
  return own ? { feather, grow } : { feather: Math.max(valueAt(mask.feather ?? 0, n, PX), feather), grow: valueAt(mask.grow ?? 0, n) + grow };
}

/** The edges of a mask that can be taken hold of: of one shape, or of all. */
export const bandsOf = (mask: Mask, n: number, own: number | null): Band[] =>
  mask.shapes.flatMap((s, i) =>
    isDrawn(s) && s.on !== false && !s.locked && (own === null || own === i)
      ? [{ polygon: shapePolygon(s, n), ...edgeOf(mask, s, n, own === i) }]
      : [],
  );
