"use client";
import { useEffect, useState } from "react";
import { heldCodes, type KeyId, keysOf } from "@/client/input/keys";
import { usePreferences } from "./usePreferences";

/** Whether a key belongs to a field that is being typed in. */
export function isTyping(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement | null;
  if (!t || !/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName)) return false;
  return !(t instanceof HTMLInputElement && /^(checkbox|radio|range|file)$/.test(t.type));
}

/** Whether a key that works while it is held is held. */
export function useHeld(id: KeyId): boolean {
  const [held, setHeld] = useState(false);
  const keys = usePreferences((p) => keysOf(id, p.keys));
  useEffect(() => {
    const codes = heldCodes(keys);
    const key = (e: KeyboardEvent) => {
      if (!codes.includes(e.code)) return;
      if (e.type === "keyup") setHeld(false);
      else if (!e.repeat && !isTyping(e) && !e.ctrlKey && !e.metaKey && !e.altKey) setHeld(true);
    };
    const off = () => setHeld(false);
    window.addEventListener("keydown", key);
    window.addEventListener("keyup", key);
    window.addEventListener("blur", off);
    return () => {
      window.removeEventListener("keydown", key);
      window.removeEventListener("keyup", key);
      window.removeEventListener("blur", off);
    };
  }, [keys]);
  return held;
}
