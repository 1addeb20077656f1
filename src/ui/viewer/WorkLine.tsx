"use client";
import { Square } from "lucide-react";
import { useEditor, useEditorState } from "../editor/context";
import { Button } from "../parts/Button";

/** What the engine is doing for this page, how far it is, and a way to stop it. */
export function WorkLine() {
  const editor = useEditor();
  const work = useEditorState((s) => s.task);
  if (!work) return null;
  const share = work.total > 0 ? work.done / work.total : 0;
  return (
    <div role="status" className="flex h-8 items-center gap-3 border-b border-line bg-raised px-3.5">
      <span className="whitespace-nowrap">{work.total < 0 ? "Stopping …" : `${work.name} …`}</span>
      <span className="h-1 flex-1 overflow-hidden rounded bg-ground">
        <span className="block h-full bg-ochre" style={{ width: `${100 * share}%` }} />
      </span>
      {work.total > 0 && (
        <span className="num text-dim">
          {work.done} of {work.total}
        </span>
      )}
      <Button className="h-6 px-2" onClick={editor.tasks.stopTask}>
        <Square size={12} /> Stop
      </Button>
    </div>
  );
}
