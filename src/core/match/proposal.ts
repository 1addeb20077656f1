import { isFrozen } from "../compose/matched";
import type { LightMatch } from "../document/match";
import type { PatchLayer } from "../document/layer";
import { type LightCurve, tintOf, UNEVEN_HOLDS } from "../survey/daylight";

/** A change of light below this share of a middle grey is not followed: a held picture keeps matching. */
const HOLDS = 0.01;

/** A tint that moves by fewer codes of 8 bits is not followed. */
const TINT_HOLDS = 0.6;

/** How a patch should be matched, each with its reason in one line; null where it need not be. */
export interface MatchProposal {
  light: { by: LightMatch["by"]; why: string } | null;
  grain: { why: string } | null;
}

const percent = (v: number) => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;

/**
 * How a new patch is matched by itself: the footage's grain over a picture that stands still, and the light where the survey says that
 * it moves: one gain for what moves alike everywhere, along the rim for what may differ over the picture.
 * @param shotTake the shot's own take, by its name in the recipe @param light what the survey says of the shot's take; null: not measured yet
 */
export function proposeMatch(layer: Pick<PatchLayer, "source">, shotTake: string, light: LightCurve | null): MatchProposal {
  const { source } = layer;
  const frozen = isFrozen(layer);
  const other = source.take !== undefined && source.take !== shotTake && source.plate === undefined;
  const own = !frozen && !other && (source.slip === undefined || source.slip === 0);
  const grain = frozen ? { why: "its picture stands still, and so would its grain" } : null;
  if (own) return { light: null, grain };
  if (other) return { light: { by: "rim", why: "its picture is of another take" }, grain };
  if (!light) return { light: null, grain };
  if (light.drift < HOLDS && light.flicker < HOLDS) {
    if ((light.uneven ?? 0) >= UNEVEN_HOLDS)
      return { light: { by: "rim", why: `the light moves in parts of the picture by ${percent(light.uneven!)}` }, grain };
    const tint = tintOf(light);
    return { light: tint < TINT_HOLDS ? null : { by: "rim", why: `the tint of the light moves by ${tint.toFixed(1)} codes` }, grain };
  }
  // one gain for all serves where all of the picture moves alike, and is the steadier: a shadow at the rim has no say in it
  const { drift, flicker, uneven } = light;
  if (flicker > Math.max(drift, uneven ?? 0)) return { light: { by: "whole", why: `the light flickers by ${percent(flicker)}` }, grain };
  if (uneven !== undefined && uneven < UNEVEN_HOLDS)
    return { light: { by: "whole", why: `the light drifts by ${percent(drift)}, everywhere alike` }, grain };
  return { light: { by: "rim", why: `the light drifts by ${percent(drift)}` }, grain };
}
