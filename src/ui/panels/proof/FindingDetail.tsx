"use client";
import { type FormEvent, useState } from "react";
import type { Finding } from "@/core/proof/finding";
import { useEditor } from "../../editor/context";
import { useKeyShown } from "../../editor/usePreferences";
import { Button } from "../../parts/Button";

/** What a finding is, what to do about it, and both ways to be done with it: mending, and a reason to leave it. */
export function FindingDetail({ finding: f }: { finding: Finding }) {
  const editor = useEditor();
  const [why, setWhy] = useState("");
  const mending = editor.proving.mendingOf(f);
  const key = useKeyShown("mend");
  const accept = (e: FormEvent) => {
    e.preventDefault();
    if (why.trim()) editor.proving.accept(f, why.trim());
  };
  return (
    <div className="space-y-2">
      <p>{f.says}</p>
      <p className="text-dim">{f.do}</p>
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
