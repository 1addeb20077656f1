"use client";
import { useCounting } from "../editor/usePreferences";
import { NumberField } from "../parts/NumberField";

interface Frame {
  label: string;
  value: number;
  min: number;
  max: number;
  onDrag?: (v: number) => void;
  disabled?: boolean;
  onCommit: (v: number) => void;
}

/** A frame, counted as frames are counted on the screen. */
export function FrameField({ bare, ...f }: Frame & { bare?: boolean }) {
  return <NumberField bare={bare} {...f} count={useCounting()} />;
}

/** Two numbers in one row: a first and a last frame, or two lengths. */
export function Pair({ label, a, b, frames }: { label: string; a: Frame; b: Frame; frames?: boolean }) {
  const count = useCounting();
  const wide = frames && count.by === "timecode";
  return (
    <div className="flex min-h-8 items-center gap-2">
      <span className="w-[84px] shrink-0 text-dim">{label}</span>
      <div className={wide ? "flex w-[118px] flex-col gap-1 py-0.5" : "flex w-[118px] gap-1.5"}>
        {[a, b].map((f) => (
          <div key={f.label} className="flex min-w-0 flex-1">
            <NumberField bare {...f} count={frames ? count : undefined} />
          </div>
        ))}
      </div>
    </div>
  );
}
