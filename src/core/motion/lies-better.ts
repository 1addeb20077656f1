import { boxMean } from "../match/box-mean";
import { type Gray, median, nth } from "./gray";
import type { Alignment } from "./register";
import { straightened } from "./straighten";

/** One pixel of so many is asked; and the share of them along the strongest edges: the rest lies alike wherever it lies. */
const EVERY = 3;
const EDGES = 0.1;
/** How much less it has to be off there: bringing a picture back blurs its noise, which makes some of that by itself. */
const BETTER = 0.85;

/**
 * Whether a picture lies more truly on its reference where an alignment says that it lies than where it is: along the reference's strongest
 * edges half of what they differ by is less, the light apart. What moves in the picture may look like the camera to what measures that.
 */
export function liesBetter(reference: Gray, picture: Gray, a: Alignment): boolean {
  const { width, height } = reference;
  const [at, here, there] = [reference, picture, straightened(picture, a)].map((g) => boxMean(g.data, width, height, 1));
  const list: number[] = [];
  for (let y = 2; y < height - 2; y += EVERY) for (let x = 2; x < width - 2; x += EVERY) list.push(y * width + x);
  const steps = Float64Array.from(list, (i) => Math.abs(at[i + 2] - at[i - 2]) + Math.abs(at[i + 2 * width] - at[i - 2 * width]));
  const strong = nth(steps.slice(), Math.floor((1 - EDGES) * (steps.length - 1)));
  const edges = list.filter((_, k) => steps[k] >= strong && steps[k] > 0);
  if (!edges.length) return false;
  const off = (v: Float64Array) => {
    const d = Float64Array.from(edges, (i) => v[i] - at[i]);
    const middle = median(d.slice());
    return median(d.map((x) => Math.abs(x - middle)));
  };
  return off(there) < BETTER * off(here);
}
