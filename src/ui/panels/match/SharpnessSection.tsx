"use client";
import type { PatchLayer } from "@/core/document/layer";
import { asDraft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { KeyedField } from "../patch/KeyedField";
import { Section } from "../Section";
import { Figure } from "./Figure";
import type { ChangePatch } from "./change-patch";

/** How soft or sharp the patch's picture is made. */
export function SharpnessSection({ layer, change }: { layer: PatchLayer; change: ChangePatch }) {
  const editor = useEditor();
  const { figures } = useEditorPick("figures");
  const { sharpness, tied } = layer;
  const off = figures?.sharpness ?? null;
  return (
    <Section title="Sharpness" aside={<Figure part="sharpness" on={!!sharpness} />}>
      <KeyedField
        layer={layer}
        label="Sharper by"
        name="Sharpness"
        value={sharpness?.amount ?? 0}
        put={(v, name, dragging) => change(name, (d) => void (d.sharpness = { ...d.sharpness, amount: asDraft(v) }), dragging)}
        min={-4}
        max={2}
        least={-8}
        most={2}
        step={0.1}
        unit="px"
        reset={0}
      />
      {tied?.to !== undefined && (
        <KeyedField
          layer={layer}
          label="Smeared by"
          name="Smear along the track"
          value={sharpness?.motion ?? 0}
          put={(v, name, dragging) => change(name, (d) => void (d.sharpness = { ...d.sharpness, motion: asDraft(v) }), dragging)}
          min={0}
          max={100}
          unit="%"
          reset={0}
          percent
        />
      )}
      <div className="flex gap-1.5 pt-1">
        <Button
          className="h-6 px-2 text-[12px]"
          disabled={off === null || layer.locked}
          onClick={() => editor.matching.setSharpness(layer, "footage")}
        >
          As sharp as around it
        </Button>
        {sharpness && (
          <Button className="h-6 px-2 text-[12px]" disabled={layer.locked} onClick={() => editor.matching.setSharpness(layer, "own")}>
            Its own
          </Button>
        )}
      </div>
    </Section>
  );
}
