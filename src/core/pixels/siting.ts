import type { SitingName } from "./colour";

/** Per axis, whether a chroma sample is co-sited with an even luma sample or midway between two. */
export function sitedAt(siting: SitingName): { x: "cosited" | "midway"; y: "cosited" | "midway" } {
  return {
    x: siting === "center" ? "midway" : "cosited",
    y: siting === "topleft" ? "cosited" : "midway",
  };
}

/**
 * Weights with which luma-sized α is averaged over the footprint of chroma sample `c`:
 * ¼ ½ ¼ where co-sited, ½ ½ where midway; borders replicate (indices are clamped by the caller).
 */
export function footprint(at: "cosited" | "midway"): { first: number; weights: readonly number[] } {
  return at === "cosited" ? { first: -1, weights: [0.25, 0.5, 0.25] } : { first: 0, weights: [0.5, 0.5] };
}
