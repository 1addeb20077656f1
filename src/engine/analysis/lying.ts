import { grayOf } from "../../core/motion/gray";
import { type Alignment, referenceOf, register } from "../../core/motion/register";
import { STILL, stillnessOf } from "../../core/survey/stillness";
import type { Frame } from "../../core/pixels/frame";

/** The share of frames that may lie nowhere that is found. */
const LOST = 0.1;

/** How frames lie against one of them. */
export interface Lying {
  /** In the order they were asked for; null where the camera stands still. */
  aligned: Alignment[] | null;
  /** Whether so many were not found that the others say little. */
  lost: boolean;
}

/**
 * How frames of a take lie against frame `at`, as a whole: shift, turn and scale.
 * @param load a frame of the take @param did how many were looked at
 */
export async function lying(list: readonly number[], at: number, load: (n: number) => Promise<Frame>, did: (n: number) => void): Promise<Lying> {
  const first = await load(at);
  const reference = referenceOf(grayOf(first.planes[0], first.format.bits));
  const found: (Alignment | null)[] = [];
  const liesAt = async (n: number, guess?: Alignment) => {
    const f = await load(n);
    return register(reference, grayOf(f.planes[0], f.format.bits), guess);
  };
  let guess: Alignment | undefined;
  for (const n of list) {
    const a = await liesAt(n, guess);
    guess = a ?? guess;
    found.push(a);
    did(found.length);
  }
  // what was not found from the frame before may be found from the one after
  for (let k = list.length - 2; k >= 0; k--) if (!found[k] && found[k + 1]) found[k] = await liesAt(list[k], found[k + 1]!);
  const lost = found.filter((a) => !a).length > LOST * found.length;
  const judged = stillnessOf(found, first.width, first.height);
  if (judged.maxShift < STILL && judged.verdict === "locked") return { aligned: null, lost };
  return { aligned: judged.perFrame.map(([dx, dy, angle, scale]) => ({ dx, dy, angle, scale, agree: 1 })), lost };
}
