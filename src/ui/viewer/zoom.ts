import { type Bench } from "@/client/bench/store";
import { type BenchState, takeOf } from "@/client/bench/state";

/** Where the picture lies in the viewer, in CSS pixels. */
export interface Lie {
  scale: number;
  left: number;
  top: number;
}

const MARGIN = 20;
const STEPS = { min: 0.05, max: 40 };

/** The picture's place for a zoom in a viewer of `w` × `h`. */
export function lieOf(s: Pick<BenchState, "zoom" | "shot" | "recipe">, w: number, h: number): Lie {
  const { width, height } = takeOf(s).info!;
  if (s.zoom.scale === null) {
    const scale = Math.max(0.01, Math.min((w - 2 * MARGIN) / width, (h - 2 * MARGIN) / height));
    return { scale, left: (w - width * scale) / 2, top: (h - height * scale) / 2 };
  }
  const { scale, x, y } = s.zoom;
  return { scale, left: w / 2 - x * scale, top: h / 2 - y * scale };
}

/** The viewer's size, kept by the viewer itself. */
export const viewerSize = { w: 800, h: 500 };

/** Zooms by a factor about a point of the viewer (its middle by default). */
export function zoomBy(bench: Bench, factor: number, at?: { x: number; y: number }): void {
  const s = bench.store.getState();
  const { w, h } = viewerSize;
  const lie = lieOf(s, w, h);
  const px = at?.x ?? w / 2;
  const py = at?.y ?? h / 2;
  const scale = Math.min(STEPS.max, Math.max(STEPS.min, lie.scale * factor));
  const tx = (px - lie.left) / lie.scale;
  const ty = (py - lie.top) / lie.scale;
  bench.set({ zoom: { scale, x: tx - (px - w / 2) / scale, y: ty - (py - h / 2) / scale } });
}

/** Moves the picture by screen pixels. */
export function panBy(bench: Bench, dx: number, dy: number): void {
  const s = bench.store.getState();
  const { w, h } = viewerSize;
  const lie = lieOf(s, w, h);
  bench.set({ zoom: { scale: lie.scale, x: (w / 2 - lie.left - dx) / lie.scale, y: (h / 2 - lie.top - dy) / lie.scale } });
}

/** Shows a part of the picture with some room around it. */
export function zoomTo(bench: Bench, box: { x0: number; y0: number; x1: number; y1: number }): void {
  const { w, h } = viewerSize;
  const scale = Math.min(8, Math.max(STEPS.min, Math.min(w / (2.5 * (box.x1 - box.x0)), h / (2.5 * (box.y1 - box.y0)))));
  bench.set({ zoom: { scale, x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 } });
}
