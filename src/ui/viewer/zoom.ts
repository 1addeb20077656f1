import { createStore } from "zustand/vanilla";
import type { Editor } from "@/client/editor/editor";
import type { EditorState } from "@/client/editor/state/editor";
import { takeOf } from "@/client/editor/state/select";
import { aspectOf, type TakeInfo, turnOf } from "@/wire/take";

/** Where the picture lies in the viewer, in CSS pixels. */
export interface Viewport {
  scale: number;
  left: number;
  top: number;
}

const MARGIN = 20;
const STEPS = { min: 0.05, max: 40 };

/** A turn by quarters, in degrees clockwise. */
export type Quarter = 0 | 90 | 180 | 270;

/** By how many quarters the take is shown turned. */
export const quarterOf = (s: Pick<EditorState, "shot" | "recipe">): Quarter => quarter(takeOf(s).info!);
export const quarter = (info: TakeInfo): Quarter => ((((Math.round(turnOf(info) / 90) * 90) % 360) + 360) % 360) as Quarter;

/** How a take is shown: turned by quarters, and where its pixels are not square as much wider. */
export interface Shape {
  quarter: Quarter;
  /** Width of a pixel against its height. */
  aspect: number;
}
export const shapeOf = (s: Pick<EditorState, "shot" | "recipe">): Shape => ({ quarter: quarterOf(s), aspect: aspectOf(takeOf(s).info!) });

/** A step on the screen as a step on the stage, which lies turned. */
export function turnedStep(q: Quarter, dx: number, dy: number): [number, number] {
  if (q === 90) return [dy, -dx];
  if (q === 180) return [-dx, -dy];
  return q === 270 ? [-dy, dx] : [dx, dy];
}

/** The size of the stage on which the picture lies as it was recorded, in a viewer of `w` × `h`. */
export const stageSize = ({ quarter: q, aspect }: Shape, w: number, h: number): { w: number; h: number } =>
  q % 180 ? { w: h / aspect, h: w } : { w: w / aspect, h };

/** A point of the viewer as a point of the stage. */
export function onStage(shape: Shape, size: { w: number; h: number }, x: number, y: number): [number, number] {
  const stage = stageSize(shape, size.w, size.h);
  const [dx, dy] = turnedStep(shape.quarter, x - size.w / 2, y - size.h / 2);
  return [dx / shape.aspect + stage.w / 2, dy + stage.h / 2];
}

/** A point of the stage as a point of the viewer. */
export function offStage(shape: Shape, size: { w: number; h: number }, x: number, y: number): [number, number] {
  const stage = stageSize(shape, size.w, size.h);
  const [dx, dy] = turnedStep(((360 - shape.quarter) % 360) as Quarter, shape.aspect * (x - stage.w / 2), y - stage.h / 2);
  return [dx + size.w / 2, dy + size.h / 2];
}

/** The picture's place on its stage, for a zoom in a viewer of `w` × `h`. */
export function viewportOf(s: Pick<EditorState, "zoom" | "shot" | "recipe">, viewerW: number, viewerH: number): Viewport {
  const { width, height } = takeOf(s).info!;
  const { w, h } = stageSize(shapeOf(s), viewerW, viewerH);
  if (s.zoom.scale === null) {
    const scale = Math.max(0.01, Math.min((w - 2 * MARGIN) / width, (h - 2 * MARGIN) / height));
    return { scale, left: (w - width * scale) / 2, top: (h - height * scale) / 2 };
  }
  const { scale, x, y } = s.zoom;
  return { scale, left: w / 2 - x * scale, top: h / 2 - y * scale };
}

/** The viewer's size in CSS pixels, kept by the viewer itself; whoever shows a number that hangs on it is told when it changes. */
export const viewerSize = createStore<{ w: number; h: number }>(() => ({ w: 800, h: 500 }));

/** The stage in the viewer as it is now, and where the picture lies on it. */
export const stageOf = (s: EditorState) => {
  const size = viewerSize.getState();
  const shape = shapeOf(s);
  return { size, shape, ...stageSize(shape, size.w, size.h), viewport: viewportOf(s, size.w, size.h) };
};

/** Zooms by a factor about a point of the viewer (its middle by default). */
export function zoomBy(editor: Editor, factor: number, at?: { x: number; y: number }): void {
  const s = editor.store.getState();
  const { size, shape, w, h, viewport } = stageOf(s);
  const [px, py] = at ? onStage(shape, size, at.x, at.y) : [w / 2, h / 2];
  const scale = Math.min(STEPS.max, Math.max(STEPS.min, viewport.scale * factor));
  const tx = (px - viewport.left) / viewport.scale;
  const ty = (py - viewport.top) / viewport.scale;
  editor.view.setZoom({ scale, x: tx - (px - w / 2) / scale, y: ty - (py - h / 2) / scale });
}

/** Moves the picture by screen pixels. */
export function panBy(editor: Editor, dx: number, dy: number): void {
  const s = editor.store.getState();
  const { shape, w, h, viewport } = stageOf(s);
  const [across, y] = turnedStep(shape.quarter, dx, dy);
  const x = across / shape.aspect;
  editor.view.setZoom({ scale: viewport.scale, x: (w / 2 - viewport.left - x) / viewport.scale, y: (h / 2 - viewport.top - y) / viewport.scale });
}

/** Shows a part of the picture with some room around it; the picture fills the viewer where it can. */
export function zoomTo(editor: Editor, box: { x0: number; y0: number; x1: number; y1: number }): void {
  const s = editor.store.getState();
  const { w, h } = stageOf(s);
  const { width, height } = takeOf(s).info!;
  const scale = Math.min(8, Math.max(STEPS.min, Math.min(w / (2.5 * (box.x1 - box.x0)), h / (2.5 * (box.y1 - box.y0)))));
  const middle = (a: number, b: number, size: number, view: number) => {
    const half = view / 2 / scale;
    return 2 * half >= size ? size / 2 : Math.min(size - half, Math.max(half, (a + b) / 2));
  };
  editor.view.setZoom({ scale, x: middle(box.x0, box.x1, width, w), y: middle(box.y0, box.y1, height, h) });
}
