import { type CleanPicture, LEAST_LOOKS } from "./clean";
import { COARSE, type Sight, unlike, UNLIKE } from "./sight";

/** The mean of a normal deviation without its sign, in standard deviations. */
const MEAN_OFF = Math.sqrt(2 / Math.PI);
/** Cells of a thing that have to be seen before a share of it is told. */
const LEAST = 6;

/**
 * How much is left of what a patch hides, Σ|R − T| / Σ|F − T| over the thing: R the mended picture, F the footage, T the scene without it.
 * What noise alone makes of a sum is taken off; where nothing stands out of it, how much of F − T lies in R − T by least squares, which noise
 * does not bias, still sees a shimmer of the thing: the larger of both counts there.
 * @param cut cells beside the mask at which the thing goes on @param coarse whether chroma is coarser than luma
 * @returns 0 nothing is left – 1 all of it; null where too little of a thing is there
 */
export function leftOf(s: Sight, known: CleanPicture, cut: Uint8Array, coarse: boolean): number | null {
  const [seen, faint] = [sums(), sums()];
  let count = 0;
  for (let i = 0; i < cut.length; i++) {
    if (s.together[i] <= 0 && !cut[i]) continue;
    const scene = known.looks[i] >= LEAST_LOOKS ? s.clean : s.picture;
    if (!scene || unlike(s.live, scene, known.spread, i, coarse) <= UNLIKE) continue;
    count++;
    const into = unlike(s.mended, scene, known.spread, i, coarse) > UNLIKE ? seen : faint;
    for (let p = 0; p < scene.length; p++) {
      const says = p && coarse ? COARSE : 1;
      const noise = MEAN_OFF * known.spread[p][i];
      const [r, f] = [s.mended[p][i] - scene[p][i], s.live[p][i] - scene[p][i]];
      into.left += says * (Math.abs(r) - noise);
      into.was += says * (Math.abs(f) - noise);
      into.alike += says * r * f;
      into.whole += says * f * f;
    }
  }
  const was = seen.was + faint.was;
  if (count < LEAST || was <= 0) return null;
  const shimmer = faint.whole > 0 ? (faint.alike / faint.whole) * faint.was : 0;
  return Math.min(1, Math.max(0, (seen.left + Math.max(0, faint.left, shimmer)) / was));
}

const sums = () => ({ left: 0, was: 0, alike: 0, whole: 0 });
