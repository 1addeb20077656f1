"use client";
import { useEffect, useState } from "react";
import { COMMAND_IDS, type CommandId, commandOf, keysOf, whyNot, withOwnKey } from "@/client/editor/commands";
import { GROUPS } from "@/client/editor/commands/command";
import { pressedKey, shownKeys } from "@/client/input/keys";
import { prefer } from "@/client/preferences";
import { useEditor, useEditorState } from "../editor/context";
import { useCounting, usePreferences } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { Modal } from "../parts/Modal";
import { NumberField } from "../parts/NumberField";

/** Every key, in groups, and how frames are counted: all of it can be changed here. */
export function KeysDialog() {
  const editor = useEditor();
  const open = useEditorState((s) => s.dialog === "keys");
  return open ? <Keys onClose={() => editor.view.openDialog(null)} /> : null;
}

function Keys({ onClose }: { onClose: () => void }) {
  const own = usePreferences((p) => p.keys);
  const [waits, setWaits] = useState<CommandId | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const keep = (next: Record<string, string>) => void prefer({ keys: next }).then(() => setWhy(null), (e: unknown) => setWhy(e instanceof Error ? e.message : String(e))); // prettier-ignore

  useEffect(() => {
    if (!waits) return;
    const press = (e: KeyboardEvent) => {
      e.preventDefault();
      e.stopPropagation();
      if (e.key === "Escape" && waits !== "leave") return setWaits(null);
      // Shift alone is a key where it works while it is held
      const held = "held" in commandOf(waits);
      const key = pressedKey(e) ?? (held && e.type === "keyup" && e.key === "Shift" ? "shift" : null);
      if (!key) return;
      const no = whyNot(waits, key, own);
      setWhy(no);
      if (!no) keep(withOwnKey(own, waits, key));
      setWaits(null);
    };
    window.addEventListener("keydown", press, true);
    window.addEventListener("keyup", press, true);
    return () => {
      window.removeEventListener("keydown", press, true);
      window.removeEventListener("keyup", press, true);
    };
  }, [waits, own]);

  return (
    <Modal
      title="Keys and counting"
      huge
      onClose={onClose}
      about="One hand on the keys, one on the picture. Click a key to give its work to another one; the wheel zooms, with Shift it moves sideways."
      foot={
        <>
          <Button disabled={Object.keys(own).length === 0} onClick={() => keep({})}>
            All keys as they were
          </Button>
          <Button tone="main" onClick={onClose}>
            Done
          </Button>
        </>
      }
    >
      <CountingFields />
      <p role="alert" className="sticky top-0 z-10 min-h-6 bg-panel text-bone">
        {why && <span className="border-l-2 border-brick pl-2">{why}</span>}
        {waits && <span className="text-ochre">Press the new key for “{commandOf(waits).says}”. Esc leaves it as it is.</span>}
      </p>
      <div className="grid grid-cols-2 gap-x-8 gap-y-5">
        {GROUPS.map((g) => (
          <section key={g} aria-label={g}>
            <h3 className="mb-1 border-b border-line pb-1 font-semibold text-dim">{g}</h3>
            <ul>
              {COMMAND_IDS.filter((id) => commandOf(id).group === g).map((id) => (
                <li key={id} className="flex items-center justify-between gap-4">
                  <span>{commandOf(id).says}</span>
                  <span className="flex shrink-0 items-center gap-1">
                    {own[id] && (
                      <button
                        type="button"
                        className="text-[12px] text-dim underline hover:text-bone"
                        onClick={() => keep(withOwnKey(own, id, null))}
                      >
                        back to {shownKeys(commandOf(id).keys)}
                      </button>
                    )}
                    <button
                      type="button"
                      aria-label={`Key for ${commandOf(id).says}`}
                      aria-pressed={waits === id}
                      onClick={() => {
                        setWhy(null);
                        setWaits(id);
                      }}
                      className="num min-w-7 rounded border border-transparent px-1.5 text-ochre hover:border-line aria-pressed:border-ochre"
                    >
                      {waits === id ? "…" : shownKeys(keysOf(id, own))}
                    </button>
                  </span>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </Modal>
  );
}

/** How frames are counted. */
function CountingFields() {
  const { by, first } = useCounting();
  return (
    <section aria-label="Counting" className="mb-2 flex items-center gap-6 border-b border-line pb-3">
      <div className="w-56">
        <Choice
          name="Frames are shown by"
          options={[
            ["frames", "Frame numbers"],
            ["timecode", "Timecode"],
          ]}
          value={by}
          onChange={(counting) => void prefer({ counting }).catch(() => undefined)}
        />
      </div>
      <NumberField
        label="First frame is"
        value={first}
        min={-1_000_000}
        max={10_000_000}
        reset={0}
        onCommit={(v) => void prefer({ first: v }).catch(() => undefined)}
      />
      <span className="text-dim">Recipes always count from 0.</span>
    </section>
  );
}
