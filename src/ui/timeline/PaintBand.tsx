"use client";
import type { PaintLayer } from "@/core/document/layer";
import { useEditor } from "../editor/context";
import type { Axis } from "./axis";

interface Props {
  layer: PaintLayer;
  axis: Axis;
  top: number;
  title: string;
  off: boolean;
  selected: boolean;
}

/** The frames of a paint layer: each that is painted on is a block of its own. */
export function PaintBand({ layer, axis, top, title, off, selected }: Props) {
  const editor = useEditor();
  const runs: [number, number][] = [];
  const painted = new Set<number>();
  for (const t of layer.touches) {
    if (t.on === false) continue;
    const [a, b] = t.frames ?? [layer.in, layer.out];
    for (let n = Math.max(a, layer.in); n <= Math.min(b, layer.out); n++) painted.add(n);
  }
  for (const n of [...painted].sort((a, b) => a - b)) {
    const last = runs.at(-1);
    if (last?.[1] === n - 1) last[1] = n;
    else runs.push([n, n]);
  }
  return (
    <button
      type="button"
      data-testid="paint-band"
      aria-label={`${title}: painted on ${painted.size} frames`}
      aria-pressed={selected}
      className="absolute h-[18px] rounded-[4px]"
      style={{
        left: axis.x(layer.in),
        width: axis.x(layer.out + 1) - axis.x(layer.in),
        top,
        opacity: off ? 0.4 : 1,
        boxShadow: selected ? "inset 0 0 0 1px #dfae57" : "inset 0 0 0 1px #453b31",
      }}
      title={`${title}: painted on ${painted.size} ${painted.size === 1 ? "frame" : "frames"}`}
      onClick={() => editor.selection.select({ kind: "layer", layer: layer.id })}
      onDoubleClick={() => editor.mode.openPaint(layer.id)}
    >
      {runs.map(([a, b]) => (
        <span
          key={a}
          className="absolute top-[3px] h-3 rounded-[2px] bg-dusk"
          style={{ left: axis.x(a) - axis.x(layer.in) + 1, width: Math.max(2, axis.x(b + 1) - axis.x(a) - 2) }}
        />
      ))}
    </button>
  );
}
