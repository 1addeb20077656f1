"use client";
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Editor } from "@/client/editor/editor";
import type { EditorState } from "@/client/editor/state/editor";

export const EditorContext = createContext<Editor | null>(null);

export function useEditor(): Editor {
  const b = useContext(EditorContext);
  if (!b) throw new Error("used outside the editor");
  return b;
}

/** Something that is made of the state anew every time, where it is the same field by field. */
export const useEditorShape = <T>(pick: (s: EditorState) => T): T => useStore(useEditor().store, useShallow(pick));

export const useEditorState = <T>(pick: (s: EditorState) => T): T => useStore(useEditor().store, pick);

/** Some fields of the editor's state; a component that names what it needs is not drawn again for every frame that plays. */
export const useEditorPick = <K extends keyof EditorState>(...keys: K[]): Pick<EditorState, K> =>
  useStore(
    useEditor().store,
    useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as Pick<EditorState, K>),
  );
