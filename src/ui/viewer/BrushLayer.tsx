"use client";
import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { toast } from "sonner";
import { newId, round } from "@/client/bench/names";
import { keyOf } from "@/client/input/keys";
import type { Point, Touch } from "@/core/document";
import { useBench, useBenchPick } from "../bench/context";
import { isTyping } from "../bench/useKeys";
import { usePointerAtOnce } from "./usePointerAtOnce";
import type { Lie } from "./zoom";

interface Props {
  lie: Lie;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  picture: RefObject<HTMLCanvasElement | null>;
  blocked: boolean;
}

/** Retouching a plate: the brush's ring with what it will lay down, the source's mark, and the stroke itself. */
export function BrushLayer({ lie, size, toTake, picture, blocked }: Props) {
  const bench = useBench();
  const s = useBenchPick("recipe", "plate", "brush", "brushTool", "cloneSource", "uncoverFrom", "shown", "handles");
  const [at, setAt] = useState<[number, number] | null>(null);
  const stroke = useRef<{ touch: Touch; path: Point[]; until: number } | null>(null);
  const surface = useRef<HTMLDivElement>(null);
  const ghost = useRef<HTMLCanvasElement>(null);
  const { brush, brushTool, cloneSource, plate } = s;

  const offsetAt = (p: [number, number]): [number, number] | null => {
    if (brushTool !== "clone" || !cloneSource) return null;
    return cloneSource.offset ?? [Math.round(cloneSource.at[0] - p[0]), Math.round(cloneSource.at[1] - p[1])];
  };

  useHotkeys(
    keyOf("source").keys,
    () => {
      if (!at || brushTool !== "clone") return;
      bench.set({ cloneSource: { at: [round(at[0]), round(at[1])], offset: null } });
    },
    { useKey: false, ignoreEventWhen: isTyping, enableOnFormTags: true },
  );

  /** What keeps the brush from painting, as a sentence. */
  const reason = (): string | null => {
    if (blocked) return "";
    if (brushTool === "clone" && !cloneSource) return "Point at clean picture and press X to set the source, then paint.";
    if (brushTool === "uncover" && !s.uncoverFrom) return "Choose in the card what to uncover: another plate, or a frame.";
    if (s.shown?.quality !== "exact") return "The exact frame is still being read; a moment.";
    return null;
  };

  const begin = (e: PointerEvent) => {
    if (e.button !== 0 || !plate) return;
    const why = reason();
    if (why !== null) return void (why && toast(why));
    const p = toTake(e);
    const offset = offsetAt(p);
    const from = s.uncoverFrom;
    const touch: Touch = {
      id: newId("t"),
      kind: brushTool,
      brush: { ...brush },
      ...(offset ? { offset } : {}),
      ...(brushTool === "uncover" && from
        ? { source: "plate" in from ? { plate: from.plate } : { take: s.recipe.shot.take, frame: from.frame } }
        : {}),
    };
    if (brushTool === "clone" && cloneSource && !cloneSource.offset) bench.set({ cloneSource: { ...cloneSource, offset } });
    stroke.current = { touch, path: [], until: e.timeStamp };
    e.currentTarget.setPointerCapture(e.pointerId);
    bench.painter.stroke(plate, touch);
    add([[p[0], p[1], pressure(e)]]);
  };
  const add = (points: [number, number, number][]) => {
    const rounded = points.map(([x, y, z]) => (z === 1 ? [round(x), round(y)] : [round(x), round(y), round(z, 3)]));
    stroke.current!.path.push(...rounded);
    bench.painter.strokeOn(rounded);
  };
  const move = (e: PointerEvent) => {
    setAt(toTake(e));
    draw(e.nativeEvent);
  };
  /** Draws on with what an event tells and none before it has told. */
  const draw = (e: globalThis.PointerEvent) => {
    const now = stroke.current;
    if (!now) return;
    const events = e.getCoalescedEvents?.() ?? [];
    const fresh = (events.length ? events : [e]).filter((c) => c.timeStamp > now.until);
    if (!fresh.length) return;
    now.until = fresh.at(-1)!.timeStamp;
    add(fresh.map((c) => [...toTake(c), pressure(c)] as [number, number, number]));
  };
  usePointerAtOnce(surface, draw);
  const end = () => {
    const done = stroke.current;
    stroke.current = null;
    if (!done || !plate) return;
    bench.painter.strokeEnd();
    const kind = done.touch.kind;
    bench.commit(`${kind.charAt(0).toUpperCase()}${kind.slice(1)} stroke`, (d) => {
      d.plates[plate].touches.push({ ...done.touch, path: done.path } as (typeof d.plates)[string]["touches"][number]);
    });
  };

  // what the brush will lay down, so that an edge can be lined up with an edge
  const offset = at && offsetAt(at);
  useEffect(() => {
    const c = ghost.current;
    const pic = picture.current;
    if (!c || !at || !offset || !pic || stroke.current) return;
    const r = brush.size / 2;
    const px = Math.max(2, Math.ceil(brush.size * lie.scale));
    c.width = px;
    c.height = px;
    const g = c.getContext("2d")!;
    g.beginPath();
    g.arc(px / 2, px / 2, px / 2, 0, 2 * Math.PI);
    g.clip();
    g.drawImage(pic, at[0] - r + offset[0], at[1] - r + offset[1], brush.size, brush.size, 0, 0, px, px);
  });

  const ring = at && { x: lie.left + at[0] * lie.scale, y: lie.top + at[1] * lie.scale, r: (brush.size / 2) * lie.scale };
  const mark =
    cloneSource &&
    brushTool === "clone" &&
    (cloneSource.offset && at ? [at[0] + cloneSource.offset[0], at[1] + cloneSource.offset[1]] : cloneSource.at);
  return (
    <div
      ref={surface}
      className="absolute inset-0 touch-none"
      style={{ cursor: blocked ? "grab" : "none" }}
      onPointerDown={begin}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={end}
      onPointerLeave={() => setAt(null)}
    >
      {ring && offset && !stroke.current && s.handles && (
        <canvas
          ref={ghost}
          className="pointer-events-none absolute opacity-85"
          style={{ left: ring.x - ring.r, top: ring.y - ring.r, width: 2 * ring.r, height: 2 * ring.r }}
        />
      )}
      <svg className="pointer-events-none absolute inset-0" width={size.w} height={size.h} aria-hidden>
        {ring && (
          <>
            <circle cx={ring.x} cy={ring.y} r={ring.r} fill="none" stroke="#000" strokeOpacity=".6" strokeWidth="2.4" />
            <circle cx={ring.x} cy={ring.y} r={ring.r} fill="none" stroke="#efe7da" strokeWidth="1" />
            {brush.hardness < 1 && (
              <circle cx={ring.x} cy={ring.y} r={ring.r * brush.hardness} fill="none" stroke="#efe7da" strokeOpacity=".45" strokeWidth="1" />
            )}
          </>
        )}
        {mark && (
          <g transform={`translate(${lie.left + mark[0] * lie.scale} ${lie.top + mark[1] * lie.scale})`} fill="none">
            <path d="M-9 -9L-3 -3M9 -9L3 -3M-9 9L-3 3M9 9L3 3" stroke="#000" strokeOpacity=".6" strokeWidth="3" />
            <path d="M-9 -9L-3 -3M9 -9L3 -3M-9 9L-3 3M9 9L3 3" stroke="#efe7da" strokeWidth="1.4" />
          </g>
        )}
      </svg>
    </div>
  );
}

const pressure = (e: { pointerType: string; pressure: number }) => (e.pointerType === "pen" ? e.pressure : 1);
