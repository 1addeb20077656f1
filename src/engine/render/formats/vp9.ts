import { ff } from "../../media/arguments";
import { type FilmFormat, yuvLayout } from "./format";

/** libvpx counts how much it may hurry where others have presets. */
const hurry = (preset: string) => (preset === "medium" ? 3 : /slow/.test(preset) ? 1 : 5);

export const vp9: FilmFormat = {
  encoder: ({ preset, crf }) => ff`-c:v libvpx-vp9 -crf ${crf} -b:v 0 -row-mt 1 -deadline good -cpu-used ${hurry(preset)}`,
  nearest: (info) => yuvLayout("vp9", info),
  carried: (info) => info.planar,
};
