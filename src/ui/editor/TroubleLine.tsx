"use client";
import { useEditorState } from "./context";

/** Says over the picture when an original has gone or has changed: what is decoded already can still be worked on. */
export function TroubleLine() {
  const takes = useEditorState((s) => s.shot.takes);
  const said = Object.values(takes).flatMap((t) => (t.trouble ? [t.trouble] : []));
  if (!said.length) return null;
  return (
    <p role="alert" className="border-b border-brick bg-[#3a241c] px-3.5 py-1.5">
      {said.join(" ")}
    </p>
  );
}
