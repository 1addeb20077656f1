"use client";
import { gainOfGrey } from "@/core/survey/daylight";
import type { SurveyAnswer } from "@/wire/plate";
import type { Axis } from "./axis";

interface Props {
  survey: NonNullable<SurveyAnswer["survey"]>;
  axis: Axis;
  first: number;
  last: number;
  height: number;
}

/** Light and camera over the shot, on the timeline's own axis. Each fills the row's height with its own range. */
export function SurveyCurves({ survey, axis, first, last, height }: Props) {
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const light = frames.map((n) => survey.light.perFrame[n]?.[0]).map((y) => (y ? gainOfGrey(y) : 1));
  const camera = frames.map((n) => survey.stillness.perFrame[n] ?? [0, 0]).map(([x, y]) => Math.hypot(x, y));
  const line = (values: number[], least: number) => {
    const [bottom, top] = [Math.min(...values), Math.max(...values)];
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
      <path d={line(light, 0.04)} fill="none" stroke="var(--color-ochre)" strokeWidth="1.4" />
      <path d={line(camera, 0.5)} fill="none" stroke="var(--color-dusk)" strokeWidth="1.4" strokeDasharray="4 3" />
      {survey.cuts
        .filter((c) => c > first && c <= last)
        .map((c) => (
          <line key={c} x1={axis.x(c)} x2={axis.x(c)} y1="0" y2={height} stroke="var(--color-bone)" strokeDasharray="2 2" />
        ))}
    </svg>
  );
}
