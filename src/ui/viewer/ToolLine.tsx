"use client";
import clsx from "clsx";
import { TITLES } from "@/client/editor/retouch-target";
import { BRUSH_TOOLS, type BrushTool } from "@/client/editor/state/retouch";
import { type DrawInto, MASK_TOOLS, type MaskTool } from "@/client/editor/state/mask";
import { layerTitle } from "@/recipe/query";
import { type ModeName, modeName, openPaint, openPlate } from "@/client/editor/state/mode";
import { selectedLayer } from "@/client/editor/state/select";
import { type CommandId, keysOf } from "@/client/editor/commands";
import { shownKeys } from "@/client/input/keys";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting, usePreferences } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { Tip } from "../parts/Tip";
import { LookAt } from "./LookAt";
import type { EditorState } from "@/client/editor/state/editor";
import type { Editor } from "@/client/editor/editor";

const PATCH: Record<MaskTool, [string, string]> = {
  outline: ["Outline", "Click for a corner, drag for a curve; click the first point or press Enter to close"],
  loop: ["Loop", "Drag once round the thing: the loop is kept by a few curve points"],
  oval: ["Oval", "Drag an oval over the thing; Shift: a circle, Alt: from its middle"],
  box: ["Box", "Drag a box over the thing; its corners can be rounded"],
  brush: ["Brush", "Paint the mask; Alt takes away"],
  adjust: ["Adjust", "Move, scale, turn; double click an edge for a new point, a point for a curve or a corner"],
  source: ["Source", "Move, scale and turn the picture under the mask"],
  follow: [
    "Follow",
    "Drag a box round something that moves with the thing, or click its corners: the patch is carried along; drag a corner to set it by hand",
  ],
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

/** A tool as its button shows it: id, name, what it does, whether it is taken up, and how it is. */
type ToolButton = [id: string, name: string, tip: string, active: boolean, take: () => void];
type ToolState = Pick<EditorState, "retouch" | "tool">;

/** The tools of each mode that has some, in the order of their keys. */
const TOOLS: Partial<Record<ModeName, (editor: Editor, s: ToolState) => ToolButton[]>> = {
  Patch: (editor, s) => MASK_TOOLS.map((t) => [t, ...PATCH[t], s.tool === t, () => editor.masks.setTool(t)]),
  retouching: (editor, { retouch: r }) => BRUSH_TOOLS.map((t) => [t, TITLES[t], BRUSH[t], r.tool === t && !r.aid, () => editor.retouch.takeTool(t)]),
};

/** The tools of the mode, and what is selected. */
export function ToolLine() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "selection", "mode", "tool", "retouch", "drawInto", "peek", "handles", "frame");
  const plate = openPlate(s);
  const paint = openPaint(s);
  const own = usePreferences((p) => p.keys);
  const keyOf = (id: CommandId) => shownKeys(keysOf(id, own));
  const count = useCounting();
  const selected = selectedLayer(s);
  const tools = TOOLS[modeName(s)]?.(editor, s) ?? [];
  const looked = s.selection?.kind === "plate" ? s.selection.plate : null;
  const what = plate
    ? `Plate: ${s.recipe.plates[plate]?.name ?? plate}`
    : paint
      ? `On frames: ${layerTitle(s.recipe, paint)}`
      : selected
        ? `${layerTitle(s.recipe, selected.id)}${selected.name ? `, ${selected.name}` : ""}`
        : s.selection?.kind === "plate"
          ? (s.recipe.plates[s.selection.plate]?.name ?? "")
          : "";
  return (
    <div
      className="flex h-[35px] shrink-0 [scrollbar-width:none] items-center overflow-x-auto overflow-y-hidden border-b border-line bg-panel px-2"
      role="toolbar"
      aria-label="Tools"
    >
      {tools.map(([id, label, tip, active, run], i) => (
        <Tip key={id} text={tip} keys={keyOf(`tool${i + 1}` as CommandId)}>
          <button
            type="button"
            aria-pressed={active}
            onClick={run}
            className={clsx(
              "flex h-full shrink-0 items-center gap-1.5 border-b-2 px-2 max-[900px]:px-1.5",
              active ? "border-ochre text-ochre" : "border-transparent text-bone hover:text-ochre",
            )}
          >
            {label} <span className="num text-[12px] text-dim max-[900px]:hidden">{keyOf(`tool${i + 1}` as CommandId)}</span>
          </button>
        </Tip>
      ))}
      {s.mode.stage === "Plate" && !plate && looked && <LookAt plate={looked} />}
      {s.mode.stage === "Plate" && !plate && !looked && (
        <>
          <Button className="h-6" onClick={editor.plates.makePlate}>
            Make frame {count.show(s.frame)} a plate <kbd className="num text-ochre">{keyOf("plate")}</kbd>
          </Button>
          <span className="truncate px-3 text-dim">Step to the last clean frame before the thing comes in, or the first after it has gone.</span>
        </>
      )}
      {s.mode.stage === "Scout" && (
        <span className="px-1.5 text-dim">Drag once round what must go, on any frame: when it is seen is measured at once.</span>
      )}
      {s.mode.stage === "Match" && (
        <span className="px-1.5 text-dim">
          {selected
            ? "Light, sharpness, seam and grain of this patch, beside; drag a box over a flat area to take its grain."
            : "Select a patch in the ledger: it is matched to what surrounds it."}
        </span>
      )}
      {s.mode.stage === "Proof" && (
        <span className="px-1.5 text-dim">
          What is still wrong is measured by itself. <kbd className="num text-ochre">{keyOf("nextKey")}</kbd> goes to the next finding.
        </span>
      )}
      {s.mode.stage === "Render" && <span className="px-1.5 text-dim">What is on the screen is what is written.</span>}
      {s.mode.stage === "Patch" && !paint && (
        <Tip text="Paint on single frames of the shot: clone, uncover, heal" keys={keyOf("paint")}>
          <button type="button" onClick={editor.mode.paintFrames} className="flex h-full items-center gap-1.5 px-2 text-bone hover:text-ochre">
            Frames <span className="num text-[12px] text-dim">{keyOf("paint")}</span>
          </button>
        </Tip>
      )}
      {s.mode.stage === "Patch" && !paint && s.tool !== "adjust" && s.tool !== "source" && s.tool !== "brush" && s.tool !== "follow" && selected && (
        <label className="ml-2 flex items-center gap-1.5 text-dim">
          as
          <select
            aria-label="A new shape becomes"
            className="h-6 rounded-md border border-line bg-ground px-1 text-bone"
            value={s.drawInto}
            onChange={(e) => editor.masks.setInto(e.target.value as DrawInto)}
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
      {what && <span className="truncate px-2 text-dim">Selected: {what}</span>}
      {s.peek && (
        <span className="rounded bg-ochre px-1.5 font-semibold text-ground">
          {{ original: "original", matte: "matte", patch: "patch alone", hole: "the hole" }[s.peek]}
        </span>
      )}
      {!s.handles && (
        <span className="shrink-0 px-2 whitespace-nowrap text-dim">
          handles off <kbd className="num text-ochre">{keyOf("handles")}</kbd>
        </span>
      )}
    </div>
  );
}
