"use client";
import { useMemo, useRef } from "react";
import { maskOf } from "@/core/document/recipe";
import { layerTitle } from "@/recipe/query";
import { takeOf } from "@/client/editor/state/select";
import type { Mask } from "@/core/document/mask";
import type { PatchLayer } from "@/core/document/layer";
import { maskMatte } from "@/core/shape/mask";
import { useEditor, useEditorPick } from "../../editor/context";
import { useKeyShown } from "../../editor/usePreferences";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Section } from "../Section";
import { CutOutPart } from "./CutOutPart";
import { KeyedField } from "./KeyedField";
import { MaskBrushFields } from "./MaskBrushFields";
import { ShapeList } from "./ShapeList";

/** Whether a mask is so thin, or so far shrunk, that its α nowhere reaches 1; judged at a quarter of the size. */
function useThin(mask: Mask, frame: number, info: { width: number; height: number }, idle: boolean): boolean {
  return useMemo(() => {
    if (!idle || mask.invert || !mask.shapes.length || mask.shapes.some((x) => x.kind === "picture" || x.kind === "painted" || x.kind === "cutout"))
      return false;
    const m = maskMatte(mask, frame, Math.ceil(info.width / 4), Math.ceil(info.height / 4), 0.25);
    return !m.data.some((v) => v > 0.98);
  }, [mask, frame, info.width, info.height, idle]);
}

/** The patch's mask: its edge, its shapes, who else uses it. */
export function MaskSection({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "shot", "frame", "playing", "holds", "tool");
  const { recipe } = s;
  const file = useRef<HTMLInputElement>(null);
  const mask = maskOf(recipe, layer);
  const title = layerTitle(recipe, layer.id);
  const thin = useThin(mask, s.frame, takeOf(s).info!, !s.playing);
  const holdsKey = useKeyShown("holds");
  const edge = (field: "feather" | "grow", label: string, o: { min: number; max: number; least?: number; most?: number }) => (
    <KeyedField
      layer={layer}
      label={label}
      value={mask[field] ?? 0}
      put={(v, name, dragging) => editor.masks.changeMask(layer, name, (m) => void (m[field] = v as typeof m.feather), dragging)}
      unit="px"
      reset={0}
      {...o}
    />
  );
  return (
    <Section title="Mask">
      <div className="flex h-8 items-center gap-2">
        <span
          className="w-[84px] shrink-0 text-dim"
          title={`Whether moving a shape makes a keyframe at the frame shown, or changes all frames alike (${holdsKey})`}
        >
          Changes hold
        </span>
        <div className="min-w-0 flex-1">
          <Choice
            name="Changes of shapes hold"
            tight
            options={[
              ["here", "this keyframe"],
              ["throughout", "all keyframes"],
            ]}
            value={s.holds}
            onChange={(holds) => editor.masks.setHolds(holds)}
          />
        </div>
      </div>
      {edge("feather", "Feather", { min: 0, max: 300, most: 10_000 })}
      {edge("grow", "Grow", { min: -300, max: 300, least: -10_000, most: 10_000 })}
      <label className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Invert</span>
        <input
          type="checkbox"
          className="h-4 w-4 accent-ochre"
          checked={mask.invert ?? false}
          onChange={(e) =>
            editor.masks.changeMask(
              layer,
              `${e.target.checked ? "Turn" : "Turn back"} the mask of ${title} inside out`,
              (m) => void (m.invert = e.target.checked),
            )
          }
        />
        {mask.invert && <span className="text-dim">covers all but the shape</span>}
      </label>
      {thin && (
        <p className="text-dim">
          <span className="font-semibold text-bone">Thinner than its feather:</span> the mask never covers fully. Grow it, or feather it less.
        </p>
      )}
      <ShapeList layer={layer} mask={mask} />
      <CutOutPart layer={layer} />
      {s.tool === "brush" && <MaskBrushFields />}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <Button
          className="h-6 px-2 text-[12px]"
          onClick={() => editor.masks.beginPainted(false)}
          title="The mask becomes a painted one; nothing of the patch shows yet"
        >
          Paint from hidden
        </Button>
        <Button
          className="h-6 px-2 text-[12px]"
          onClick={() => editor.masks.beginPainted(true)}
          title="The mask becomes a painted one; all of the patch shows, and is painted away"
        >
          from shown
        </Button>
        <Button
          className="h-6 px-2 text-[12px]"
          onClick={() => file.current?.click()}
          title="A picture's alpha, or its brightness, becomes a part of the mask"
        >
          Picture …
        </Button>
        <input
          ref={file}
          type="file"
          aria-label="A picture as a mask"
          accept=".png,.tif,.tiff,.jpg,.jpeg"
          className="hidden"
          onChange={(e) => {
            const f = e.target.files?.[0];
            e.target.value = "";
            if (f) void editor.masks.addPicture(f);
          }}
        />
      </div>
      <Shared layer={layer} />
    </Section>
  );
}

/** Whether the mask is the layer's own, or shared with others. */
function Shared({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const masks = Object.entries(recipe.masks ?? {});
  const used = "use" in layer.mask ? layer.mask.use : "";
  const users = used
    ? recipe.intruders.flatMap((i) =>
        i.layers
          .filter(
            (l) =>
              l.kind === "patch" && l.id !== layer.id && "use" in (l as PatchLayer).mask && ((l as PatchLayer).mask as { use: string }).use === used,
          )
          .map(() => i.name),
      )
    : [];
  return (
    <div className="mt-1.5">
      <label className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Shared</span>
        <select
          aria-label="Whose mask it is"
          className="h-7 w-[150px] rounded-md border border-line bg-ground px-1.5"
          value={used}
          onChange={(e) => (e.target.value === "+" ? editor.masks.shareMask() : editor.masks.useMask(e.target.value || null))}
        >
          <option value="">{used ? "make it its own" : "its own"}</option>
          {masks.map(([id, m]) => (
            <option key={id} value={id}>
              mask of {m.name ?? id}
            </option>
          ))}
          {!used && <option value="+">share this one</option>}
        </select>
      </label>
      {used && (
        <p className="text-[12px] text-dim">
          {users.length ? `Also used by ${users.join(", ")}: a change counts for all.` : "No other patch uses it yet: choose it there."}
        </p>
      )}
    </div>
  );
}
