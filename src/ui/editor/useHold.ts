"use client";
import { type PointerEvent, useContext, useEffect, useMemo, useRef } from "react";
import { EditorContext } from "./context";

/** Something that is held with the pointer on a panel or the timeline. */
export interface Hold<T> {
  /** What is held; null while nothing is. */
  readonly now: T | null;
  /** The press; `el` keeps the pointer where the element that was pressed may be drawn anew meanwhile. */
  take: (what: T, e: PointerEvent, el?: Element) => void;
  /** The release: what was held, once. */
  release: () => T | null;
  cancel: () => void;
}

/**
 * Holds something from its press to its release. Escape, undo and a lost pointer break it off, and `restore` puts back what was
 * shown meanwhile; without it the change that was only shown goes.
 */
export function useHold<T>(restore?: (what: T) => void): Hold<T> {
  const editor = useContext(EditorContext);
  const newest = useRef(restore);
  useEffect(() => {
    newest.current = restore;
  });
  return useMemo(() => {
    let held: T | null = null;
    const release = () => {
      const was = held;
      held = null;
      if (was !== null) editor?.history.gestureEnds();
      return was;
    };
    const cancel = () => {
      const was = release();
      if (was === null) return;
      if (newest.current) newest.current(was);
      else editor?.cancelPreview();
    };
    return {
      get now() {
        return held;
      },
      take(what, e, el = e.currentTarget) {
        el.setPointerCapture(e.pointerId);
        held = what;
        editor?.history.gestureBegins(cancel);
      },
      release,
      cancel,
    };
  }, [editor]);
}
