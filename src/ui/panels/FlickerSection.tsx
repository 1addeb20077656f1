"use client";
import { useMemo } from "react";
import { flickerWay, type FlickerWay } from "@/client/editor/actions/flicker";
import { gainsOf } from "@/core/evenlight/gains";
import { steadyGain } from "@/core/evenlight/flicker";
import { LIGHT_HOLDS } from "@/core/survey/sentences";
import type { Survey } from "@/core/survey/survey";
import { useEditor, useEditorPick } from "../editor/context";
import { Choice } from "../parts/Choice";
import { CurveChart, DUSK, OCHRE } from "./CurveChart";
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
  if (way === "own" && survey.light.flicker < LIGHT_HOLDS) return null;
  return (
    <Section title="Flicker">
      <Choice name="Flicker" options={WAYS} value={way} tight onChange={(v) => void editor.flicker.setWay(v)} />
      <p className="py-1.5 text-[12px] text-dim">{WORDS[way]}</p>
      {way !== "own" && <Steadied survey={survey} frame={frame} />}
    </Section>
  );
}

/** The light as it was taken, and as it is steadied. */
function Steadied({ survey, frame }: { survey: Survey; frame: number }) {
  const editor = useEditor();
  const curves = useMemo(() => {
    const gains = gainsOf(survey);
    return [
      { name: "as taken", values: gains.gain, colour: DUSK, dashed: true },
      { name: "steady", values: gains.gain.map((g, n) => g * steadyGain(gains, n, 1)), colour: OCHRE },
    ];
  }, [survey]);
  return <CurveChart label="Flicker" curves={curves} least={0.04} digits={2} first={0} frame={frame} goTo={editor.transport.goTo} />;
}
