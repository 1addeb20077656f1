"use client";
import { useMemo } from "react";
import { lightCurves } from "@/core/evenlight/curves";
import { gainsOf } from "@/core/evenlight/gains";
import type { SurveyAnswer } from "@/wire/plate";
import { useEditorPick } from "../editor/context";
import type { Axis } from "./axis";

interface Props {
  survey: NonNullable<SurveyAnswer["survey"]>;
  axis: Axis;
  first: number;
  last: number;
  height: number;
}

/** Light and camera over the shot, on the timeline's own axis; of light that is evened, how it was taken behind it. Each fills the row's height with its own range. */
export function SurveyCurves({ survey, axis, first, last, height }: Props) {
  const { recipe } = useEditorPick("recipe");
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const gains = useMemo(() => gainsOf(survey), [survey]);
  const light = useMemo(() => lightCurves(recipe, gains, first, last), [recipe, gains, first, last]);
  const evened = light.rendered.some((v, i) => v !== light.taken[i]);
  const camera = frames.map((n) => survey.stillness.perFrame[n] ?? [0, 0]).map(([x, y]) => Math.hypot(x, y));
  const line = (values: number[], least: number, range = values) => {
    const [bottom, top] = [Math.min(...range), Math.max(...range)];
    const room = Math.max(least, top - bottom);
    const low = (bottom + top - room) / 2;
    return values
      .map(
        (v, i) => `${i ? "L" : "M"}${(axis.x(first + i) + axis.per / 2).toFixed(1)} ${(height - 4 - ((v - low) / room) * (height - 8)).toFixed(1)}`,
      )
      .join("");
  };
  return (
    <svg width={axis.x(last + 1)} height={height} className="block" role="img" aria-label="Light and camera over the shot">
      {evened && (
        <path d={line(light.taken, 0.04)} fill="none" stroke="var(--color-ochre)" strokeOpacity="0.45" strokeWidth="1" strokeDasharray="2 2" />
      )}
      <path d={line(light.rendered, 0.04, light.taken)} fill="none" stroke="var(--color-ochre)" strokeWidth="1.4" />
      <path d={line(camera, 0.5)} fill="none" stroke="var(--color-dusk)" strokeWidth="1.4" strokeDasharray="4 3" />
      {survey.cuts
        .filter((c) => c > first && c <= last)
        .map((c) => (
          <line key={c} x1={axis.x(c)} x2={axis.x(c)} y1="0" y2={height} stroke="var(--color-bone)" strokeDasharray="2 2" />
        ))}
    </svg>
  );
}
