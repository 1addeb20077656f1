"use client";
import { type RefObject, useEffect, useRef } from "react";

/** Calls `handle` for every movement of the pointer over an element as soon as it is known, where the browser can tell, and not only with the page's next picture. */
export function usePointerAtOnce(element: RefObject<HTMLElement | null>, handle: (e: PointerEvent) => void): void {
  const newest = useRef(handle);
  useEffect(() => {
    newest.current = handle;
  });
  useEffect(() => {
    const el = element.current!;
    const raw = (e: Event) => newest.current(e as PointerEvent);
    el.addEventListener("pointerrawupdate", raw);
    return () => el.removeEventListener("pointerrawupdate", raw);
  }, [element]);
}
