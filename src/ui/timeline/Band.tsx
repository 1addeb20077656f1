"use client";
import clsx from "clsx";
import { type PointerEvent, useRef, useState } from "react";
import { moveKeys } from "@/client/bench/keyframes";
import type { PatchLayer } from "@/core/document";
import { useBench } from "../bench/context";
import type { Axis } from "./axis";

interface Props {
  layer: PatchLayer;
  axis: Axis;
  top: number;
  /** The shot's first and last frame. */
  first: number;
  last: number;
  title: string;
  off: boolean;
  selected: boolean;
  keyframes: number[];
}

type Grip = { kind: "in" | "out" | "body" | "fadeIn" | "fadeOut"; from: number } | { kind: "key"; key: number };

/** Where one patch covers its intruder: ends, fades and keyframes can be dragged. */
export function Band({ layer, axis, top, first, last, title, off, selected, keyframes }: Props) {
  const bench = useBench();
  const grip = useRef<Grip | null>(null);
  const [keyAt, setKeyAt] = useState<{ from: number; to: number } | null>(null);
  const left = axis.x(layer.in);
  const width = axis.x(layer.out + 1) - left;
  const fadeIn = layer.fadeIn ?? 0;
  const fadeOut = layer.fadeOut ?? 0;

  const frameOf = (e: PointerEvent) => axis.frameAt(e.clientX - (e.currentTarget.closest("[data-lane]") as HTMLElement).getBoundingClientRect().left);
  const start = (g: (n: number) => Grip) => (e: PointerEvent) => {
    if (e.button !== 0 || layer.locked) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    bench.select({ kind: "layer", layer: layer.id });
    grip.current = g(frameOf(e));
  };
  const edit = (n: number, dragging: boolean) => {
    const g = grip.current;
    if (!g) return;
    const clamp = (v: number, lo: number, hi: number) => Math.min(hi, Math.max(lo, v));
    if (g.kind === "in") bench.changeLayer(layer.id, `Begin ${title} at frame ${n}`, (l) => void (l.in = clamp(n, first, l.out)), dragging);
    else if (g.kind === "out") bench.changeLayer(layer.id, `End ${title} at frame ${n}`, (l) => void (l.out = clamp(n, l.in, last)), dragging);
    else if (g.kind === "fadeIn")
      bench.changeLayer(layer.id, `Fade ${title} in`, (l) => void (l.fadeIn = clamp(n - l.in, 0, l.out - l.in)), dragging);
    else if (g.kind === "fadeOut")
      bench.changeLayer(layer.id, `Fade ${title} out`, (l) => void (l.fadeOut = clamp(l.out - n, 0, l.out - l.in)), dragging);
    else if (g.kind === "body") {
      bench.changeLayer(
        layer.id,
        `Move ${title} in time`,
        (l) => {
          const by = clamp(n - g.from, first - l.in, last - l.out);
          l.in += by;
          l.out += by;
        },
        dragging,
      );
    } else if (g.kind === "key") {
      bench.changeLayer(layer.id, `Move a keyframe of ${title} to frame ${n}`, (l) => moveKeys(l, g.key, n), dragging);
      setKeyAt(dragging ? { from: g.key, to: n } : null);
    }
  };
  const move = (e: PointerEvent) => grip.current && edit(frameOf(e), true);
  const end = (e: PointerEvent) => {
    if (!grip.current) return;
    const g = grip.current;
    const n = frameOf(e);
    if (g.kind === "body" && g.from === n) bench.cancelPreview();
    else edit(n, false);
    grip.current = null;
  };
  const drag = { onPointerMove: move, onPointerUp: end };
  const w = axis.per;
  return (
    <div data-lane className="absolute inset-x-0" style={{ top, height: 18 }}>
      <div
        data-testid="band"
        className={clsx(
          "absolute top-[3px] h-3 cursor-grab overflow-hidden rounded-[3px] bg-dusk",
          off && "opacity-35",
          selected && "ring-1 ring-bone",
        )}
        style={{ left, width }}
        title={`${title}: frames ${layer.in} to ${layer.out}`}
        onPointerDown={start((from) => ({ kind: "body", from }))}
        {...drag}
      >
        <svg className="absolute inset-0" width={width} height="12" aria-hidden>
          {fadeIn > 0 && <path d={`M0 0H${fadeIn * w}L0 12Z`} fill="var(--color-ground)" fillOpacity=".72" />}
          {fadeOut > 0 && <path d={`M${width} 0H${width - fadeOut * w}L${width} 12Z`} fill="var(--color-ground)" fillOpacity=".72" />}
        </svg>
      </div>
      {(["in", "out"] as const).map((k) => (
        <div
          key={k}
          data-testid={`band-${k}`}
          className={clsx("absolute top-[1px] h-4 w-2 cursor-ew-resize rounded-sm", selected && "bg-bone")}
          style={{ left: k === "in" ? left - 3 : left + width - 5 }}
          title={k === "in" ? `Begins at frame ${layer.in}; drag` : `Ends at frame ${layer.out}; drag`}
          onPointerDown={start((from) => ({ kind: k, from }))}
          {...drag}
        />
      ))}
      {selected &&
        (["fadeIn", "fadeOut"] as const).map((k) => (
          <div
            key={k}
            data-testid={k}
            className="absolute top-[-3px] h-[9px] w-[9px] cursor-ew-resize rounded-full border border-ground bg-ochre"
            style={{ left: k === "fadeIn" ? axis.x(layer.in + fadeIn) + 5 : axis.x(layer.out + 1 - fadeOut) - 14 }}
            title={k === "fadeIn" ? `Fades in over ${fadeIn} frames; drag` : `Fades out over ${fadeOut} frames; drag`}
            onPointerDown={start((from) => ({ kind: k, from }))}
            {...drag}
          />
        ))}
      {keyframes.map((f) => {
        const at = keyAt?.from === f ? keyAt.to : f;
        return (
          <div
            key={f}
            data-testid="key"
            className="absolute top-0 flex h-[18px] w-3 cursor-ew-resize justify-center"
            style={{ left: axis.x(at) + w / 2 - 6 }}
            title={`Keyframe at ${f}; drag`}
            onPointerDown={start(() => ({ kind: "key", key: f }))}
            {...drag}
          >
            <span className={clsx("h-full w-[3px] rounded-sm", selected ? "bg-ochre" : "bg-ground")} />
          </div>
        );
      })}
    </div>
  );
}
