"use client";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { COMMAND_IDS, type CommandId, commandOf, holds, keysOf } from "@/client/editor/commands";
import type { Editor } from "@/client/editor/editor";
import { useEditor } from "./context";
import { pageFor } from "./page";
import { isTyping } from "./typing";
import { usePreferences } from "./usePreferences";

/** Whether a key ticks what has the focus. */
const ticks = (e: KeyboardEvent) => e.code === "Space" && /^(checkbox|radio|file)$/.test((e.target as HTMLInputElement | null)?.type ?? "");

/** All keys of the editor, by the table of its commands. */
export function useKeys(): void {
  const editor = useEditor();
  // eslint-disable-next-line react-hooks/rules-of-hooks -- a fixed list in a fixed order
  for (const id of COMMAND_IDS) useCommand(id, editor);
}

function useCommand(id: CommandId, editor: Editor): void {
  const own = usePreferences((p) => p.keys);
  const command = commandOf(id);
  const held = "held" in command;
  useHotkeys(
    keysOf(id, own),
    () => {
      if (!("run" in command)) return;
      if (command.when?.(editor.store.getState()) !== false) command.run(editor, pageFor(editor));
    },
    {
      enabled: !held,
      // a key that closes a dialog or a menu has done its work
      ignoreEventWhen: (e) => e.defaultPrevented || isTyping(e) || ticks(e) || !!editor.store.getState().dialog,
      preventDefault: true,
      useKey: false,
      enableOnFormTags: true,
    },
  );
  useEffect(() => {
    if (!("held" in command)) return;
    const key = (e: KeyboardEvent) => {
      if (!holds(id, own, e)) return;
      if (e.type === "keyup") command.held(editor, false);
      else if (!e.repeat && !isTyping(e) && !e.ctrlKey && !e.metaKey && !e.altKey) command.held(editor, true);
    };
    const off = () => command.held(editor, false);
    window.addEventListener("keydown", key);
    window.addEventListener("keyup", key);
    window.addEventListener("blur", off);
    return () => {
      window.removeEventListener("keydown", key);
      window.removeEventListener("keyup", key);
      window.removeEventListener("blur", off);
    };
  }, [id, own, command, editor]);
}
