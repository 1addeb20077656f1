"use client";
import { Copy, ImageDown, Lock, LockOpen, Trash2 } from "lucide-react";
import { maskOf } from "@/core/document/recipe";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor, useEditorPick } from "../../editor/context";
import { useKeyShown } from "../../editor/usePreferences";
import { IconButton } from "../../parts/Button";
import { NameField } from "../../parts/NameField";
import { saveFile } from "../../parts/save";
import { FollowSection } from "./FollowSection";
import { MaskSection } from "./MaskSection";
import { PictureSection } from "./PictureSection";
import { TimeSection } from "./TimeSection";
import { stillUrl } from "@/client/api";
import { intruderOf, intruderById } from "@/recipe/query";

/** What a patch shows, its mask, its time: in the order in which they are used. */
export function PatchCard({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, shot, frame } = useEditorPick("recipe", "shot", "frame");
  const intruder = intruderOf(recipe, layer.id)!;
  const hole = useKeyShown("peekHole");
  const inverted = maskOf(recipe, layer).invert;
  return (
    <>
      <div className="flex items-center gap-1 border-b border-line px-3.5 py-2">
        <NameField
          label="Name of the intruder"
          name={intruder.name}
          className="h-7 min-w-0 flex-1 rounded-md border border-transparent bg-transparent px-1.5 font-semibold outline-none hover:border-line focus:border-ochre"
          settle={(name) => {
            if (name)
              editor.commit(`Name it ${name}`, (d) => {
                const i = intruderById(d, intruder.id);
                if (i) i.name = name;
              });
          }}
        />
        <IconButton
          name={layer.locked ? "Unlock this patch" : "Lock this patch"}
          side="left"
          active={layer.locked}
          onClick={() => editor.patches.setLocked(layer, !layer.locked)}
        >
          {layer.locked ? <Lock size={15} /> : <LockOpen size={15} />}
        </IconButton>
        <IconButton name="Duplicate this patch" side="left" onClick={() => editor.patches.duplicateLayer(layer.id)}>
          <Copy size={15} />
        </IconButton>
        <IconButton
          name="Save this patch as PNG with transparency"
          side="left"
          onClick={() => void saveFile(stillUrl(shot.id, { what: "patch", frame, layer: layer.id }))}
        >
          <ImageDown size={15} />
        </IconButton>
        <IconButton name="Delete this patch" side="left" onClick={editor.patches.removeSelected}>
          <Trash2 size={15} />
        </IconButton>
      </div>
      {intruder.layers.length > 1 && (
        <label className="flex h-9 items-center gap-2 border-b border-line px-3.5">
          <span className="w-[84px] shrink-0 text-dim">This layer</span>
          <NameField
            label="Name of the layer"
            name={layer.name ?? ""}
            placeholder="without a name"
            className="h-6 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5 outline-none focus:border-ochre"
            settle={(name) => editor.patches.nameLayer(layer, name)}
          />
        </label>
      )}
      <p className="border-b border-line px-3.5 py-1.5 text-[12px] text-dim">
        {inverted
          ? "Inverted: the footage shows in the shape, the picture everywhere else. "
          : "A patch on top: its picture shows inside the mask, as through a hole in the footage. "}
        <kbd className="num text-ochre">{hole}</kbd> shows the hole.
      </p>
      <PictureSection key={layer.id} layer={layer} />
      <MaskSection layer={layer} />
      <FollowSection layer={layer} />
      <TimeSection layer={layer} />
    </>
  );
}
