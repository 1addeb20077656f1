"use client";
import type { Point } from "@/core/document/geometry";
import { pixelAspect } from "@/client/editor/state/select";
import { useEditorState } from "../../editor/context";
import type { Viewport } from "../zoom";
import type { Mods, Trace } from "@/client/editor/tools/gesture";
import { drawnBox } from "@/client/editor/tools/shapes";

const at = (viewport: Viewport) => (x: number, y: number) =>
  `${(viewport.left + x * viewport.scale).toFixed(1)} ${(viewport.top + y * viewport.scale).toFixed(1)}`;

/** A path that shows on anything: light on dark. */
export function Line({ d, dashed, width = 1.3 }: { d: string; dashed?: string; width?: number }) {
  return (
    <>
      <path d={d} fill="none" stroke="#000" strokeOpacity=".65" strokeWidth={width + 1.7} strokeLinejoin="round" />
      <path d={d} fill="none" stroke="#efe7da" strokeWidth={width} strokeDasharray={dashed} strokeLinejoin="round" />
    </>
  );
}

/** The path of an outline's points, open at its end. */
function openPath(points: readonly Point[], to: ReturnType<typeof at>): string {
  return points
    .map((p, i) => {
      if (i === 0) return `M${to(p[0], p[1])}`;
      const a = points[i - 1];
      return `C${to(a[0] + (a[4] ?? 0), a[1] + (a[5] ?? 0))} ${to(p[0] + (p[2] ?? 0), p[1] + (p[3] ?? 0))} ${to(p[0], p[1])}`;
    })
    .join("");
}

/** An outline that is being drawn, up to the pointer. */
export function DrawingMarks({ points, to, viewport }: { points: readonly Point[]; to: Point | null; viewport: Viewport }) {
  const screen = at(viewport);
  const last = points[points.length - 1];
  const arms = last.length > 2 ? `M${screen(last[0] + last[2], last[1] + last[3])}L${screen(last[0] + last[4], last[1] + last[5])}` : "";
  return (
    <g data-testid="drawing" pointerEvents="none">
      <Line d={openPath(to ? [...points, to] : points, screen)} />
      {arms && <Line d={arms} width={1} />}
      {points.map((p, i) => {
        const [x, y] = screen(p[0], p[1]).split(" ");
        const closes = i === 0 && points.length >= 3;
        return (
          <circle key={i} cx={x} cy={y} r={i === 0 ? 5 : 2.6} fill={closes ? "var(--color-ochre)" : "#efe7da"} stroke="#1a1613" strokeWidth="1.2" />
        );
      })}
    </g>
  );
}

/** What is drawn with the pointer and not laid yet. */
export function TraceMarks({ kind, points, mods, viewport }: { kind: Trace; points: readonly Point[]; mods: Mods; viewport: Viewport }) {
  const aspect = useEditorState(pixelAspect);
  const screen = at(viewport);
  if (kind === "loop") return <Line d={openPath(points, screen)} width={1.6} />;
  const [a, b] = [points[0], points[points.length - 1]];
  const { center, half } = kind === "frame" ? drawnBox(a, b, { shift: false, alt: false }, aspect) : drawnBox(a, b, mods, aspect);
  const [cx, cy, rx, ry] = [
    viewport.left + center[0] * viewport.scale,
    viewport.top + center[1] * viewport.scale,
    half[0] * viewport.scale,
    half[1] * viewport.scale,
  ];
  if (kind === "oval") return <Line d={`M${cx - rx} ${cy}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0`} />;
  return <Line d={`M${cx - rx} ${cy - ry}h${2 * rx}v${2 * ry}h${-2 * rx}Z`} dashed={kind === "frame" ? "3 3" : undefined} />;
}
