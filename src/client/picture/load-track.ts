import { readTrack, type TrackData } from "../../core/follow/track-data";
import { measuredUrl } from "../api";

/** What was measured of a track. @throws where it is not there (any more) */
export async function loadTrack(hash: string): Promise<TrackData> {
  const x = await fetch(measuredUrl(hash), { cache: "no-store" });
  if (!x.ok) throw new Error(((await x.json().catch(() => ({}))) as { error?: string }).error ?? "The track could not be read.");
  return readTrack(await x.text());
}
