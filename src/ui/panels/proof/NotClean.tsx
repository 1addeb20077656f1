"use client";
import { findingWords, proofNow } from "@/client/editor/actions/proving";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";

/** What is said before a shot is written that is not proven clean; it can be written all the same. */
export function NotClean() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "proof");
  const now = proofNow(s);
  if (now?.verdict === "clean" || !s.recipe.intruders.some((i) => i.layers.length)) return null;
  const words = !now
    ? "It is not measured yet whether anything is left of what must go."
    : now.verdict === "faults"
      ? `Still wrong: ${findingWords(now.findings)}. It can be written all the same.`
      : "Nothing was found, but not all could be told. It can be written all the same.";
  return (
    <div className="border-b border-line px-3.5 py-2.5" role="note">
      <p className={now?.verdict === "faults" ? "" : "text-dim"}>{words}</p>
      <Button className="mt-2" onClick={() => editor.mode.setStage("Proof")}>
        {now ? "Look at it in Proof" : "Measure it in Proof"}
      </Button>
    </div>
  );
}
