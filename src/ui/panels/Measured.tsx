"use client";
import { useMemo } from "react";
import { takeOf } from "@/client/editor/state/select";
import { gainOfGrey } from "@/core/survey/daylight";
import { cutWords, lightWords, sentences } from "@/core/survey/sentences";
import type { SurveyAnswer } from "@/wire/plate";
import { useEditor, useEditorPick } from "../editor/context";
import { CurveChart, DUSK, OCHRE } from "./CurveChart";
import { FlickerSection } from "./FlickerSection";
import { Section } from "./Section";

/** What the survey measured, one sentence a subject, with its curve. */
export function Measured() {
  const s = useEditorPick("survey", "shot", "recipe", "frame");
  const reading = takeOf(s).state === "reading";
  if (reading) return <Line text="Measuring begins when all of the take is read." />;
  if (!s.survey) return <Line text="Asking for what was measured …" />;
  const { survey, first, state } = s.survey;
  if (survey) return <Curves survey={survey} frame={s.frame} />;
  return (
    <>
      {/* where the camera's section will stand: what is shown already keeps its order */}
      <Progress state={state} known={first !== null} />
      {first && <LightSection survey={first} frame={s.frame} />}
      {first && (
        <Section title="Cuts">
          <p>{cutWords(first)}</p>
        </Section>
      )}
    </>
  );
}

/** How far measuring is, or why it failed. */
function Progress({ state, known }: { state: SurveyAnswer["state"]; known: boolean }) {
  if (state && "error" in state) return <Line text={`Measuring failed: ${state.error}`} fault />;
  const what = known ? "Camera, grain and edges are" : "It is";
  return (
    <Line
      text={state?.total ? `${what} being measured: ${state.done} of ${state.total} frames` : "Waits to be measured …"}
      share={state?.total ? state.done / state.total : 0}
    />
  );
}

/** What is known of the light, and its course. */
function LightSection({ survey, frame }: { survey: NonNullable<SurveyAnswer["first"]>; frame: number }) {
  const editor = useEditor();
  const curves = useMemo(
    () => [{ name: "luma, × the first frame", values: survey.light.perFrame.map(([luma]) => gainOfGrey(luma)), colour: OCHRE }],
    [survey],
  );
  return (
    <Section title="Light">
      <p>{lightWords(survey)}</p>
      <CurveChart label="Light" curves={curves} least={0.04} digits={2} first={0} frame={frame} goTo={editor.transport.goTo} />
    </Section>
  );
}

function Line({ text, share, fault }: { text: string; share?: number; fault?: boolean }) {
  return (
    <Section title="What was measured">
      <p className={fault ? "" : "text-dim"} role={fault ? "alert" : "status"}>
        {text}
      </p>
      {share !== undefined && (
        <div className="mt-2 h-1 overflow-hidden rounded bg-ground">
          <div className="h-full bg-ochre" style={{ width: `${100 * share}%` }} />
        </div>
      )}
    </Section>
  );
}

function Curves({ survey, frame }: { survey: NonNullable<SurveyAnswer["survey"]>; frame: number }) {
  const editor = useEditor();
  const words = useMemo(() => sentences(survey), [survey]);
  const camera = useMemo(
    () => [
      { name: "across, px", values: survey.stillness.perFrame.map((p) => p[0]), colour: OCHRE },
      { name: "down, px", values: survey.stillness.perFrame.map((p) => p[1]), colour: DUSK, dashed: true },
    ],
    [survey],
  );
  const chart = { first: 0, frame, goTo: editor.transport.goTo };
  return (
    <>
      <Section title="Camera">
        <p>{words.stillness}</p>
        <CurveChart label="Camera" curves={camera} least={0.5} digits={1} {...chart} />
      </Section>
      <LightSection survey={survey} frame={frame} />
      <FlickerSection survey={survey} frame={frame} />
      <Section title="Grain, cuts, frames, edges">
        <div className="space-y-1.5">
          <p>{words.grain}</p>
          <p>{words.cuts}</p>
          <p>{words.frames}</p>
          <p>{words.bars}</p>
        </div>
      </Section>
    </>
  );
}
