import type { CutoutData } from "../../core/cutout/cutout-data";
import { readCutout } from "../../recipe/cutout-file";
import { type Gains, readGains } from "../../core/evenlight/gains";
import { readTrack, type TrackData } from "../../core/follow/track-data";
import { type GrainStatistics, readGrain } from "../../core/match/grain";
import { measuredUrl } from "../api";

async function answered(hash: string, unread: string): Promise<Response> {
  const x = await fetch(measuredUrl(hash), { cache: "no-store" });
  if (!x.ok) throw new Error(((await x.json().catch(() => ({}))) as { error?: string }).error ?? unread);
  return x;
}

const textOf = async (hash: string, unread: string) => (await answered(hash, unread)).text();

/** What was measured of a track. @throws where it is not there (any more) */
export const loadTrack = async (hash: string): Promise<TrackData> => readTrack(await textOf(hash, "The track could not be read."));

/** What was measured of grain. @throws where it is not there (any more) */
export const loadGrain = async (hash: string): Promise<GrainStatistics> => readGrain(await textOf(hash, "The grain could not be read."));

/** What was measured of light. @throws where it is not there (any more) */
export const loadGains = async (hash: string): Promise<Gains> => readGains(await textOf(hash, "What was measured of the light could not be read."));

/** The text of a table of colours. @throws where it is not there (any more) */
export const loadLook = (hash: string): Promise<string> => textOf(hash, "The table of colours could not be read.");

/** What was cut out. @throws where it is not there (any more) */
export const loadCutout = async (hash: string): Promise<CutoutData> =>
  readCutout(new Uint8Array(await (await answered(hash, "The cut-out could not be read.")).arrayBuffer()));
