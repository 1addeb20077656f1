"use client";
import { atFrame } from "@/client/editor/counting";
import clsx from "clsx";
import { type PointerEvent, useRef } from "react";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { useHold } from "../editor/useHold";
import type { Axis } from "./axis";
import { KeyMarks } from "./KeyMarks";

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

type Grip = { kind: "in" | "out" | "body" | "fadeIn" | "fadeOut"; from: number };

/** Where one patch covers its intruder: ends, fades and keyframes can be dragged. With Shift an end takes its fade along, so that the part under full cover stays. */
export function Band({ layer, axis, top, first, last, title, off, selected, keyframes }: Props) {
  const editor = useEditor();
  const { keyframesPicked } = useEditorPick("keyframesPicked");
  const count = useCounting();
  const grip = useHold<Grip>();
  const begun = useRef<PatchLayer>(layer);
  const left = axis.x(layer.in);
  const width = axis.x(layer.out + 1) - left;
  const fadeIn = layer.fadeIn ?? 0;
  const fadeOut = layer.fadeOut ?? 0;

  const frameOf = (e: PointerEvent) => axis.frameAt(e.clientX - (e.currentTarget.closest("[data-lane]") as HTMLElement).getBoundingClientRect().left);
  const start = (kind: Grip["kind"]) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    editor.selection.select({ kind: "layer", layer: layer.id });
    if (editor.patches.isLocked(layer)) return;
    begun.current = layer;
    grip.take({ kind, from: frameOf(e) }, e);
  };
  const clamp = (v: number, lo: number, hi: number) => Math.min(hi, Math.max(lo, v));
  const edit = (g: Grip, n: number, dissolve: boolean, dragging: boolean) => {
    const was = begun.current;
    const change = (name: string, run: Parameters<typeof editor.patches.changeLayer>[2]) => editor.patches.changeLayer(layer.id, name, run, dragging);
    const shown = atFrame(n);
    if (g.kind === "in")
      change(`${dissolve ? "Dissolve" : "Begin"} ${title} ${dissolve ? "in from" : "at"} frame ${shown}`, (l) => {
        l.in = clamp(n, first, l.out);
        if (dissolve) l.fadeIn = Math.max(0, (was.fadeIn ?? 0) + was.in - l.in);
      });
    else if (g.kind === "out")
      change(`${dissolve ? "Dissolve" : "End"} ${title} ${dissolve ? "out to" : "at"} frame ${shown}`, (l) => {
        l.out = clamp(n, l.in, last);
        if (dissolve) l.fadeOut = Math.max(0, (was.fadeOut ?? 0) + l.out - was.out);
      });
    else if (g.kind === "fadeIn") change(`Fade ${title} in`, (l) => void (l.fadeIn = clamp(n - l.in, 0, l.out - l.in)));
    else if (g.kind === "fadeOut") change(`Fade ${title} out`, (l) => void (l.fadeOut = clamp(l.out - n, 0, l.out - l.in)));
    else
      change(`Move ${title} in time`, (l) => {
        const by = clamp(n - g.from, first - l.in, last - l.out);
        l.in += by;
        l.out += by;
      });
  };
  const move = (e: PointerEvent) => grip.now && edit(grip.now, frameOf(e), e.shiftKey, true);
  const end = (e: PointerEvent) => {
    const g = grip.release();
    if (!g) return;
    const n = frameOf(e);
    if (g.from === n && g.kind === "body") editor.cancelPreview();
    else edit(g, n, e.shiftKey, false);
  };
  const drag = { onPointerMove: move, onPointerUp: end, onPointerCancel: grip.cancel, onLostPointerCapture: grip.cancel };
  const w = axis.per;
  return (
    <div data-lane data-layer={layer.id} className="absolute inset-x-0" style={{ top, height: 18 }}>
      <div
        data-testid="band"
        data-selected={selected}
        className={clsx(
          "absolute top-[3px] h-3 cursor-grab overflow-hidden rounded-[3px] bg-dusk",
          off && "opacity-35",
          selected && "ring-1 ring-bone",
        )}
        style={{ left, width }}
        title={`${title}: frames ${count.show(layer.in)} to ${count.show(layer.out)}${layer.locked ? ", locked" : ""}`}
        onPointerDown={start("body")}
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
          title={`${k === "in" ? "Begins" : "Ends"} at frame ${count.show(layer[k])}; drag. With Shift the fade comes along.`}
          onPointerDown={start(k)}
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
            onPointerDown={start(k)}
            {...drag}
          />
        ))}
      <KeyMarks layer={layer} axis={axis} frames={keyframes} picked={keyframesPicked} selected={selected} />
    </div>
  );
}
