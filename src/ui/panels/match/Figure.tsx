"use client";
import { Eye, EyeOff } from "lucide-react";
import type { MatchPart } from "@/client/picture/protocol";
import { useEditor, useEditorPick } from "../../editor/context";

const codes = (v: number | null | undefined) => (v === null || v === undefined ? null : `${v.toFixed(v < 10 ? 1 : 0)} codes`);

/** Blurs that differ by less than so many pixels are not told apart by eye, nor for sure by measure. */
const ALIKE = 0.35;

/** How far off one part of the matching still is on the frame shown, and whether it is shown there. */
export function Figure({ part, on }: { part: MatchPart; on: boolean }) {
  const editor = useEditor();
  const { figures, matchHidden } = useEditorPick("figures", "matchHidden");
  const sharpness = figures?.sharpness ?? null;
  const hidden = matchHidden.includes(part);
  const said = {
    light: { words: codes(figures?.light), says: "off", title: "How far the light around the patch is off, on this frame" },
    seam: { words: codes(figures?.edge), says: "off at the edge", title: "How far the edge is off, on this frame" },
    sharpness: {
      words: sharpness === null ? null : Math.abs(sharpness) < ALIKE ? "as sharp" : `${Math.abs(sharpness).toFixed(1)} px`,
      says: sharpness === null || Math.abs(sharpness) < ALIKE ? "as around it" : sharpness < 0 ? "too soft" : "too sharp",
      title: "By how wide a blur its edges differ from those around it, on this frame",
    },
    grain: {
      words: figures?.grain === null || figures?.grain === undefined ? null : figures.grain.toFixed(2),
      says: "× the footage's",
      title: "How much grain moves in the patch, against the footage",
    },
  }[part];
  return (
    <span className="flex items-center gap-2">
      <output className="text-[12px] whitespace-nowrap text-dim" aria-label={`How far off: ${part}`} title={said.title}>
        {said.words ? (
          <>
            <span className="num text-bone">{said.words}</span> {said.says}
          </>
        ) : (
          "cannot tell here"
        )}
      </output>
      {on && (
        <button
          type="button"
          className="grid size-6 place-items-center rounded-md text-dim hover:bg-raised hover:text-bone"
          aria-pressed={hidden}
          aria-label={hidden ? `Show the ${part}` : `Look without the ${part}`}
          title={hidden ? `Show the ${part}` : `Look without the ${part}; what is written keeps it`}
          onClick={() => editor.view.hideMatch(part, !hidden)}
        >
          {hidden ? <EyeOff size={14} /> : <Eye size={14} />}
        </button>
      )}
    </span>
  );
}
