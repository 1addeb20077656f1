"use client";
import type { PatchLayer } from "@/core/document/layer";
import { isFrozen } from "@/core/compose/matched";
import type { MatchProposal } from "@/core/match/proposal";
import { asDraft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { KeyedField } from "../patch/KeyedField";
import { Section } from "../Section";
import { GrainCurve } from "./GrainCurve";
import { Figure } from "./Figure";
import { GrainProfiles } from "./GrainProfiles";
import type { ChangePatch } from "./change-patch";

const ON = [
  ["own", "Its own"],
  ["footage", "The footage's"],
] as const;

/** Whose grain the patch has. */
export function GrainSection({ layer, proposal, change }: { layer: PatchLayer; proposal: MatchProposal["grain"]; change: ChangePatch }) {
  const editor = useEditor();
  const { recipe, task } = useEditorPick("recipe", "task");
  const { grain } = layer;
  const profile = grain && recipe.profiles?.[grain.profile];
  return (
    <Section title="Grain" aside={<Figure part="grain" on={!!grain} />}>
      <Choice
        name="Whose grain"
        options={ON}
        value={grain ? "footage" : "own"}
        tight
        onChange={(v) => editor.matching.setGrain(layer, v === "footage")}
      />
      {!grain && (
        <p className="py-1.5 text-[12px] text-dim">
          {isFrozen(layer) ? "The picture is held, so its grain stands still." : "The picture moves, and its grain with it."}
        </p>
      )}
      {grain && proposal && <p className="py-1.5 text-[12px] text-dim">So by itself: {proposal.why}.</p>}
      {grain && profile && (
        <>
          <GrainProfiles layer={layer} />
          <KeyedField
            layer={layer}
            label="Strength"
            name="Strength of the grain"
            value={grain.strength ?? 1}
            put={(v, name, dragging) => change(name, (d) => void (d.grain && (d.grain.strength = asDraft(v))), dragging)}
            min={0}
            max={200}
            unit="%"
            reset={100}
            percent
          />
          <GrainCurve hash={profile.data} />
        </>
      )}
      <p className="pt-1 text-[12px] text-dim">Or drag a box on the picture, over a flat area that has the grain it should have.</p>
      {grain && (
        <Button className="mt-1.5 h-6 px-2 text-[12px]" disabled={!!task} onClick={() => void editor.matching.measure(layer)}>
          Measure the whole again
        </Button>
      )}
    </Section>
  );
}
