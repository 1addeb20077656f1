import { createHash } from "node:crypto";
import { readCube } from "../../core/look/cube";
import { GAINS_METHOD, gainsOf, gainsText } from "../../core/evenlight/gains";
import { anywhere, GRAIN_METHOD, grainText, readGrain } from "../../core/match/grain";
import { canonical } from "../../core/plate/keys";
import type { Parts } from "../compose";
import { NotYet } from "../db/documents";
import { madeOf } from "../library/measured";
import { MediaError } from "../media/media-error";
import type { Answers } from "./answer";
import { wholeTake } from "./whole-shot";

/** What is measured so that a patch matches what surrounds it. */
export const matchAnswers = ({
  runner,
  tasks,
  measured,
  surveys,
  ...parts
}: Parts): Pick<Answers, "grain" | "grainAnywhere" | "light" | "addLook"> => ({
  async grain({ params: { id }, body: { take: key, box: sides, task, ...range } }) {
    const take = await wholeTake(parts, id, key);
    const { frames, width, height } = take.index.info;
    const stretch = { in: Math.min(range.in, frames - 1), out: Math.min(range.out, frames - 1) };
    if (stretch.out <= stretch.in) throw new MediaError("Grain is measured between frames: the stretch needs two of them.");
    const box = sides && { x0: Math.max(0, Math.floor(sides[0])), y0: Math.max(0, Math.floor(sides[1])), x1: Math.min(width, Math.ceil(sides[2])), y1: Math.min(height, Math.ceil(sides[3])) }; // prettier-ignore
    if (box && (box.x1 - box.x0 < 16 || box.y1 - box.y0 < 16))
      throw new MediaError("The area is too small to measure grain in: draw it at least 16 pixels wide and high.");
    const of = madeOf(take, stretch, box ?? null);
    const head = { kind: "profile", method: GRAIN_METHOD, of } as const;
    const known = await measured.known(head);
    if (known) return { data: known };
    const stats = await tasks.run(task, (watch) => runner.run("grain", { take: take.id, ...stretch, ...(box ? { box } : {}) }, watch));
    if (!stats)
      throw new MediaError(
        box
          ? "There is no grain in this area: it does not change from frame to frame. Draw it where the picture is flat and neither black nor white."
          : "Too little of the picture stands still to measure its grain: draw an area where it is flat.",
      );
    return { data: await measured.put(head, new TextEncoder().encode(grainText(stats))) };
  },
  async light({ params: { id }, body: { take: key } }) {
    const take = await wholeTake(parts, id, key);
    const survey = await surveys.get(take.id);
    if (!survey) throw new NotYet("The light of the take is being measured: ask again when that is done.");
    const gains = gainsOf(survey);
    return { data: await measured.put({ kind: "gains", method: GAINS_METHOD, of: madeOf(take) }, new TextEncoder().encode(gainsText(gains))) };
  },
  async addLook({ body: { text } }) {
    const { title } = readCube(text);
    const of = createHash("sha256").update(text).digest("hex");
    return { data: await measured.put({ kind: "look", method: 1, of }, new TextEncoder().encode(text)), title };
  },
  async grainAnywhere({ params: { hash } }) {
    const { head, data } = await measured.get(hash);
    if (head.kind !== "profile") throw new MediaError("This is no grain: measure the grain of some footage first.");
    // found by itself only, never instead of what it was made of
    const of = createHash("sha256")
      .update(canonical([hash, "anywhere"]))
      .digest("hex");
    return { data: await measured.put({ ...head, of }, new TextEncoder().encode(grainText(anywhere(readGrain(new TextDecoder().decode(data)))))) };
  },
});
