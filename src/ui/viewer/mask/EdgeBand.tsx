"use client";
import type { PointerEvent } from "react";
import type { Lie } from "../zoom";

interface Props {
  id: string;
  polygon: Float64Array;
  lie: Lie;
  /** Of the mask, in take pixels. */
  feather: number;
  grow: number;
  /** Whether the cross-bar is shown. */
  bar: boolean;
  /** Whether the shape is picked. */
  strong?: boolean;
  grab: (e: PointerEvent, what: "feather" | "grow", at: [number, number], normal: [number, number]) => void;
}

/**
 * A mask's edge drawn as what it is: a band as wide as the feather, where the grown edge lies, light and dark so that
 * it shows on anything; the outline itself as a fine line; a cross-bar to widen the feather and to push the edge.
 */
export function EdgeBand({ id, polygon, lie, feather, grow, bar, strong, grab }: Props) {
  const at = (x: number, y: number): [number, number] => [lie.left + x * lie.scale, lie.top + y * lie.scale];
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
  const px = (v: number) => Math.max(0.01, 2 * v * lie.scale);
  const box = screenBox(polygon, at, lie.scale * Math.max(0, ...sides.map((x) => x.far)) + 3);
  const { foot, normal } = barPlace(polygon, 18 / lie.scale);
  const tip = (v: number): [number, number] => at(foot[0] + normal[0] * v, foot[1] + normal[1] * v);
  const [gx, gy] = tip(grow);
  const [fx, fy] = tip(grow + feather / 2 + 9 / lie.scale);
  // the bar lies along the edge
  const [ux, uy] = [-normal[1] * 10, normal[0] * 10];
  const bar2 = `M${gx} ${gy}L${fx} ${fy}M${fx - ux} ${fy - uy}L${fx + ux} ${fy + uy}`;
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
          <path d={d} stroke="#efe7da" strokeOpacity=".75" strokeWidth={px(far)} mask={`url(#${id}-${side}-rim)`} />
        </g>
      ))}
      <path d={d} fill="none" stroke="#000" strokeOpacity=".7" strokeWidth="3" pointerEvents="none" />
      <path d={d} fill="none" stroke="#efe7da" strokeWidth={strong ? 1.9 : 1.2} pointerEvents="none" />
      {bar && (
        <g>
          <path d={bar2} stroke="#000" strokeOpacity=".7" strokeWidth="4" />
          <path d={bar2} stroke="#efe7da" strokeWidth="1.6" />
          <circle
            data-testid="feather-bar"
            cx={fx}
            cy={fy}
            r="11"
            fill="transparent"
            style={{ cursor: "grab" }}
            onPointerDown={(e) => grab(e, "feather", foot, normal)}
          >
            <title>Drag: feather</title>
          </circle>
          <g data-testid="grow-knob" style={{ cursor: "grab" }} onPointerDown={(e) => grab(e, "grow", foot, normal)}>
            <title>Drag: grow</title>
            <circle cx={gx} cy={gy} r="8" fill="transparent" />
            <circle cx={gx} cy={gy} r="4" fill="var(--color-ochre)" stroke="#1a1613" strokeWidth="1.2" />
          </g>
        </g>
      )}
    </g>
  );
}

/** Where the cross-bar stands: on a low stretch of the edge, clear of its points, square to it and outward. */
function barPlace(poly: Float64Array, least: number): { foot: [number, number]; normal: [number, number] } {
  const n = poly.length / 2;
  const point = (i: number): [number, number] => [poly[2 * (((i % n) + n) % n)], poly[2 * (((i % n) + n) % n) + 1]];
  let area = 0;
  let best = 0;
  let lowest = -Infinity;
  for (let i = 0; i < n; i++) {
    const [x0, y0] = point(i);
    const [x1, y1] = point(i + 1);
    area += x0 * y1 - x1 * y0;
    const long = n > 40 || Math.hypot(x1 - x0, y1 - y0) > least;
    if (long && (y0 + y1) / 2 > lowest) {
      lowest = (y0 + y1) / 2;
      best = i;
    }
  }
  if (n > 40) best += Math.round(n * 0.06); // on a curve its lowest place is a point's
  const [x0, y0] = point(best);
  const [x1, y1] = point(best + 1);
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const out = area > 0 ? 1 : -1;
  return { foot: [(x0 + x1) / 2, (y0 + y1) / 2], normal: [(out * (y1 - y0)) / length, (-out * (x1 - x0)) / length] };
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
