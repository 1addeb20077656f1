"use client";
import { maskOf } from "@/core/document/recipe";
import type { PatchLayer } from "@/core/document/layer";
import { shapeName } from "@/client/editor/shapes";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";

/** A loop round something that moves becomes its form, frame by frame; and what there is of it. */
export function CutOutPart({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, task } = useEditorPick("recipe", "task", "picked", "frame");
  const { shapes } = maskOf(recipe, layer);
  const cut = shapes.filter((s) => s.kind === "cutout" && s.on !== false);
  const index = editor.cutting.loopOf(layer);
  const loop = index === null ? null : shapes[index];
  if (!loop && !cut.length) return null;
  const held = loop?.op === "cut";
  return (
    <div className="mt-1 border-t border-line pt-1.5" data-testid="cutout">
      {loop && (
        <div className="flex flex-wrap items-center gap-2">
          <p className={`text-[12px] text-dim ${held ? "min-w-0 flex-1" : "w-full"}`}>
            {held
              ? "Somebody passes within the loop? Followed, they stay in front of the patch."
              : "Does what the loop surrounds move? Its form is followed through the patch’s frames."}
          </p>
          <Button
            className="h-6 shrink-0 px-2 text-[12px]"
            disabled={layer.locked || !!task}
            title={`${shapeName(loop, index!)} is taken for a rough loop round the thing at this frame`}
            onClick={() => void editor.cutting.cutOut(layer)}
          >
            {held ? "Hold it out" : "Cut it out"}
          </Button>
          {!held && (
            <Button
              className="h-6 shrink-0 px-2 text-[12px]"
              disabled={layer.locked || !!task}
              title="A shadow lies within the loop: it is followed wherever it falls, and what it falls on is no part of it"
              onClick={() => void editor.cutting.cutOut(layer, true)}
            >
              A shadow
            </Button>
          )}
        </div>
      )}
      {cut.length > 0 && (
        <div className="flex items-center gap-2">
          <p className="min-w-0 flex-1 py-0.5 text-[12px] text-dim">
            {cut.length === 1 ? "The cut-out" : "A cut-out"} is corrected by the brush, on the frame that is shown; Alt takes away.
          </p>
          {editor.cutting.correctedOf(layer) !== null && (
            <Button
              className="h-6 shrink-0 px-2 text-[12px]"
              disabled={layer.locked || !!task}
              title="The corrections of this frame hold on the frames before and after it, as far as the next ones that were corrected"
              onClick={() => void editor.cutting.carryOn(layer)}
            >
              Carry on
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
