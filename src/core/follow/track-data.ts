import { UserError } from "../user-error";
import type { Homography } from "./homography";

/** The number of the method by which regions are followed. */
export const TRACK_METHOD = 1;

/** What a track says of one frame: where the region is, or why it is not known any more. */
export type TrackedFrame = { f: number; matrix: Homography; quality: number } | { f: number; stopped: string };

/** What was measured of a region: a frame an entry, in their order; a frame without one was not looked at. */
export type TrackData = readonly TrackedFrame[];

/** As it is kept, in UTF-8. */
export const trackText = (frames: TrackData): string => JSON.stringify({ frames });

/** @throws UserError where it is no track */
export function readTrack(text: string): TrackData {
  try {
    const { frames } = JSON.parse(text) as { frames: TrackedFrame[] };
    const sound = (t: TrackedFrame) =>
      Number.isInteger(t.f) &&
      ("stopped" in t ? typeof t.stopped === "string" : t.matrix.length === 9 && t.matrix.every(Number.isFinite) && t.quality >= 0 && t.quality <= 1);
    if (frames.every((t, i) => sound(t) && (i === 0 || t.f > frames[i - 1].f))) return frames;
  } catch {
    // said below
  }
  throw new UserError("refused", "The track is damaged: follow the region again.");
}

/** A track whose frames from the first to the last of `more` that were measured are those of `more`; what was known elsewhere stays. */
export function joined(known: TrackData, more: TrackData): TrackData {
  const measured = more.filter((t) => "matrix" in t);
  if (!measured.length) return known;
  const [from, to] = [measured[0].f, measured[measured.length - 1].f];
  const asked = new Set(more.map((t) => t.f));
  const kept = known.filter((t) => (t.f < from || t.f > to) && !asked.has(t.f));
  return [...kept, ...more].sort((a, b) => a.f - b.f);
}
