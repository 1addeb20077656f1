"use client";
import { type FormEvent, useState } from "react";
import type { Finding } from "@/core/proof/finding";
import { SEEN_BEST } from "@/client/editor/actions/proving";
import { useEditor, useEditorPick } from "../../editor/context";
import { useKeyShown } from "../../editor/usePreferences";
import { Button } from "../../parts/Button";

const VIEWS = { contrast: "strong contrast", colour: "strong colour", detail: "fine detail alone", time: "the difference in time" } as const;

/** What a finding is, what to do about it, and both ways to be done with it: mending, and a reason to leave it. */
export function FindingDetail({ finding: f }: { finding: Finding }) {
  const editor = useEditor();
  const [why, setWhy] = useState("");
  const mending = editor.proving.mendingOf(f);
  const key = useKeyShown("mend");
  const { harder } = useEditorPick("harder");
  const best = SEEN_BEST[f.kind];
  const accept = (e: FormEvent) => {
    e.preventDefault();
    if (why.trim()) editor.proving.accept(f, why.trim());
  };
  return (
    <div className="space-y-2">
      <p>{f.says}</p>
      <p className="text-dim">{f.do}</p>
      {best && (
        <p className="flex items-center gap-2 text-[12px] text-dim">
          <span className="flex-1">{harder === best ? `Shown in ${VIEWS[best]}, where it is seen best.` : `It is seen best in ${VIEWS[best]}.`}</span>
          <Button className="h-6 px-2 text-[12px]" onClick={() => editor.glass.setHarder(best)}>
            {harder === best ? "As usual" : "Show it so"}
          </Button>
        </p>
      )}
      {mending && (
        <Button tone="main" onClick={() => editor.proving.mend(f)}>
          {mending} {key && <kbd className="num ml-1 opacity-70">{key}</kbd>}
        </Button>
      )}
      <form className="flex gap-2" onSubmit={accept}>
        <input
          className="min-w-0 flex-1 rounded-md border border-line bg-ground px-2 py-1"
          aria-label="Why it may stay"
          placeholder="Why it may stay"
          maxLength={200}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
        <Button type="submit" disabled={!why.trim()}>
          Accept
        </Button>
      </form>
    </div>
  );
}
