"use client";
import { useEffect, useState } from "react";
import { isReframe } from "@/core/document/layer";
import { seenFrames, type Intruder } from "@/core/document/recipe";
import { costOf } from "@/core/reframe/least";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { Section } from "./Section";

/** What it would cost to keep a thing out by framing the shot anew, in place of mending it. */
export function ReframeOffer({ intruder }: { intruder: Intruder }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const { show } = useCounting();
  const [cost, setCost] = useState<number | null | undefined>(undefined);
  const layer = intruder.layers.find(isReframe);
  const known = intruder.seen !== undefined || intruder.layers.length > 0;
  useEffect(() => {
    let wanted = true;
    if (known && !layer)
      void editor.reframing.least(intruder.id).then(
        (f) => wanted && setCost(f && costOf(f)),
        () => wanted && setCost(undefined),
      );
    return () => void (wanted = false);
  }, [editor, intruder, layer, known]);
  if (!known) return null;
  const band = seenFrames(intruder) ?? recipe.shot;
  const whole = band.in <= recipe.shot.in && band.out >= recipe.shot.out;
  return (
    <Section title="Kept out by reframing">
      {layer && (
        <Button className="w-full" onClick={() => editor.selection.select({ kind: "layer", layer: layer.id })}>
          Show the reframing
        </Button>
      )}
      {!layer && cost === null && <p className="text-dim">It stands too far inside: even at twice the size it would be in the picture.</p>}
      {!layer && typeof cost === "number" && (
        <>
          <p className="mb-2">
            Costs <strong className="num">{(100 * cost).toFixed(1)} %</strong> of the picture’s width, and nothing is mended.
          </p>
          <div className="flex gap-1.5">
            <Button className="flex-1" onClick={() => void editor.reframing.keepOut(intruder.id, "shot")}>
              All the shot
            </Button>
            {!whole && (
              <Button className="flex-1" onClick={() => void editor.reframing.keepOut(intruder.id, "seen")}>
                Eased, <span className="num">{`${show(band.in)}–${show(band.out)}`}</span>
              </Button>
            )}
          </div>
        </>
      )}
    </Section>
  );
}
