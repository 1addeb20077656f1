"use client";
import clsx from "clsx";
import { Brush } from "lucide-react";
import { useEffect, useRef } from "react";
import { useEditor, useEditorState } from "../editor/context";
import { takeOf } from "@/client/editor/state/select";
import { Upright } from "../parts/QuickPicture";
import { IconButton } from "../parts/Button";
import { openPlate } from "@/client/editor/state/mode";

/** A plate as a picture, with its touches; a click selects it, the brush opens it. */
export function PlatePicture({ id }: { id: string }) {
  const editor = useEditor();
  const plate = useEditorState((s) => s.recipe.plates[id]);
  const selected = useEditorState((s) => s.selection?.kind === "plate" && s.selection.plate === id);
  const open = useEditorState((s) => openPlate(s) === id);
  const take = useEditorState(takeOf);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let gone = false;
    void editor.painter.thumb(id, 192).then((d) => {
      const c = canvas.current;
      if (gone || !c) return;
      c.width = d.width;
      c.height = d.height;
      c.getContext("2d")!.putImageData(d, 0, 0);
    });
    return () => {
      gone = true;
    };
  }, [editor, id, plate]);
  const name = plate.name ?? id;
  const count = plate.touches.length;
  return (
    <li className="group relative">
      <button
        type="button"
        aria-pressed={selected}
        aria-label={`Plate ${name}`}
        onClick={() => editor.selection.select({ kind: "plate", plate: id })}
        onDoubleClick={() => editor.mode.openPlate(id)}
        className={clsx("block w-full rounded-md border p-0.5 text-left", open || selected ? "border-ochre" : "border-line hover:border-dim")}
      >
        <Upright take={take} className="aspect-video w-full rounded bg-black">
          <canvas ref={canvas} className="h-full w-full object-contain" />
        </Upright>
        <span className="block truncate px-1 pt-0.5">{name}</span>
        <span className="block px-1 pb-0.5 text-[12px] text-dim">{count === 0 ? "not retouched" : count === 1 ? "1 touch" : `${count} touches`}</span>
      </button>
      <IconButton
        name={open ? "Back to the shot" : `Retouch ${name}`}
        keys={open ? "Esc" : undefined}
        active={open}
        className="absolute top-1.5 right-1.5 h-6 w-6 bg-ground opacity-90"
        onClick={() => editor.mode.openPlate(open ? null : id)}
      >
        <Brush size={13} />
      </IconButton>
    </li>
  );
}
