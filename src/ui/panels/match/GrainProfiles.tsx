"use client";
import { useState } from "react";
import { useStore } from "zustand";
import { grainAnywhere } from "@/client/api";
import { prefer, preferences } from "@/client/preferences";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";

const KEPT = "kept:";

/** Which profile a patch's grain goes by: one of the recipe, or one that was kept by name for other shots and productions. */
export function GrainProfiles({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const kept = useStore(preferences, (p) => p.profiles);
  const [name, setName] = useState<string | null>(null);
  /** What was just kept: other data than the recipe's, where these know of places. */
  const [keptNow, setKeptNow] = useState<string | null>(null);
  const profiles = recipe.profiles ?? {};
  const now = layer.grain && profiles[layer.grain.profile];
  if (!now) return null;
  const others = kept.filter((k) => !Object.values(profiles).some((p) => p.data === k.data));
  const isKept = keptNow === now.data || kept.some((k) => k.data === now.data);
  const keep = () => {
    const words = name?.trim();
    if (!words) return;
    setName(null);
    const add = ({ data }: { data: string }) =>
      prefer({ profiles: [...kept.filter((k) => k.name !== words && k.data !== data), { name: words, data }] });
    void grainAnywhere(now.data)
      .then(add)
      .then(() => setKeptNow(now.data))
      .catch((e: unknown) => editor.say(e instanceof Error ? e.message : String(e)));
  };
  return (
    <>
      {Object.keys(profiles).length + others.length > 1 && (
        <label className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">As in</span>
          <select
            className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5"
            value={layer.grain!.profile}
            onChange={(e) => {
              const words = e.target.selectedOptions[0].text;
              const data = e.target.value.startsWith(KEPT) ? e.target.value.slice(KEPT.length) : profiles[e.target.value].data;
              editor.matching.useGrain(layer, data, words);
            }}
          >
            {Object.entries(profiles).map(([id, p]) => (
              <option key={id} value={id}>
                {p.name ?? id}
              </option>
            ))}
            {others.length > 0 && (
              <optgroup label="Kept">
                {others.map((k) => (
                  <option key={k.data} value={KEPT + k.data}>
                    {k.name}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
        </label>
      )}
      {!isKept && name === null && (
        <Button className="my-1 h-6 px-2 text-[12px]" onClick={() => setName(now.name ?? "")}>
          Keep for other shots …
        </Button>
      )}
      {name !== null && (
        <form
          className="my-1 flex gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <input
            autoFocus
            aria-label="Name of the grain"
            maxLength={80}
            className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5"
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === "Escape" && setName(null)}
          />
          <Button type="submit" className="h-7 px-2 text-[12px]">
            Keep
          </Button>
        </form>
      )}
    </>
  );
}
