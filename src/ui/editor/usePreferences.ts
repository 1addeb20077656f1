"use client";
import { useMemo } from "react";
import { useStore } from "zustand";
import { countingOf, type Counting } from "@/client/editor/counting";
import { takeOf } from "@/client/editor/state/select";
import { type CommandId, keysOf } from "@/client/editor/commands";
import { shownKeys } from "@/client/input/keys";
import { preferences } from "@/client/preferences";
import type { Preferences } from "@/wire/preferences";
import { useEditorState } from "./context";

export const usePreferences = <T>(pick: (p: Preferences) => T): T => useStore(preferences, pick);

/** The key of something as it is shown. */
export const useKeyShown = (id: CommandId): string => usePreferences((p) => shownKeys(keysOf(id, p.keys)));

/** How frames are counted on the screen. */
export function useCounting(): Counting {
  const info = useEditorState((s) => takeOf(s).info!);
  const counting = usePreferences((p) => p.counting);
  const first = usePreferences((p) => p.first);
  return useMemo(() => countingOf({ counting, first }, info), [counting, first, info]);
}
