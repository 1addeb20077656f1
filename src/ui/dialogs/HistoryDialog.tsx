"use client";
import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { fetchHistory } from "@/client/api";
import { counted } from "@/client/editor/counting";
import { useEditor, useEditorPick, useEditorState } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { Modal } from "../parts/Modal";

/** Everything that was done to the shot, newest first; a click goes there. */
export function HistoryDialog() {
  const editor = useEditor();
  const open = useEditorState((s) => s.dialog === "history");
  return open ? <History onClose={() => editor.view.openDialog(null)} /> : null;
}

function History({ onClose }: { onClose: () => void }) {
  const editor = useEditor();
  const { show } = useCounting();
  const { shot, saved } = useEditorPick("shot", "saved");
  const list = useQuery({ queryKey: ["history", shot.id, saved.undo, saved.redo, saved.waiting], queryFn: () => fetchHistory(shot.id), gcTime: 0 });
  const entries = list.data ?? [];
  const done = entries.filter((e) => !e.undone).length;
  const time = (at: number) => new Date(at).toLocaleString(undefined, { month: "short", day: "numeric", hour: "2-digit", minute: "2-digit" });
  /** Goes to the state after so many entries. */
  const go = (count: number) => void editor.history.leap(count < done ? "undo" : "redo", Math.abs(count - done));
  return (
    <Modal
      title="Everything that was done"
      about="A click goes to how the shot was after that step. Nothing is lost by it: what comes after stays in the list until something else is done."
      onClose={onClose}
      foot={<Button onClick={onClose}>Close</Button>}
    >
      {list.isError && <p role="alert">{list.error.message}</p>}
      <ol className="flex flex-col-reverse">
        {[{ rev: 0, name: "As it was opened first", at: 0, undone: false }, ...entries].map((e, i) => (
          <li key={e.rev}>
            <button
              type="button"
              aria-current={i === done ? "step" : undefined}
              disabled={i === done || saved.waiting > 0}
              onClick={() => go(i)}
              className={clsx(
                "flex w-full items-center justify-between gap-4 rounded-md px-2 py-1 text-left enabled:hover:bg-raised",
                i === done ? "border-l-2 border-ochre font-semibold text-ochre" : e.undone ? "text-dim line-through" : "text-bone",
              )}
            >
              <span className="truncate">{counted(e.name, show)}</span>
              <span className="num shrink-0 text-[12px] text-dim">{e.at ? time(e.at) : ""}</span>
            </button>
          </li>
        ))}
      </ol>
    </Modal>
  );
}
