"use client";
import clsx from "clsx";
import { Glasses } from "lucide-react";
import { Popover } from "radix-ui";
import { useStore } from "zustand";
import { viewingSays } from "@/core/look/viewing";
import { preferences } from "@/client/preferences";
import { takeOf } from "@/client/editor/state/select";
import type { ViewState } from "@/client/editor/state/view";
import { useEditor, useEditorPick, useEditorState } from "../editor/context";
import { useKeyShown } from "../editor/usePreferences";

const HARDER: readonly [NonNullable<ViewState["harder"]>, string][] = [
  ["contrast", "Strong contrast"],
  ["colour", "Strong colour"],
  ["detail", "Fine detail alone"],
  ["time", "Difference in time"],
];

/** What the picture on the screen is seen through: the production's look, and harder ways to look. */
export function SeenThrough() {
  const editor = useEditor();
  const { harder, shot, asRecorded } = useEditorPick("harder", "shot", "asRecorded");
  const chain = useEditorState((s) => {
    const colour = takeOf(s).info?.colour;
    return colour ? viewingSays(colour) : null;
  });
  const look = useStore(preferences, (p) => p.looks[shot.production.id]);
  const keys = { contrast: useKeyShown("contrast"), colour: useKeyShown("colour"), detail: useKeyShown("detail"), time: useKeyShown("inTime") };
  const key = useKeyShown("look");
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label="Seen through"
        title="Seen through: look, harder views"
        className={clsx("flex h-6 w-6 items-center justify-center rounded-md hover:text-bone", harder || look?.on ? "text-ochre" : "text-dim")}
      >
        <Glasses size={13} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content side="top" align="end" sideOffset={6} className="z-50 w-72 rounded-lg border border-line bg-panel p-3 text-[13px] shadow-lg">
          {chain && (
            <>
              <h3 className="pb-1 font-semibold text-dim">This take</h3>
              <label className="flex items-center gap-2 py-1">
                <input
                  type="checkbox"
                  className="accent-ochre"
                  checked={!asRecorded}
                  onChange={(e) => editor.glass.setAsRecorded(!e.currentTarget.checked)}
                />
                Shown for this screen
              </label>
              <p className="pb-2 text-[12px] text-dim">{look?.on ? "The look takes its place, and begins at the code values." : chain}</p>
            </>
          )}
          <h3 className="pb-1.5 font-semibold text-dim">Look of the production</h3>
          {look ? (
            <>
              <label className="flex items-center gap-2 py-1">
                <input type="checkbox" className="accent-ochre" checked={look.on} onChange={() => editor.glass.toggle()} />
                <span className="min-w-0 flex-1 truncate">{look.name}</span>
                <kbd className="num pr-1 text-dim">{key}</kbd>
              </label>
              <label className="flex items-center gap-2 py-1 text-dim">
                Strength
                <input
                  type="range"
                  aria-label="Strength of the look"
                  className="flex-1 accent-ochre"
                  min={0}
                  max={100}
                  value={Math.round(100 * look.strength)}
                  onChange={(e) => editor.glass.setStrength(Number(e.target.value) / 100)}
                />
                <span className="num w-12 text-right whitespace-nowrap">{Math.round(100 * look.strength)} %</span>
              </label>
            </>
          ) : (
            <p className="pb-1 text-dim">None yet: the picture is shown as it is.</p>
          )}
          <div className="flex gap-2 pt-1">
            <label className="cursor-pointer rounded-md border border-line px-2 py-1 hover:border-ochre">
              {look ? "Another table …" : "Table of colours (.cube) …"}
              <input
                type="file"
                accept=".cube"
                aria-label="Table of colours"
                className="sr-only"
                onChange={(e) => {
                  const file = e.currentTarget.files?.[0];
                  e.currentTarget.value = "";
                  if (file) void editor.glass.choose(file);
                }}
              />
            </label>
            {look && (
              <button type="button" className="rounded-md px-2 py-1 text-dim hover:text-bone" onClick={() => editor.glass.forget()}>
                Take it off
              </button>
            )}
          </div>
          <h3 className="pt-3 pb-1 font-semibold text-dim">Look harder</h3>
          {HARDER.map(([how, label]) => (
            <button
              key={how}
              type="button"
              aria-label={label}
              aria-pressed={harder === how}
              onClick={() => editor.glass.setHarder(how)}
              className={clsx("flex w-full items-center rounded-md px-1 py-1 text-left hover:bg-raised", harder === how && "text-ochre")}
            >
              <span className="flex-1">{label}</span>
              <kbd className="num text-dim">{keys[how]}</kbd>
            </button>
          ))}
          <p className="pt-2 text-[12px] text-dim">Only on the screen: none of it is rendered, but a look that is asked for in Render.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
