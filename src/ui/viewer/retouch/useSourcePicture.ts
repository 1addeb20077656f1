import { useEffect, useState } from "react";
import type { PictureRef } from "@/core/retouch/plate";
import { useEditor, useEditorState } from "../../editor/context";

/** Another picture than the one that is worked on, as a canvas to draw from; null while it is fetched. */
export function useSourcePicture(ref: PictureRef | null): HTMLCanvasElement | null {
  const editor = useEditor();
  // a plate may change while it is a source
  const plates = useEditorState((s) => s.recipe.plates);
  const key = ref && ("plate" in ref ? JSON.stringify([ref, plates[ref.plate]?.touches.length]) : JSON.stringify(ref));
  const [got, setGot] = useState<{ key: string; canvas: HTMLCanvasElement } | null>(null);
  useEffect(() => {
    if (!key || !ref) return;
    let off = false;
    void editor.painter.source(ref).then((image) => {
      if (off) return;
      const canvas = document.createElement("canvas");
      canvas.width = image.width;
      canvas.height = image.height;
      canvas.getContext("2d")!.putImageData(image, 0, 0);
      setGot({ key, canvas });
    });
    return () => {
      off = true;
    };
    // the reference is an object of its own at every drawing; its name tells whether it is another
  }, [editor, key]);
  return got?.key === key ? got.canvas : null;
}
