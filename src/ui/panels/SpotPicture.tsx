"use client";
import { useEffect, useRef } from "react";
import { takeOf } from "@/client/editor/state/select";
import { useEditorState } from "../editor/context";
import { Upright } from "../parts/QuickPicture";

/** A spot of a picture as a small one, with a little of what surrounds it; black while the picture is fetched. */
export function SpotPicture({ picture, box }: { picture: HTMLCanvasElement | null; box: { x: number; y: number; w: number; h: number } }) {
  const take = useEditorState(takeOf);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { x, y, w, h } = box;
  useEffect(() => {
    const c = canvas.current;
    if (!c || !picture) return;
    // three times the spot, in the shape of a picture
    const wide = Math.min(picture.width, Math.max(3 * w, (3 * h * 16) / 9, 64));
    const high = Math.min(picture.height, (wide * 9) / 16);
    const x0 = Math.round(Math.min(picture.width - wide, Math.max(0, x + w / 2 - wide / 2)));
    const y0 = Math.round(Math.min(picture.height - high, Math.max(0, y + h / 2 - high / 2)));
    c.width = Math.round(wide);
    c.height = Math.round(high);
    const g = c.getContext("2d")!;
    g.drawImage(picture, -x0, -y0);
    g.lineWidth = Math.max(1, wide / 80);
    g.strokeStyle = "#efe7da";
    g.strokeRect(x - x0, y - y0, w, h);
  }, [picture, x, y, w, h]);
  return (
    <Upright take={take} className="aspect-video w-full rounded bg-black">
      <canvas ref={canvas} className="h-full w-full object-contain" />
    </Upright>
  );
}
