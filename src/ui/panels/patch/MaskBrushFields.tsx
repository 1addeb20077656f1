"use client";
import { useEditor, useEditorPick } from "../../editor/context";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Tick } from "../retouch/Tick";

/** The brush of a painted mask. */
export function MaskBrushFields() {
  const editor = useEditor();
  const { maskBrush: b } = useEditorPick("maskBrush");
  const set = (part: Partial<typeof b>) => editor.masks.setBrush(part);
  const percent = (label: string, field: "hardness" | "opacity") => (
    <NumberField
      label={label}
      value={Math.round(100 * b[field])}
      min={0}
      max={100}
      unit="%"
      onDrag={(v) => set({ [field]: v / 100 })}
      onCommit={(v) => set({ [field]: v / 100 })}
    />
  );
  return (
    <div className="mt-1.5 border-t border-line pt-1.5">
      <Choice
        name="The brush"
        options={[
          ["on", "shows"],
          ["away", "takes away"],
        ]}
        value={b.erase ? "away" : "on"}
        onChange={(v) => set({ erase: v === "away" })}
      />
      <NumberField
        label="Size"
        value={b.size}
        min={1}
        max={400}
        most={2000}
        unit="px"
        onDrag={(size) => set({ size })}
        onCommit={(size) => set({ size })}
      />
      {percent("Hardness", "hardness")}
      {percent("Strength", "opacity")}
      <Tick label="The pen’s pressure sets the size" on={!!b.pressure?.size} onChange={(size) => set({ pressure: { ...b.pressure, size } })} />
      <Tick label="… and the strength" on={!!b.pressure?.opacity} onChange={(opacity) => set({ pressure: { ...b.pressure, opacity } })} />
      <div className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Strokes hold</span>
        <div className="w-[170px]">
          <Choice
            name="Strokes hold"
            tight
            options={[
              ["all", "always"],
              ["this", "this frame"],
              ["on", "from here"],
            ]}
            value={b.frames}
            onChange={(frames) => set({ frames })}
          />
        </div>
      </div>
    </div>
  );
}
