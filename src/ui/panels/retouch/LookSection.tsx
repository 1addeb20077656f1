"use client";
import { sourceRef } from "@/client/editor/retouch-target";
import { useEditor, useEditorPick, useEditorState } from "../../editor/context";
import { Section } from "../Section";

const WAYS = [
  ["", "nothing"],
  ["source", "the source"],
  ["before", "the frame before"],
  ["after", "the frame after"],
] as const;

/** Another picture laid half through over the one that is worked on, to see whether both line up. */
export function LookSection() {
  const editor = useEditor();
  const { retouch } = useEditorPick("retouch");
  const source = useEditorState((s) => sourceRef(s) !== null);
  const { veil } = retouch;
  return (
    <Section title="Lay over it, to look">
      <div className="flex h-8 items-center gap-2">
        <select
          aria-label="Lay over it"
          className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5"
          value={veil?.what ?? ""}
          onChange={(e) => editor.retouch.veil(e.target.value ? { what: e.target.value as "source", share: veil?.share ?? 0.5 } : null)}
        >
          {WAYS.map(([v, label]) => (
            <option key={v} value={v} disabled={v === "source" && !source}>
              {v === "source" && !source ? "the source (it is this picture)" : label}
            </option>
          ))}
        </select>
        {veil && (
          <input
            type="range"
            aria-label="How much of it shows"
            className="w-24 accent-ochre"
            min={0}
            max={100}
            value={Math.round(100 * veil.share)}
            onChange={(e) => editor.retouch.veil({ ...veil, share: Number(e.target.value) / 100 })}
          />
        )}
      </div>
    </Section>
  );
}
