"use client";
import { memo } from "react";
import { pixelAspect, touchesOpen } from "@/client/editor/state/select";
import type { Area } from "@/core/document/touch";
import type { Outline, Point } from "@/core/document/geometry";
import { useEditorPick, useEditorState } from "../../editor/context";
import type { Viewport } from "../zoom";

interface Props {
  viewport: Viewport;
  size: { w: number; h: number };
  trace: { kind: "stroke" | "loop" | "line"; points: Point[] } | null;
}

/** What is drawn over the picture while it is retouched: the fence, what helps a fill, the selected touch, and what is being drawn. */
export const TouchMarks = memo(function TouchMarks({ viewport, size, trace }: Props) {
  const s = useEditorPick("recipe", "mode", "retouch", "handles");
  const { fence, avoid, only, guides, loop, aid, tool, brush, touch: id } = s.retouch;
  const x = (v: number) => viewport.left + v * viewport.scale;
  const y = (v: number) => viewport.top + v * viewport.scale;
  const line = (points: readonly Point[], shift: readonly number[] = [0, 0]) =>
    points.map((p, i) => `${i ? "L" : "M"}${x(p[0] + shift[0]).toFixed(1)} ${y(p[1] + shift[1]).toFixed(1)}`).join("");
  // a brush's course is drawn on square pixels, and laid on those of the take
  const aspect = useEditorState(pixelAspect);
  const squeezed = aspect === 1 ? undefined : `scale(${1 / aspect} 1)`;
  const course = (points: readonly Point[]) =>
    points.map((p, i) => `${i ? "L" : "M"}${(aspect * x(p[0])).toFixed(1)} ${y(p[1]).toFixed(1)}`).join("") + (points.length > 1 ? "" : "h0.01");
  const closed = (o: Outline, shift?: readonly number[]) => `${line(o, shift)}Z`;
  const chosen = touchesOpen(s).find((t) => t.id === id);
  const aids = tool === "fill" || aid === "avoid" || aid === "only" || aid === "guide";
  const areas = (list: readonly Area[], pattern: string, name: string) =>
    list.map((a, i) =>
      a.outline ? (
        <path key={`${name}${i}`} d={closed(a.outline)} fill={`url(#${pattern})`} />
      ) : (
        <path
          key={`${name}${i}`}
          d={course(a.path!)}
          transform={squeezed}
          fill="none"
          stroke={`url(#${pattern})`}
          strokeWidth={a.brush!.size * viewport.scale}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ),
    );
  // a line, so that what the touch did can still be judged
  const thin = (d: string, dash?: string) => (
    <>
      <path d={d} fill="none" stroke="#000" strokeOpacity=".6" strokeWidth="3" />
      <path d={d} fill="none" stroke="#efe7da" strokeWidth="1.2" strokeDasharray={dash} />
    </>
  );
  return (
    <svg className="pointer-events-none absolute inset-0" width={size.w} height={size.h} aria-hidden>
      <defs>
        <pattern id="beyond-fence" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="7" height="7" fill="#000" fillOpacity=".32" />
          <rect width="1.2" height="7" fill="#efe7da" fillOpacity=".3" />
        </pattern>
        <pattern id="stay-away" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0h8M0 0v8" stroke="#000" strokeOpacity=".7" strokeWidth="3" />
          <path d="M0 0h8M0 0v8" stroke="#efe7da" strokeWidth="1.2" />
        </pattern>
        <pattern id="take-from" width="9" height="9" patternUnits="userSpaceOnUse">
          <circle cx="4.5" cy="4.5" r="2.6" fill="#000" fillOpacity=".6" />
          <circle cx="4.5" cy="4.5" r="1.6" fill="#efe7da" />
        </pattern>
      </defs>
      {s.handles && fence.length > 0 && (
        <>
          <path d={`M0 0H${size.w}V${size.h}H0Z${fence.map((o) => closed(o)).join("")}`} fillRule="evenodd" fill="url(#beyond-fence)" />
          {fence.map((o, i) => (
            <path key={i} d={closed(o)} fill="none" stroke="#efe7da" strokeOpacity=".7" strokeWidth="1" />
          ))}
        </>
      )}
      {s.handles && aids && (
        <>
          {areas(avoid, "stay-away", "a")}
          {areas(only, "take-from", "o")}
          {guides.map((g, i) => (
            <g key={i}>{thin(line(g), "14 5")}</g>
          ))}
        </>
      )}
      {s.handles && chosen && (
        <>
          {chosen.outline && thin(closed(chosen.outline))}
          {chosen.outline && chosen.offset && thin(closed(chosen.outline, chosen.offset), "2 4")}
          {chosen.path && <Stroke path={chosen.path} size={chosen.brush?.size ?? 1} aspect={aspect} viewport={viewport} />}
        </>
      )}
      {loop.length > 2 && thin(closed(loop))}
      {trace?.kind === "stroke" && (
        <path
          d={course(trace.points)}
          transform={squeezed}
          fill="none"
          stroke={aid === "avoid" ? "url(#stay-away)" : aid === "only" ? "url(#take-from)" : "#efe7da"}
          strokeOpacity={aid ? 1 : 0.45}
          strokeWidth={brush.size * viewport.scale}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      )}
      {trace && trace.kind !== "stroke" && trace.points.length > 1 && thin(line(trace.points), trace.kind === "line" ? "14 5" : undefined)}
    </svg>
  );
});

/** A stroke that was laid: its course, and the brush at its start. */
function Stroke({ path, size, aspect, viewport }: { path: readonly Point[]; size: number; aspect: number; viewport: Viewport }) {
  const at = (p: Point) => [viewport.left + p[0] * viewport.scale, viewport.top + p[1] * viewport.scale];
  const [x, y] = at(path[0]);
  const d = path.map((p, i) => `${i ? "L" : "M"}${at(p).join(" ")}`).join("");
  const shapes = (stroke: string, opacity: number, width: number) => (
    <g fill="none" stroke={stroke} strokeOpacity={opacity} strokeWidth={width}>
      <path d={d} />
      <ellipse cx={x} cy={y} rx={(size / 2 / aspect) * viewport.scale} ry={(size / 2) * viewport.scale} />
    </g>
  );
  return (
    <>
      {shapes("#000", 0.6, 3)}
      {shapes("#dfae57", 1, 1.2)}
    </>
  );
}
