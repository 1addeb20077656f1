import { fromTimecode, timecodeOf, toTimecode } from "../../core/time/timecode";
import type { Preferences } from "../../wire/preferences";
import type { Take } from "../../wire/take";
import { calculate } from "../input/arithmetic";

/** How frames are counted on the screen. */
export interface Counting {
  show: (frame: number) => string;
  /** The timecode, whatever is chosen. */
  timecode: (frame: number) => string;
  /** The frame that is meant by what was typed: a number with sums, a timecode, or with a sign so many frames on; null for neither. */
  read: (text: string, from: number) => number | null;
  /** The number of the take's first frame. */
  first: number;
  by: Preferences["counting"];
}

export function countingOf({ counting, first }: Pick<Preferences, "counting" | "first">, info: NonNullable<Take["info"]>): Counting {
  const start = info.timecode ?? "00:00:00:00";
  const timecode = (n: number) => timecodeOf(start, n, info.rate) ?? toTimecode(n, info.rate);
  return {
    by: counting,
    first,
    timecode,
    show: (n) => (counting === "timecode" ? timecode(n) : String(n + first)),
    read(text, from) {
      const t = text.trim();
      if (/^\d\d?[:;.]\d\d[:;.]\d\d[:;.]\d\d$/.test(t)) {
        try {
          const zero = timecodeOf(start, 0, info.rate) === null ? "00:00:00:00" : start;
          return fromTimecode(t, info.rate) - fromTimecode(zero, info.rate);
        } catch {
          return null;
        }
      }
      const v = calculate(t);
      if (v === null) return null;
      return /^[+\-−]/.test(t) ? from + Math.round(v) : Math.round(v) - first;
    },
  };
}

/** Set about the frame numbers in an edit's name (word joiner, U+2060: not seen where the name is shown as it is). */
const MARK = "\u2060";
/** A frame in the name of an edit: kept as a number from 0, shown as frames are counted when it is read. */
export const atFrame = (n: number): string => `${MARK}${n}${MARK}`;
/** The name of an edit with its frames as they are counted now. */
export const counted = (name: string, show: Counting["show"]): string =>
  name.replace(new RegExp(`${MARK}(-?\\d+)${MARK}`, "g"), (_, n: string) => show(Number(n)));
