"use client";
import { useState } from "react";
import type { Brush } from "@/core/document/touch";
import { useEditor, useEditorPick } from "../../editor/context";
import { NumberField } from "../../parts/NumberField";
import { Section } from "../Section";
import { Tick } from "./Tick";

/** The brush by numbers. */
export function BrushSection() {
  const editor = useEditor();
  const { retouch } = useEditorPick("retouch");
  const [more, setMore] = useState(false);
  const { brush } = retouch;
  const set = (part: Partial<Brush>) => editor.retouch.set({ brush: { ...brush, ...part } });
  const percent = (label: string, key: "hardness" | "opacity" | "flow" | "spacing", reset: number, min = 0) => (
    <NumberField
      label={label}
      value={Math.round(brush[key] * 100)}
      min={min}
      max={100}
      unit="%"
      reset={reset}
      onDrag={(v) => set({ [key]: v / 100 })}
      onCommit={(v) => set({ [key]: v / 100 })}
    />
  );
  return (
    <Section title="Brush">
      <NumberField
        label="Size"
        value={brush.size}
        min={1}
        max={2000}
        unit="px"
        reset={60}
        onDrag={(v) => set({ size: v })}
        onCommit={(v) => set({ size: v })}
      />
      {percent("Hardness", "hardness", 50)}
      {percent("Opacity", "opacity", 100)}
      {more ? (
        <>
          {percent("Flow", "flow", 100, 1)}
          {percent("Spacing", "spacing", 10, 1)}
          <Tick
            label="The pen’s pressure sets the size"
            on={!!brush.pressure?.size}
            onChange={(size) => set({ pressure: { ...brush.pressure, size } })}
          />
          <Tick label="… and the opacity" on={!!brush.pressure?.opacity} onChange={(opacity) => set({ pressure: { ...brush.pressure, opacity } })} />
        </>
      ) : (
        <button type="button" className="h-6 text-dim underline decoration-line underline-offset-4 hover:text-bone" onClick={() => setMore(true)}>
          Flow, spacing, pen
        </button>
      )}
    </Section>
  );
}
