import type { PatchLayer } from "../../../core/document/layer";

/** Frames by which the scene is known: without the patch, and with it, where it moves; and those by which the camera and the bars are. */
const SAMPLES = { bare: 24, laid: 10, whole: 16 };

type Stretch = { in: number; out: number };

/** Some of a list, spread over it. */
const some = (list: readonly number[], most: number) => {
  const count = Math.min(most, list.length);
  return Array.from({ length: count }, (_, k) => list[Math.floor(((k + 0.5) * list.length) / count)]);
};

const framesIn = (s: Stretch) => Array.from({ length: s.out - s.in + 1 }, (_, k) => s.in + k);

/** Frames by which it is told what holds for a whole scene. */
export const sceneSamples = (scene: Stretch): number[] => some(framesIn(scene), SAMPLES.whole);

/** Frames that show what a patch hides as it is without: as many as there are before and after it, spread, and some in which it is laid. */
export function samplesFor(l: PatchLayer, scene: Stretch): number[] {
  const isLaid = (n: number) => n >= l.in && n <= l.out;
  const frames = framesIn(scene);
  const known = some(
    frames.filter((n) => !isLaid(n)),
    SAMPLES.bare,
  );
  // a patch that is laid in all frames is known by those alone
  return [...known, ...some(frames.filter(isLaid), SAMPLES.laid + (SAMPLES.bare - known.length))].sort((a, b) => a - b);
}
