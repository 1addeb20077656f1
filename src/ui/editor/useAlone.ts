"use client";
import { useEffect } from "react";
import { useEditor, useEditorState } from "./context";

/** Whether the picture stands alone; it takes the whole screen with it, and leaving that (Esc) leaves this. */
export function useAlone(): boolean {
  const editor = useEditor();
  const alone = useEditorState((s) => s.alone);
  useEffect(() => {
    if (!alone) return;
    const left = () => !document.fullscreenElement && editor.view.setAlone(false);
    // where the browser refuses, the picture still takes the whole window
    void document.documentElement.requestFullscreen?.().catch(() => undefined);
    document.addEventListener("fullscreenchange", left);
    return () => {
      document.removeEventListener("fullscreenchange", left);
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
    };
  }, [alone, editor]);
  return alone;
}
