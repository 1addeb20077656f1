"use client";
import clsx from "clsx";
import type { Compare } from "@/client/editor/state/view";
import { useEditor, useEditorPick } from "../editor/context";
import { useKeyShown } from "../editor/usePreferences";
import { Tip } from "../parts/Tip";

const WAYS: [Compare, string, string][] = [
  ["frame", "Frame", "The shot as it is; hold {patch} to see the plate"],
  ["plate", "Plate", "The plate alone; hold {original} to see the frame"],
  ["over", "Laid over", "The plate half through over the frame: whether both line up"],
  ["difference", "Difference", "What differs, eight times amplified about grey"],
  ["origin", "Where from", "From which frame each area of a built plate comes; hatched: never clean"],
];

/** How a selected plate is looked at against the frame. */
export function LookAt({ plate }: { plate: string }) {
  const editor = useEditor();
  const { recipe, compare } = useEditorPick("recipe", "compare");
  const [patch, original] = [useKeyShown("peekPatch"), useKeyShown("peekOriginal")];
  const built = !!recipe.plates[plate]?.from.built;
  return (
    <>
      {WAYS.filter(([how]) => how !== "origin" || built).map(([how, label, tip]) => (
        <Tip key={how} text={tip.replace("{patch}", patch).replace("{original}", original)}>
          <button
            type="button"
            aria-pressed={compare.how === how}
            onClick={() => editor.view.look({ how })}
            className={clsx(
              "flex h-full items-center border-b-2 px-2.5",
              compare.how === how ? "border-ochre text-ochre" : "border-transparent text-bone hover:text-ochre",
            )}
          >
            {label}
          </button>
        </Tip>
      ))}
      {compare.how === "over" && (
        <input
          type="range"
          aria-label="How much of the plate shows"
          className="ml-2 w-28 accent-ochre"
          min={0}
          max={100}
          value={Math.round(100 * compare.share)}
          onChange={(e) => editor.view.look({ share: Number(e.target.value) / 100 })}
        />
      )}
    </>
  );
}
