"use client";
import type { PatchLayer } from "@/core/document/layer";
import type { MatchProposal } from "@/core/match/proposal";
import { asDraft } from "@/recipe/edits";
import { useEditor } from "../../editor/context";
import { Choice } from "../../parts/Choice";
import { KeyedField } from "../patch/KeyedField";
import { Section } from "../Section";
import { Figure } from "./Figure";
import type { ChangePatch } from "./change-patch";

const BY = [
  ["own", "Its own"],
  ["whole", "One for all"],
  ["rim", "Along the rim"],
] as const;
const WORDS: Record<(typeof BY)[number][0], string> = {
  own: "The picture keeps its light, whatever the footage does.",
  whole: "One gain and one tint a frame, from a ring around the patch; who passes by counts for little.",
  rim: "Each part of the rim has its own, spread inward: for shadows and clouds that cross the patch.",
};

/** Whose light the patch has. */
export function LightSection({ layer, proposal, change }: { layer: PatchLayer; proposal: MatchProposal["light"]; change: ChangePatch }) {
  const editor = useEditor();
  const by = layer.light?.by ?? "own";
  return (
    <Section title="Light" aside={<Figure part="light" on={!!layer.light} />}>
      <Choice name="Whose light" options={BY} value={by} tight onChange={(v) => editor.matching.setLight(layer, v === "own" ? null : v)} />
      <p className="py-1.5 text-[12px] text-dim">{WORDS[by]}</p>
      {proposal && proposal.by === by && <p className="pb-1.5 text-[12px] text-dim">So by itself: {proposal.why}.</p>}
      {proposal && by === "own" && <p className="pb-1.5 text-[12px] text-ochre">It would be better matched: {proposal.why}.</p>}
      {layer.light && (
        <KeyedField
          layer={layer}
          label="Strength"
          name="Strength of the light"
          value={layer.light.strength ?? 1}
          put={(v, name, dragging) => change(name, (d) => void (d.light && (d.light.strength = asDraft(v))), dragging)}
          min={0}
          max={100}
          unit="%"
          reset={100}
          percent
        />
      )}
    </Section>
  );
}
