"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { noteTake } from "@/client/api";
import type { Take } from "@/wire/take";

/** What must go from a shot, in the user's words; a click writes it. */
export function NoteLine({ take, name }: { take: Take; name: string }) {
  const client = useQueryClient();
  const [writing, setWriting] = useState(false);
  const keep = async (note: string) => {
    setWriting(false);
    if (note.trim() === take.note) return;
    try {
      await noteTake(take.id, note);
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e));
    }
    void client.invalidateQueries({ queryKey: ["state"] });
  };
  if (writing)
    return (
      <input
        autoFocus
        aria-label={`What must go from ${name}`}
        className="h-6 min-w-0 flex-1 rounded-[3px] border border-line bg-transparent px-1.5 text-bone"
        defaultValue={take.note}
        maxLength={200}
        onBlur={(e) => void keep(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setWriting(false);
        }}
      />
    );
  return (
    <button
      type="button"
      className={`min-w-0 text-left hover:text-bone ${take.note ? "text-bone" : "text-dim"}`}
      aria-label={take.note ? `What must go from ${name}: ${take.note}. Change it` : `Write what must go from ${name}`}
      onClick={() => setWriting(true)}
    >
      {take.note || "What must go?"}
    </button>
  );
}
