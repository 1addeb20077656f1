import { UNEVEN_HOLDS } from "./daylight";
import type { FirstSurvey, Piece, Survey } from "./survey";

const frames = (list: number[]) => (list.length > 6 ? `${list.slice(0, 6).join(", ")} and ${list.length - 6} more` : list.join(", "));
const px = (v: number) => (v < 1 ? v.toFixed(2) : v.toFixed(1));
/** What the camera does in one piece between cuts. */
const pieceWords = (p: Piece) =>
  `frames ${p.from}–${p.to} ${{ locked: "stand still", settles: "come to rest", drifts: `drift by ${px(p.maxShift)} px`, moves: `move by ${px(p.maxShift)} px and more` }[p.verdict]}`;
const percent = (v: number) => `${(100 * v).toFixed(1)} %`;

/** What is said of cuts. */
export const cutWords = (s: FirstSurvey): string =>
  s.cuts.length
    ? `${s.cuts.length === 1 ? "A cut" : `${s.cuts.length} cuts`} at frame ${frames(s.cuts)}: split the take there and mend each shot with its own plate.`
    : "No cut: this is one shot, and one plate can serve all of it.";

/** Light that moves by less is not spoken of. */
export const LIGHT_HOLDS = 0.01;

/** What is said of the light. */
export function lightWords({ light: { drift, flicker, uneven = 0 } }: FirstSurvey): string {
  const parts = uneven >= UNEVEN_HOLDS ? `in parts of the picture by ${percent(uneven)}` : "";
  if (drift < LIGHT_HOLDS && flicker < LIGHT_HOLDS)
    return parts ? `The light moves ${parts}: match it along the rim.` : "The light holds: a held plate keeps matching.";
  const more = parts ? `, ${parts}` : "";
  return flicker >= drift / 2 && flicker >= LIGHT_HOLDS
    ? `The light flickers by ${percent(flicker)}${drift >= LIGHT_HOLDS ? ` and drifts by ${percent(drift)}` : ""}${more}: a held plate would stand out; take the clean picture from close by, or match the light.`
    : `The light drifts by ${percent(drift)}${more}: take the clean picture from close by, or match the light.`;
}

/** What a survey says, one sentence a subject, each with what it means for the method to choose. */
export function sentences(s: Survey): { cuts: string; stillness: string; light: string; grain: string; frames: string; bars: string } {
  const { stillness: st, grain, bars } = s;
  const corners = Math.max(...st.perFrame.map(([, , a]) => Math.abs(a)));
  const turn = corners > 0.005 ? ` and turns by ${corners.toFixed(2)}°` : "";
  return {
    cuts: cutWords(s),
    stillness: s.pieces
      ? `Piece by piece: ${s.pieces.map(pieceWords).join("; ")}.`
      : {
          locked: `The camera stands still (never off by more than ${px(st.maxShift)} px): one held plate lies right in every frame.`,
          settles: `The camera stands still from frame ${st.settledAt} on: take the plate from there; patches before it follow the camera.`,
          drifts: `The camera drifts by ${px(st.maxShift)} px${turn}: let the plate's patch follow the camera.`,
          moves: `The camera moves (${px(st.maxShift)} px and more): no one plate fits; track a region, or paint the few frames that matter.`,
        }[st.verdict],
    light: lightWords(s),
    grain:
      grain.sigma < 0.4
        ? `Hardly any grain (σ ${grain.sigma.toFixed(2)} of 255): a held plate needs none put back.`
        : `Grain of σ ${grain.sigma.toFixed(2)} of 255: a held plate has the grain of one frame and stands still; on a large screen it shows.`,
    frames:
      [
        s.duplicates.length
          ? `Frame ${frames(s.duplicates)} only repeats the one before: leave repeats as they are when you paint frame by frame.`
          : "",
        s.interlaced.yes ? "Two fields are woven into each frame: anything that moves is combed, so take plates from where nothing moves." : "",
      ]
        .filter(Boolean)
        .join(" ") || "Every frame is a whole picture of its own.",
    bars:
      bars.left + bars.top + bars.right + bars.bottom === 0
        ? "No bars: the picture reaches its edges."
        : `Bars: ${(["left", "top", "right", "bottom"] as const)
            .filter((k) => bars[k])
            .map((k) => `${k} ${bars[k]} px`)
            .join(", ")}${bars.soft ? `, soft by ${bars.soft} px` : ""}: nothing may be painted there.`,
  };
}
