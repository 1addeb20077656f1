"use client";
import { X } from "lucide-react";
import { putNoticeAway } from "@/client/api";

/** What was noticed and somebody should know, until it is put away. */
export function NoticeLines({ notices, onAway }: { notices: { id: string; words: string }[]; onAway: () => void }) {
  return (
    <ul aria-label="Noticed" className="mb-4 space-y-2">
      {notices.map((n) => (
        <li key={n.id} className="flex items-start gap-3 rounded-md border border-line bg-panel px-3 py-2">
          <span className="flex-1">{n.words}</span>
          <button type="button" className="text-dim hover:text-bone" aria-label="Put away" onClick={() => void putNoticeAway(n.id).then(onAway)}>
            <X size={14} aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}
