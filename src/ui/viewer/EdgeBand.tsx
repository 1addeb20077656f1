"use client";
import type { PointerEvent } from "react";
import type { Lie } from "./zoom";

interface Props {
  id: string;
  polygon: Float64Array;
  lie: Lie;
  /** Of the mask, in take pixels. */
  feather: number;
  grow: number;
  /** Whether the cross-bar is shown. */
  bar: boolean;
  grab: (e: PointerEvent, what: "feather" | "grow", at: [number, number], normal: [number, number]) => void;
}

/**
 * A mask's edge drawn as what it is: a band as wide as the feather, where the grown edge lies, light and dark so that
 * it shows on anything; the outline itself as a fine line; a cross-bar to widen the feather and to push the edge.
 */
export function EdgeBand({ id, polygon, lie, feather, grow, bar, grab }: Props) {
  const at = (x: number, y: number): [number, number] => [lie.left + x * lie.scale, lie.top + y * lie.scale];
  const points: string[] = [];
  let lowest = 0;
  const [left, right] = [-lie.left / lie.scale, (-lie.left + 1e4) / lie.scale];
  for (let i = 0; i < polygon.length; i += 2) {
    points.push(
      at(polygon[i], polygon[i + 1])
        .map((v) => v.toFixed(1))
        .join(" "),
    );
    if (polygon[i + 1] > polygon[lowest + 1] && polygon[i] > left && polygon[i] < right) lowest = i;
  }
  const d = `M${points.join("L")}Z`;
  const outer = Math.abs(grow) + feather / 2;
  const inner = Math.abs(grow) - feather / 2;
  const px = (v: number) => Math.max(0, 2 * v * lie.scale);
  const big = 20000;
  // the cross-bar stands at the lowest point, square to the edge there
  const foot: [number, number] = [polygon[lowest], polygon[lowest + 1]];
  const normal: [number, number] = [0, 1];
  const tip = (v: number): [number, number] => at(foot[0] + normal[0] * v, foot[1] + normal[1] * v);
  const [gx, gy] = tip(grow);
  const [fx, fy] = tip(grow + feather / 2);
  return (
    <g>
      <defs>
        <clipPath id={`${id}-in`}>
          <path d={d} />
        </clipPath>
        <clipPath id={`${id}-out`} clipPathUnits="userSpaceOnUse">
          <path d={`M${-big} ${-big}H${big}V${big}H${-big}Z ${d}`} clipRule="evenodd" />
        </clipPath>
        <mask id={`${id}-ring`} maskUnits="userSpaceOnUse" x={-big} y={-big} width={2 * big} height={2 * big}>
          <path d={d} fill="none" stroke="#fff" strokeWidth={px(outer)} strokeLinejoin="round" />
          {inner > 0 && <path d={d} fill="none" stroke="#000" strokeWidth={px(inner)} strokeLinejoin="round" />}
        </mask>
      </defs>
      {(feather > 0 || grow !== 0) && (
        <g clipPath={inner > 0 ? `url(#${id}-${grow > 0 ? "out" : "in"})` : undefined} pointerEvents="none">
          <g mask={`url(#${id}-ring)`}>
            <path d={d} fill="none" stroke="#efe7da" strokeOpacity=".22" strokeWidth={px(outer)} strokeLinejoin="round" />
          </g>
          <path
            d={d}
            fill="none"
            stroke="#000"
            strokeOpacity=".28"
            strokeWidth={px(outer) + 1.5}
            strokeLinejoin="round"
            mask={`url(#${id}-ring)`}
            strokeDasharray="2 6"
          />
        </g>
      )}
      <path d={d} fill="none" stroke="#000" strokeOpacity=".7" strokeWidth="3" pointerEvents="none" />
      <path d={d} fill="none" stroke="#efe7da" strokeWidth="1.2" pointerEvents="none" />
      {bar && (
        <g>
          <path d={`M${gx} ${gy}L${fx} ${fy}M${fx - 10} ${fy}H${fx + 10}`} stroke="#000" strokeOpacity=".7" strokeWidth="4" />
          <path d={`M${gx} ${gy}L${fx} ${fy}M${fx - 10} ${fy}H${fx + 10}`} stroke="#efe7da" strokeWidth="1.6" />
          <rect
            data-testid="feather-bar"
            x={fx - 13}
            y={fy - 5}
            width="26"
            height="12"
            fill="transparent"
            style={{ cursor: "ns-resize" }}
            onPointerDown={(e) => grab(e, "feather", foot, normal)}
          >
            <title>Drag: feather</title>
          </rect>
          <g data-testid="grow-knob" style={{ cursor: "ns-resize" }} onPointerDown={(e) => grab(e, "grow", foot, normal)}>
            <title>Drag: grow</title>
            <circle cx={gx + 18} cy={gy} r="7" fill="transparent" />
            <circle cx={gx + 18} cy={gy} r="4" fill="var(--color-ochre)" stroke="#1a1613" strokeWidth="1.2" />
          </g>
        </g>
      )}
    </g>
  );
}
