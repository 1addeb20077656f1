import { type Homography, IDENTITY, inverse, mapped, times } from "../../core/follow/homography";
import { lumaOf } from "../../core/follow/luma";
import { Round, type RoundFit } from "../../core/follow/round";
import { boxOf, cornersOf } from "../../core/follow/template";
import type { TrackData } from "../../core/follow/track-data";
import type { Cutouts } from "../../core/cutout/cutout-data";
import type { Mask } from "../../core/document/mask";
import { type Rect, union } from "../../core/pixels/frame";
import { grown } from "../../core/shape/edge";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import type { Watch } from "../watch";
import { maskBoxAt } from "./mask-over";

/** Pixels round a place that are fitted, at least, and as a share of its size. */
const RIM = 48;
const OF_SIZE = 0.25;
/** Pixels beside what is left out that are left out as well: soft edges, and what throws a shadow. */
const BESIDE = 6;
/** Share of the frames that must be found for them to be believed. */
const ENOUGH = 0.5;

export interface CameraRoundAsk {
  /** The frame it leads from, and what the whole picture does from there. */
  at: number;
  camera: TrackData;
  /** First and last frame on which it is fitted. */
  from: number;
  to: number;
  /** The mask of a patch on them, which does not follow anything itself. */
  mask: Mask;
}

/** A camera's track that was fitted round a place; on how many frames of those asked for. */
export interface CameraRound {
  frames: TrackData;
  fitted: number;
}

/**
 * The camera's track with what lies round a patch fitted by itself, frame by frame. On frames where that is not found it is as far beside the
 * whole picture's as on those about them.
 * @returns null where what lies round it does not tell
 */
export async function cameraRound(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  ask: CameraRoundAsk,
  cutouts: Cutouts,
  watch: Watch,
): Promise<CameraRound | null> {
  const { at, camera, mask, from, to } = ask;
  const maps = new Map(camera.flatMap((t) => ("matrix" in t ? [[t.f, t.matrix as Homography]] : [])));
  const first = lumaOf(await store.frame(id, index, at));
  const whole = { x0: 0, y0: 0, x1: first.width, y1: first.height };
  const boxes: Rect[] = [];
  for (const [f, map] of maps) {
    if (f < from || f > to) continue;
    const [box, back] = [maskBoxAt(mask, f, whole, cutouts), inverse(map)];
    if (box && back) boxes.push(grown(carried(box, back), BESIDE, whole));
  }
  const round = roundOf(first, boxes, whole);
  if (!round) return null;
  const found = new Map<number, RoundFit>([[at, { matrix: IDENTITY, quality: 1 }]]);
  const all = [...maps.keys()].filter((f) => f >= from && f <= to && f !== at);
  for (const [k, f] of all.entries()) {
    watch.signal?.throwIfAborted();
    watch.progress?.(k + 1, all.length);
    const fit = round.at(lumaOf(await store.frame(id, index, f)), maps.get(f)!);
    if (fit) found.set(f, fit);
  }
  if (found.size - 1 < ENOUGH * all.length) return null;
  const beside = besideOf(found, maps);
  const frames = camera.map((t) => {
    if (!("matrix" in t)) return t;
    const fit = found.get(t.f);
    return fit ? { f: t.f, ...fit } : { ...t, matrix: times(beside(t.f), t.matrix as Homography) };
  });
  return { frames, fitted: found.size - 1 };
}

/** The box around where a map takes a box. */
const carried = (box: Rect, by: Homography): Rect => boxOf(cornersOf(box).map((p) => mapped(by, p) ?? p));

function roundOf(g: ConstructorParameters<typeof Round>[0], boxes: readonly Rect[], whole: Rect): Round | null {
  if (!boxes.length) return null;
  const all = boxes.reduce(union);
  const wide = grown(all, Math.max(RIM, OF_SIZE * Math.max(all.x1 - all.x0, all.y1 - all.y0)), whole);
  try {
    return new Round(g, cornersOf(wide), (x, y) => boxes.some((b) => x >= b.x0 && x < b.x1 && y >= b.y0 && y < b.y1));
  } catch (e) {
    if (e instanceof RangeError) return null;
    throw e;
  }
}

/** By what a frame on which nothing was found lies beside the camera: as those about it do, in between linear. */
function besideOf(found: ReadonlyMap<number, RoundFit>, camera: ReadonlyMap<number, Homography>) {
  const known = [...found].sort((a, b) => a[0] - b[0]).map(([f, { matrix }]) => ({ f, by: times(matrix, inverse(camera.get(f)!)!) }));
  return (f: number): Homography => {
    const [before, after] = [known.findLast((k) => k.f < f), known.find((k) => k.f > f)];
    if (!before || !after) return (before ?? after)!.by;
    const t = (f - before.f) / (after.f - before.f);
    return before.by.map((v, i) => v + t * (after.by[i] - v)) as Homography;
  };
}
