import { frameFromBytes } from "../../core/pixels/frame";
import { type Survey, Surveyor } from "../../core/survey/survey";
import { decodeFrames } from "../media/decode";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";

/** Measures a whole take in one sequential decode. */
export async function surveyTake(t: TakeIndex, watch: Watch = {}): Promise<Survey> {
  const { width, height, format, frames, colour } = t.info;
  const surveyor = new Surveyor(t.cuts, colour.range === "full");
  let n = 0;
  for await (const bytes of decodeFrames(t, 0, frames - 1)) {
    surveyor.add(frameFromBytes(bytes, width, height, format));
    step(watch, ++n, frames);
  }
  return surveyor.result();
}
