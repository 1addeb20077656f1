import type { Outline, Point } from "../document/geometry";
import { halfContour } from "./contour";
import { signedArea, simplerLoop } from "./loop";
import type { Matte } from "./matte";

type At = readonly [number, number];

/** α from which a pixel belongs to the thing: its soft rim does. */
const RIM = 0.125;
/** Pixels by which a corner that is left out may lie beside the outline. */
const BESIDE = 0.3;

/** The loops of a matte's contour, each once round; the rim within. */
function loopsOf(m: Matte): At[][] {
  const edges = halfContour({ ...m, data: m.data.map((a) => Math.min(1, (a * 0.5) / RIM)) });
  const from = new Map<string, number[]>();
  const key = (x: number, y: number) => `${x.toFixed(6)} ${y.toFixed(6)}`;
  for (let i = 0; i < edges.length; i += 4) {
    const k = key(edges[i], edges[i + 1]);
    from.set(k, [...(from.get(k) ?? []), i]);
  }
  const loops: At[][] = [];
  const taken = new Uint8Array(edges.length / 4);
  for (let i = 0; i < edges.length; i += 4) {
    const loop: At[] = [];
    for (let e: number | undefined = i; e !== undefined && !taken[e / 4];) {
      taken[e / 4] = 1;
      loop.push([edges[e], edges[e + 1]]);
      e = from.get(key(edges[e + 2], edges[e + 3]))?.find((k) => !taken[k / 4]);
    }
    if (loop.length > 2) loops.push(loop);
  }
  return loops;
}

/**
 * All of a picture but what a matte covers, as one outline: round the picture, and by a bridge without width round each of its parts the
 * other way.
 * @param m a matte, its soft rim within what is left out @param width,height the picture's, pixels
 * @returns null where the matte covers nothing
 */
export function aroundMatte(m: Matte, width: number, height: number): Outline | null {
  const loops = loopsOf(m)
    .map((l) => simplerLoop(l, BESIDE))
    .filter((l) => l.length > 2);
  if (!loops.length) return null;
  // the picture goes round by its right; its largest part tells which way parts go
  const largest = loops.reduce((a, b) => (Math.abs(signedArea(b)) > Math.abs(signedArea(a)) ? b : a));
  const turned = signedArea(largest) > 0;
  const corner: At = [0, 0];
  const out: At[] = [corner];
  for (const l of loops) {
    const way = turned ? [...l].reverse() : l;
    out.push(...way, way[0], corner);
  }
  out.push([width, 0], [width, height], [0, height]);
  return out.map(([x, y]): Point => [Number(x.toFixed(2)), Number(y.toFixed(2))]);
}
