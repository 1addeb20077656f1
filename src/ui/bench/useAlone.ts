"use client";
import { useEffect } from "react";
import { useBench, useBenchState } from "./context";

/** Whether the picture stands alone; it takes the whole screen with it, and leaving that (Esc) leaves this. */
export function useAlone(): boolean {
  const bench = useBench();
  const alone = useBenchState((s) => s.alone);
  useEffect(() => {
    if (!alone) return;
    const left = () => !document.fullscreenElement && bench.set({ alone: false });
    // where the browser refuses, the picture still takes the whole window
    void document.documentElement.requestFullscreen?.().catch(() => undefined);
    document.addEventListener("fullscreenchange", left);
    return () => {
      document.removeEventListener("fullscreenchange", left);
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
    };
  }, [alone, bench]);
  return alone;
}
