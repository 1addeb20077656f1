"use client";
import { useMemo } from "react";
import { flickerWay, type FlickerWay } from "@/client/editor/actions/flicker";
import { gainsOf } from "@/core/evenlight/gains";
import { lightCurves } from "@/core/evenlight/curves";
import type { EvenLightLayer } from "@/core/document/layer";
import { LIGHT_HOLDS } from "@/core/survey/sentences";
import type { Survey } from "@/core/survey/survey";
import { flickerLayers } from "@/recipe/query";
import { useEditor, useEditorPick } from "../editor/context";
import { Choice } from "../parts/Choice";
import { BONE, CurveChart, DUSK, OCHRE } from "./CurveChart";
import { KeyedField } from "./patch/KeyedField";
import { Section } from "./Section";

const WAYS = [
  ["own", "Leave it"],
  ["steady", "Steady it"],
  ["back", "While mending"],
] as const satisfies readonly (readonly [FlickerWay, string])[];

const WORDS: Record<FlickerWay, string> = {
  own: "Every frame keeps the light it was taken in.",
  steady: "Each frame gets the light around it in time. What is rendered is steady too.",
  back: "Steady below the patches; behind them every frame gets its own light again, and what no patch covers is rendered as it was taken.",
};

/** What is done to the flicker of the whole shot; there where it flickers, or where something is done about it already. */
export function FlickerSection({ survey, frame }: { survey: Survey; frame: number }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const way = flickerWay(recipe);
  const { steady, lively } = flickerLayers(recipe);
  if (way === "own" && survey.light.flicker < LIGHT_HOLDS) return null;
  return (
    <Section title="Flicker">
      <Choice name="Flicker" options={WAYS} value={way} tight onChange={(v) => void editor.flicker.setWay(v)} />
      <p className="py-1.5 text-[12px] text-dim">{WORDS[way]}</p>
      {way !== "own" && (
        <>
          {steady[0] && <Amount layer={steady[0]} label="Taken off" name="Flicker taken off" />}
          {lively[0] && <Amount layer={lively[0]} label="Put back" name="Flicker put back" />}
          <Steadied survey={survey} frame={frame} />
        </>
      )}
    </Section>
  );
}

/** How much of the flicker is taken off, or put back. */
function Amount({ layer, label, name }: { layer: EvenLightLayer; label: string; name: string }) {
  const editor = useEditor();
  return (
    <KeyedField
      layer={layer}
      label={label}
      name={name}
      value={layer.amount ?? 1}
      put={(v, said, dragging) => editor.flicker.setAmount(layer.id, v, said, dragging)}
      min={0}
      max={100}
      unit="%"
      reset={100}
      percent
    />
  );
}

/** The light as it was taken, as it is below the patches, and as it is rendered where that is another. */
function Steadied({ survey, frame }: { survey: Survey; frame: number }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const curves = useMemo(() => {
    const gains = gainsOf(survey);
    const { taken, below, rendered } = lightCurves(recipe, gains, 0, gains.gain.length - 1);
    const back = flickerWay(recipe) === "back";
    return [
      { name: "as taken", values: taken, colour: DUSK, dashed: true },
      ...(back ? [{ name: "rendered", values: rendered, colour: BONE }] : []),
      { name: back ? "below patches" : "steady", values: below, colour: OCHRE },
    ];
  }, [survey, recipe]);
  return <CurveChart label="Flicker" curves={curves} least={0.04} digits={2} first={0} frame={frame} goTo={editor.transport.goTo} />;
}
