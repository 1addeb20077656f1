"use client";
import type { ComponentType } from "react";
import { thingsOf } from "@/recipe/query";
import { modeName, type ModeName } from "@/client/editor/state/mode";
import { selectedLayer, selectedPaint, selectedReframe } from "@/client/editor/state/select";
import { useEditorPick, useEditorState } from "../editor/context";
import { useKeyShown } from "../editor/usePreferences";
import { MatchCard } from "./match/MatchCard";
import { PatchCard } from "./patch/PatchCard";
import { PaintCard } from "./PaintCard";
import { PlateCard } from "./PlateCard";
import { ProofCard } from "./proof/ProofCard";
import { ReframeCard } from "./ReframeCard";
import { RenderCard } from "./RenderCard";
import { NewPlate } from "./NewPlate";
import { ScoutCard } from "./ScoutCard";
import { RetouchCard } from "./retouch/RetouchCard";
import { SeenCard } from "./SeenCard";

/** Where a thing is seen, or what was measured about the take. */
function ScoutSide() {
  const { selection } = useEditorPick("selection");
  return selection?.kind === "intruder" ? <SeenCard id={selection.intruder} /> : <ScoutCard />;
}

/** The selected plate, or ways to make one. */
function PlateSide() {
  const { selection } = useEditorPick("selection");
  return selection?.kind === "plate" ? <PlateCard key={selection.plate} id={selection.plate} /> : <NewPlate />;
}

/** The settings of what is selected, in the order in which they are used. */
function PatchSide() {
  const s = useEditorPick("recipe", "selection");
  const layer = selectedLayer(s);
  const paint = selectedPaint(s);
  if (s.selection?.kind === "intruder") return <SeenCard id={s.selection.intruder} />;
  if (layer) return <PatchCard layer={layer} />;
  if (paint) return <PaintCard layer={paint} />;
  return s.selection?.kind === "plate" ? <PlateCard key={s.selection.plate} id={s.selection.plate} /> : <Hint />;
}

/** How the selected patch is matched to what surrounds it. */
function MatchSide() {
  const layer = selectedLayer(useEditorPick("recipe", "selection"));
  if (layer) return <MatchCard key={layer.id} layer={layer} />;
  return <p className="px-3.5 py-3 text-dim">Select a patch in the ledger: its light, its seam and its grain are matched to what surrounds it.</p>;
}

/** The card of each mode. */
const CARDS: Record<ModeName, ComponentType> = {
  Scout: ScoutSide,
  Plate: PlateSide,
  Patch: PatchSide,
  Match: MatchSide,
  Proof: ProofCard,
  Render: RenderCard,
  retouching: RetouchCard,
};

/** The card beside the picture. */
export function Card() {
  const s = useEditorPick("mode", "recipe", "selection");
  const name = modeName(s);
  const framing = name === "Scout" || name === "Patch" ? selectedReframe(s) : null;
  const Side = CARDS[name];
  return (
    <aside className="h-full overflow-x-hidden overflow-y-auto bg-panel" aria-label="Card">
      {framing ? <ReframeCard key={framing.id} layer={framing} /> : <Side />}
    </aside>
  );
}

function Hint() {
  const plates = useEditorState((s) => Object.keys(s.recipe.plates).length);
  const layers = useEditorState((s) => thingsOf(s.recipe).length);
  const [plate, outline, original] = [useKeyShown("plate"), useKeyShown("tool1"), useKeyShown("peekOriginal")];
  const steps: [boolean, string, string][] = [
    [plates > 0, "Step to the last clean frame before the thing comes in, and make it a plate.", plate],
    [layers > 0, "Go to the frame where the thing is worst and draw round it. It is gone at once.", outline],
    [false, "Set first and last frame, widen the feather, look at it against the original.", original],
    [false, "Render.", ""],
  ];
  return (
    <div className="px-3.5 py-3">
      <h2 className="mb-2 font-semibold text-dim">Nothing selected</h2>
      <ol className="space-y-3">
        {steps.map(([done, text, key], i) => (
          <li key={text} className="flex gap-2.5">
            <span className={done ? "num text-dim" : "num text-ochre"}>{i + 1}</span>
            <span className={done ? "text-dim" : ""}>
              {text} {key && <kbd className="num text-ochre">{key}</kbd>}
              {done && " Done."}
            </span>
          </li>
        ))}
      </ol>
    </div>
  );
}
