"use client";
import clsx from "clsx";
import { TITLES } from "@/client/bench/retouching";
import { BRUSH_TOOLS, type BrushTool, type DrawInto, layerTitle, type MaskTool, retouching, selectedLayer } from "@/client/bench/state";
import { useBench, useBenchPick } from "../bench/context";
import { MASK_TOOLS } from "../bench/useKeys";
import { Button } from "../parts/Button";
import { Tip } from "../parts/Tip";
import { LookAt } from "./LookAt";

const PATCH: Record<MaskTool, [string, string]> = {
  outline: ["Outline", "Click point after point round the thing; click the first point or press Enter to close"],
  oval: ["Oval", "Drag an oval over the thing"],
  box: ["Box", "Drag a box over the thing"],
  adjust: ["Adjust", "Move points and shapes; drag the cross-bar to widen the feather"],
};
const BRUSH: Record<BrushTool, string> = {
  clone: "Point at clean picture and press X, then paint",
  uncover: "Paint through to another plate or frame",
  heal: "Texture from a source, or found near by; tone from what surrounds it. One dab mends a small mark",
  graft: "Drag a loop round the area, then drag the loop to good texture",
  fill: "Brush over or draw round an area: it is filled from its surroundings",
  flat: "A plain or sloping colour, taken from around",
  restore: "Paint back to the original",
};
const INTO: [DrawInto, string][] = [
  ["new", "new patch"],
  ["add", "add to mask"],
  ["cut", "cut from mask"],
  ["cross", "cross with mask"],
];

/** The tools of the stage, and what is selected. */
export function ToolLine() {
  const bench = useBench();
  const s = useBenchPick("recipe", "selection", "plate", "paint", "stage", "tool", "retouch", "drawInto", "peek", "handles", "frame");
  const selected = selectedLayer(s);
  const tools: [string, string, string, boolean, () => void][] = retouching(s)
    ? BRUSH_TOOLS.map((t) => [t, TITLES[t], BRUSH[t], s.retouch.tool === t && !s.retouch.aid, () => bench.retouch({ tool: t, aid: null, loop: [] })])
    : s.stage === "Patch"
      ? MASK_TOOLS.map((t) => [t, ...PATCH[t], s.tool === t, () => bench.set({ tool: t, drawing: [] })])
      : [];
  const looked = s.selection?.kind === "plate" ? s.selection.plate : null;
  const what = s.plate
    ? `Plate: ${s.recipe.plates[s.plate]?.name ?? s.plate}`
    : s.paint
      ? `On frames: ${layerTitle(s.recipe, s.paint)}`
      : selected
        ? `${layerTitle(s.recipe, selected.id)}${selected.name ? `, ${selected.name}` : ""}`
        : s.selection?.kind === "plate"
          ? (s.recipe.plates[s.selection.plate]?.name ?? "")
          : "";
  return (
    <div className="flex h-[35px] shrink-0 items-center border-b border-line bg-panel px-2" role="toolbar" aria-label="Tools">
      {tools.map(([id, label, tip, active, run], i) => (
        <Tip key={id} text={tip} keys={String(i + 1)}>
          <button
            type="button"
            aria-pressed={active}
            onClick={run}
            className={clsx(
              "flex h-full items-center gap-2 border-b-2 px-2.5",
              active ? "border-ochre text-ochre" : "border-transparent text-bone hover:text-ochre",
            )}
          >
            {label} <span className="num text-[12px] text-dim">{i + 1}</span>
          </button>
        </Tip>
      ))}
      {s.stage === "Plate" && !s.plate && looked && <LookAt plate={looked} />}
      {s.stage === "Plate" && !s.plate && !looked && (
        <>
          <Button className="h-6" onClick={bench.makePlate}>
            Make frame {s.frame} a plate <kbd className="num text-ochre">P</kbd>
          </Button>
          <span className="truncate px-3 text-dim">Step to the last clean frame before the thing comes in, or the first after it has gone.</span>
        </>
      )}
      {s.stage === "Scout" && (
        <span className="px-1.5 text-dim">Drag once round what must go, on any frame: when it is seen is measured at once.</span>
      )}
      {s.stage === "Render" && <span className="px-1.5 text-dim">What is on the screen is what is written.</span>}
      {s.stage === "Patch" && !s.paint && (
        <Tip text="Paint on single frames of the shot: clone, uncover, heal" keys="B">
          <button type="button" onClick={bench.paintFrames} className="flex h-full items-center gap-2 px-2.5 text-bone hover:text-ochre">
            Paint frames <span className="num text-[12px] text-dim">B</span>
          </button>
        </Tip>
      )}
      {s.stage === "Patch" && !s.paint && s.tool !== "adjust" && selected && (
        <label className="ml-2 flex items-center gap-1.5 text-dim">
          as
          <select
            aria-label="A new shape becomes"
            className="h-6 rounded-md border border-line bg-ground px-1 text-bone"
            value={s.drawInto}
            onChange={(e) => bench.set({ drawInto: e.target.value as DrawInto })}
          >
            {INTO.map(([v, l]) => (
              <option key={v} value={v}>
                {l}
              </option>
            ))}
          </select>
        </label>
      )}
      <span className="flex-1" />
      {what && <span className="truncate px-2 text-dim">{what}</span>}
      {s.peek && (
        <span className="rounded bg-ochre px-1.5 font-semibold text-ground">
          {{ original: "original", matte: "matte", patch: "patch alone" }[s.peek]}
        </span>
      )}
      {!s.handles && (
        <span className="px-2 text-dim">
          handles off <kbd className="num text-ochre">H</kbd>
        </span>
      )}
    </div>
  );
}
