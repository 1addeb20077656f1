"use client";
import { useEffect, useState } from "react";
import type { Editor } from "@/client/editor/editor";
import { type Drawn, PointerPipe } from "@/client/editor/tools/pointer";

/** The pipe from the pointer to the tools for one surface, and what is drawn through it. While the surface is blocked nothing goes on. */
export function usePointerPipe(editor: Editor, blocked: boolean): { pipe: PointerPipe; live: Drawn | null } {
  const [live, setLive] = useState<Drawn | null>(null);
  const [pipe] = useState(() => new PointerPipe(editor.history, setLive));
  useEffect(() => {
    if (blocked) pipe.cancel();
  }, [blocked, pipe]);
  // a surface that goes takes along what was begun on it
  useEffect(() => () => pipe.cancel(), [pipe]);
  return { pipe, live };
}
