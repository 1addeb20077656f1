import type { PlainColour } from "../../core/document/plate";
import type { Frame } from "../../core/pixels/frame";
import { colourOf } from "../../core/plate/colour";
import { gridOf, grown } from "../../core/plate/regions";
import { MediaError } from "../media/media-error";

/** Pixels from an outline in which its surroundings' colour is looked at: from a little beyond its edge. */
const RING = { from: 4, to: 24 };

/** The plain or sloping colour around an outline. @throws MediaError where the ring round it has no pixel in the picture */
export function colourAround(frame: Frame, outline: number[][]): PlainColour {
  const inside = gridOf(outline, frame.width, frame.height, 1);
  const near = grown(inside, RING.from);
  const far = grown(inside, RING.to);
  const at = (x: number, y: number) => Math.floor(y) * frame.width + Math.floor(x);
  const found = colourOf(frame, (x, y) => far.data[at(x, y)] === 1 && near.data[at(x, y)] === 0);
  if (!found) throw new MediaError("There is no room around the outline to take a colour from: draw it smaller, or farther from the picture's edge.");
  return found;
}
