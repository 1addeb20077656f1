"use client";
import { ChartSpline, Maximize } from "lucide-react";
import { keyframesOf, tracksOf } from "@/client/editor/keyframes";
import { selectedLayer } from "@/client/editor/state/select";
import type { Ease } from "@/core/time/easing";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting, useKeyShown } from "../editor/usePreferences";
import { IconButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";

/** Slow away and slow to a stop: CSS Easing's “ease-in-out”. */
export const SOFT: Ease = [0.42, 0, 0.58, 1];
const EASES = { hold: "step", straight: "linear", soft: SOFT } as const;
type Name = keyof typeof EASES;

/** At the head of the timeline: the picked keyframes, with their exact frame and how they are left; else what the timeline shows. */
export function KeyStrip() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "selection", "keyframesPicked", "curve", "span", "marked");
  const count = useCounting();
  const layer = selectedLayer(s);
  const curveKey = useKeyShown("curve");
  const picked = s.keyframesPicked.filter((k) => layer && k.layer === layer.id && keyframesOf(s.recipe, layer).includes(k.f));
  if (!layer || !picked.length)
    return (
      <span className="flex h-full items-center justify-between pr-1 pl-3.5 text-dim">
        <span className="num">{count.by === "timecode" ? "timecode" : "frame"}</span>
        <span className="flex">
          {s.span && (
            <IconButton name="Show the whole shot" className="!h-6" onClick={() => editor.timeline.setSpan(null)}>
              <Maximize size={13} />
            </IconButton>
          )}
          <IconButton
            name={layer ? "Curve of a value over time" : "Select a patch to see the curve of a value"}
            keys={curveKey}
            className="!h-6"
            active={!!s.curve}
            disabled={!layer}
            onClick={() => editor.timeline.setCurve(s.curve ? null : "opacity")}
          >
            <ChartSpline size={14} />
          </IconButton>
        </span>
      </span>
    );
  const frames = picked.map((k) => k.f);
  const eases = tracksOf(s.recipe, layer).flatMap((t) => t.keys.filter((k) => frames.includes(k.f)).map((k) => JSON.stringify(k.ease ?? "linear")));
  const same = eases.every((e) => e === eases[0]);
  const name = (Object.keys(EASES) as Name[]).find((k) => same && JSON.stringify(EASES[k]) === eases[0]);
  return (
    <span className="flex h-full items-center gap-1 px-1.5" data-testid="key-strip">
      <span className="text-dim">at</span>
      <span className={count.by === "timecode" ? "flex w-[98px]" : "flex w-[56px]"}>
        <NumberField
          bare
          label={picked.length === 1 ? "Frame of the keyframe" : "Frame of the first picked keyframe"}
          value={Math.min(...frames)}
          min={0}
          max={1e8}
          count={count}
          onCommit={(v) => editor.timeline.moveKeyframes(v - Math.min(...frames))}
        />
      </span>
      <span className="flex-1 text-[12px]">
        <Choice
          name="The keyframe is left"
          tight
          options={[
            ["hold", "hold"],
            ["straight", "straight"],
            ["soft", "soft"],
          ]}
          value={name ?? ("" as Name)}
          onChange={(k) => editor.timeline.easeKeyframes(EASES[k], { hold: "held", straight: "straight", soft: "softly" }[k])}
        />
      </span>
    </span>
  );
}
