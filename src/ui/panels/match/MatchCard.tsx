"use client";
import { useMemo } from "react";
import { useStore } from "zustand";
import { proposalFor } from "@/client/editor/actions/by-itself";
import type { PatchLayer } from "@/core/document/layer";
import { prefer, preferences } from "@/client/preferences";
import { layerTitle } from "@/recipe/query";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { GrainSection } from "./GrainSection";
import { LightSection } from "./LightSection";
import { SeamSection } from "./SeamSection";
import type { ChangePatch } from "./change-patch";
import { SharpnessSection } from "./SharpnessSection";

/** How a patch is matched to what surrounds it, in the order of the work: light, sharpness, seam, grain. */
export function MatchCard({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, task, survey } = useEditorPick("recipe", "task", "survey");
  const { take } = recipe.shot;
  const { source } = layer;
  // it goes through the light of every frame, and the card is drawn anew at every step of a drag
  const proposal = useMemo(() => proposalFor({ source }, take, survey), [source, take, survey]);
  const change: ChangePatch = (name, edit, dragging = false) => editor.patches.changeLayer(layer.id, name, edit, dragging);
  const { matching } = useStore(preferences);
  const title = layerTitle(recipe, layer.id);
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{title}</h2>
        <p className="mt-1 text-[12px] text-dim">
          A held picture has dead grain and keeps its own light. Both are taken from what surrounds the patch, frame by frame.
        </p>
        {!(layer.light && layer.grain) && (
          <Button className="mt-2" tone="main" disabled={!!task || layer.locked} onClick={() => void editor.matching.matchAll(layer)}>
            Match light and grain
          </Button>
        )}
      </div>
      <LightSection layer={layer} proposal={proposal.light} change={change} />
      <SharpnessSection layer={layer} change={change} />
      <SeamSection layer={layer} change={change} />
      <GrainSection layer={layer} proposal={proposal.grain} change={change} />
      <label className="flex items-center gap-2 px-3.5 py-2.5 text-[12px] text-dim">
        <input
          type="checkbox"
          className="accent-ochre"
          checked={matching === "itself"}
          onChange={(e) => void prefer({ matching: e.target.checked ? "itself" : "hand" }).catch((x: unknown) => editor.say(String(x)))}
        />
        Match new patches by itself, where it is needed
      </label>
    </>
  );
}
