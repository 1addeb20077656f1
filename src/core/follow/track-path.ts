import type { Track } from "../document/track";
import { fitMap } from "./fit-map";
import { type Homography, IDENTITY, mapped, type Place } from "./homography";
import type { TrackData, TrackedFrame } from "./track-data";

type Measured = Extract<TrackedFrame, { matrix: Homography }>;

/** Where a track's region is at any frame: as it was measured, bent through where it was put by hand. */
export interface TrackPath {
  /** The plane map from the track's own frame to frame `f`. */
  map: (f: number) => Homography;
  /** The region's corners at frame `f`, in take pixels. */
  corners: (f: number) => Place[];
  /** How surely it was measured at frame `f`, 0 … 1; 1 where it was put by hand; null where neither is so. */
  quality: (f: number) => number | null;
}

/**
 * The path of a track. In frames that were not measured the corners go straight from one that was to the next, before and after all of them
 * they stay; what was put by hand is a correction on top, which goes evenly from one such frame to the next and is none on the track's own.
 */
export function trackPath(track: Pick<Track, "at" | "region" | "set">, data: TrackData): TrackPath {
  const region = track.region.map(([x, y]): Place => [x, y]);
  const measured = data.filter((t): t is Measured => "matrix" in t);
  if (!measured.some((t) => t.f === track.at)) {
    measured.push({ f: track.at, matrix: IDENTITY, quality: 1 });
    measured.sort((a, b) => a.f - b.f);
  }
  const byFrame = new Map(measured.map((t) => [t.f, t]));
  const put = (m: Homography): Place[] => region.map((p) => mapped(m, p) ?? p);
  const base = (f: number): Place[] => {
    const known = byFrame.get(f);
    if (known) return put(known.matrix);
    const { before, after, t } = around(measured, f);
    return between(put(before.matrix), put(after.matrix), t);
  };
  const none = region.map((): Place => [0, 0]);
  const set = track.set ?? [];
  const corrections = [
    ...(set.some((s) => s.f === track.at) ? [] : [{ f: track.at, by: none }]),
    ...set.map(({ f, points }) => ({ f, by: base(f).map(([x, y], i): Place => [points[i][0] - x, points[i][1] - y]) })),
  ].sort((a, b) => a.f - b.f);
  const corners = (f: number): Place[] => {
    const { before, after, t } = around(corrections, f);
    const by = between(before.by, after.by, t);
    return base(f).map(([x, y], i): Place => [x + by[i][0], y + by[i][1]]);
  };
  const map = (f: number): Homography => {
    const known = byFrame.get(f);
    if (known && !set.length) return known.matrix;
    return fitMap(region, corners(f)) ?? known?.matrix ?? IDENTITY;
  };
  const byHand = new Set(set.map((s) => s.f));
  return { map, corners, quality: (f) => (byHand.has(f) ? 1 : (byFrame.get(f)?.quality ?? null)) };
}

/** The entries on either side of a frame, and how far it lies between them; at the ends the last one twice. */
function around<T extends { f: number }>(list: readonly T[], f: number): { before: T; after: T; t: number } {
  const i = list.findIndex((e) => e.f >= f);
  const after = i < 0 ? list[list.length - 1] : list[i];
  const before = i < 0 ? after : i === 0 ? after : list[i - 1];
  return { before, after, t: after.f > before.f ? (f - before.f) / (after.f - before.f) : 0 };
}

const between = (a: readonly Place[], b: readonly Place[], t: number): Place[] =>
  a.map(([x, y], i): Place => [x + t * (b[i][0] - x), y + t * (b[i][1] - y)]);

const paths = new WeakMap<object, { data: TrackData; path: TrackPath }>();

/** The same, kept for as long as the track stays as it is. */
export function pathOf(track: Pick<Track, "at" | "region" | "set">, data: TrackData): TrackPath {
  const known = paths.get(track);
  if (known?.data === data) return known.path;
  const path = trackPath(track, data);
  paths.set(track, { data, path });
  return path;
}
