"use client";
import { X } from "lucide-react";
import { cutOutThings } from "@/client/editor/actions/fencing";
import type { Aid } from "@/client/editor/state/retouch";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button, IconButton } from "../../parts/Button";
import { Section } from "../Section";

/** One thing that can be drawn beside touches: begins to draw it, says how much of it there is, clears it. */
function AidRow({ aid, label, tip, count, clear }: { aid: Aid; label: string; tip: string; count: number; clear: () => void }) {
  const editor = useEditor();
  const { retouch } = useEditorPick("retouch");
  const on = retouch.aid === aid;
  return (
    <div className="flex h-8 items-center gap-1.5">
      <Button
        className={`h-6 flex-1 px-2 text-[12px] ${on ? "border-ochre text-ochre" : ""}`}
        aria-pressed={on}
        title={tip}
        onClick={() => editor.retouch.set({ aid: on ? null : aid })}
      >
        {on ? `${label}: done` : label}
      </Button>
      <span className="num w-5 text-right text-[12px] text-dim">{count || ""}</span>
      <IconButton name={`Clear: ${label.toLowerCase()}`} side="left" disabled={!count} onClick={clear}>
        <X size={13} />
      </IconButton>
    </div>
  );
}

/** What helps a fill: where it stays away from, where alone it takes from, and lines it carries on. */
export function AidsSection() {
  const editor = useEditor();
  const { retouch: r } = useEditorPick("retouch");
  return (
    <Section title="Before you fill">
      <AidRow
        aid="avoid"
        label="Stay away from"
        tip="Brush over what nothing may be taken from: the subject, beyond its edge"
        count={r.avoid.length}
        clear={() => editor.retouch.set({ avoid: [] })}
      />
      <AidRow
        aid="only"
        label="Take only from"
        tip="Brush over the picture that alone may be taken"
        count={r.only.length}
        clear={() => editor.retouch.set({ only: [] })}
      />
      <AidRow
        aid="guide"
        label="Carry on a line"
        tip="Drag along an edge, across the hole: it is carried on straight"
        count={r.guides.length}
        clear={() => editor.retouch.set({ guides: [] })}
      />
      <p className="text-dim">Straight edges on both sides are found and carried on anyway.</p>
    </Section>
  );
}

/** The fence: outlines inside which alone anything is painted. */
export function FenceSection() {
  const editor = useEditor();
  const { retouch: r, recipe } = useEditorPick("retouch", "recipe");
  return (
    <Section title="Fence">
      <AidRow
        aid="fence"
        label={r.fence.length ? "Draw another" : "Draw a fence"}
        tip="Drag a loop: nothing is painted outside it"
        count={r.fence.length}
        clear={() => editor.retouch.set({ fence: [] })}
      />
      {cutOutThings({ recipe }).map((thing, i) => (
        <Button
          key={i}
          className="mt-1 h-6 w-full truncate px-2 text-[12px]"
          title={`Nothing is painted on ${thing.name}, as it was cut out of this frame`}
          onClick={() => void editor.fencing.fenceOff(thing)}
        >
          Fence off {thing.name}
        </Button>
      ))}
    </Section>
  );
}
