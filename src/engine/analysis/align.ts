import type { InLine } from "../../core/document/plate";
import { lightBetween, pivotOf } from "../../core/match/light";
import { cellMeans, grayOf } from "../../core/motion/gray";
import { referenceOf, register } from "../../core/motion/register";
import { inverseOf, placedAt } from "../../core/plate/build";
import { gridOf } from "../../core/plate/regions";
import type { SitingName } from "../../core/pixels/colour";
import { colourPlanes, type Frame, isChroma, type Plane, planeShift } from "../../core/pixels/frame";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { MediaError } from "../media/media-error";

export interface OpenTake {
  id: string;
  index: TakeIndex;
  store: FrameStore;
}

/** Luma pixels to a cell when two takes' light is compared. */
const CELL = 16;

/**
 * Brings a frame of another take into line with a frame of the shot: where it lies (shift, turn, scale) and its light on each
 * plane. Outlines in `avoid` are left out, since what is to go is not in the other take.
 * @throws MediaError when the two show different views
 */
export async function alignTakes(
  shot: OpenTake,
  at: number,
  other: OpenTake,
  frame: number,
  avoid: number[][][],
): Promise<InLine & { agree: number }> {
  const { width, height, colour } = shot.index.info;
  const b = other.index.info;
  if (b.width !== width || b.height !== height)
    throw new MediaError(
      `The other take is ${b.width}×${b.height} and the shot ${width}×${height}: only takes of one size can be laid over each other.`,
    );
  const mine = await shot.store.frame(shot.id, shot.index, at, true);
  const theirs = await other.store.frame(other.id, other.index, frame, true);
  const grids = avoid.map((o) => gridOf(o, Math.ceil(width / CELL), Math.ceil(height / CELL), CELL));
  const barred = (x: number, y: number) => {
    const i = Math.floor(y / CELL) * Math.ceil(width / CELL) + Math.floor(x / CELL);
    return grids.some((g) => g.data[i]);
  };
  const a = register(referenceOf(grayOf(mine.planes[0], mine.format.bits), barred), grayOf(theirs.planes[0], theirs.format.bits));
  if (!a) throw new MediaError("The two takes do not show the same view: choose another take, or another frame of it.");
  // what moves no corner by a tenth of a pixel is noise
  const corner = Math.hypot(width, height) / 2;
  const plain = corner * Math.hypot((a.angle * Math.PI) / 180, a.scale - 1) < 0.15;
  const found = plain ? { ...a, angle: 0, scale: 1 } : a;
  const place = inverseOf(found);
  const full = colour.range === "full" || mine.format.model !== "yuv";
  const light = Array.from({ length: colourPlanes(mine.format) }, (_, p): [number, number] => {
    const { sx, sy } = planeShift(mine.format, p);
    const k = CELL >> Math.max(sx, sy);
    const want = cellMeans(mine.planes[p], mine.format.bits, k);
    const have = cellMeans(movedInto(theirs, p, place, colour.siting), theirs.format.bits, k);
    const pivot = pivotOf(isChroma(mine.format, p), full);
    const l = lightBetween(
      have.data,
      want.data,
      pivot,
      (i) => !barred((i % want.width) * CELL + CELL / 2, Math.floor(i / want.width) * CELL + CELL / 2),
    );
    return [l.gain, pivot - l.gain * pivot + l.offset];
  });
  return { x: place.x, y: place.y, scale: place.scale, angle: place.angle, light, agree: a.agree };
}

/** A plane of a picture where its place puts it. */
function movedInto(f: Frame, p: number, place: { x: number; y: number; scale: number; angle: number }, siting: SitingName): Plane {
  const { width, height, read } = placedAt(f, p, place, siting);
  const data = f.planes[p].data.slice();
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) data[i] = read(x, y);
  return { width, height, data };
}
