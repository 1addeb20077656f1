/**
 * SMPTE ST 12-1 timecode, drop-frame and non-drop-frame.
 * Rates are [numerator, denominator]; the timecode counts at the nearest whole rate (24000/1001 counts 24).
 */
export type Rate = readonly [number, number];

export const nominalRate = (rate: Rate) => Math.round(rate[0] / rate[1]);

/** Frames dropped a minute: 2 at 29.97, 4 at 59.94, none elsewhere. */
function dropped(rate: Rate): number {
  const n = nominalRate(rate);
  return n % 30 === 0 && rate[1] === 1001 ? n / 15 : 0;
}

/** Frame count since 00:00:00:00 to "hh:mm:ss:ff", or "hh:mm:ss;ff" with `drop`. Wraps at 24 hours. */
export function toTimecode(frame: number, rate: Rate, drop = false): string {
  const fps = nominalRate(rate);
  const d = drop ? dropped(rate) : 0;
  const perTen = fps * 600 - 9 * d;
  const day = d ? perTen * 144 : fps * 86400;
  let n = ((frame % day) + day) % day;
  if (d) {
    const tens = Math.floor(n / perTen);
    const rest = n % perTen;
    n += 9 * d * tens + (rest >= fps * 60 ? d * (1 + Math.floor((rest - fps * 60) / (fps * 60 - d))) : 0);
  }
  const two = (v: number) => String(v).padStart(2, "0");
  const s = Math.floor(n / fps);
  return `${two(Math.floor(s / 3600) % 24)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}${d ? ";" : ":"}${two(n % fps)}`;
}

/**
 * Timecode to frame count; `;` or `.` before the frames means drop-frame.
 * @throws RangeError for text that is no timecode, or a number that drop-frame leaves out.
 */
export function fromTimecode(text: string, rate: Rate): number {
  const m = /^(\d\d):(\d\d):(\d\d)([:;.])(\d\d)$/.exec(text.trim());
  if (!m) throw new RangeError(`“${text}” is not a timecode; hh:mm:ss:ff is expected.`);
  const fps = nominalRate(rate);
  const [h, min, s, f] = [m[1], m[2], m[3], m[5]].map(Number);
  const d = m[4] === ":" ? 0 : dropped(rate);
  if (h > 23 || min > 59 || s > 59 || f >= fps) throw new RangeError(`“${text}” is out of range at ${fps} frames a second.`);
  if (d && s === 0 && f < d && min % 10 !== 0) throw new RangeError(`“${text}” is a number that drop-frame timecode leaves out.`);
  const minutes = h * 60 + min;
  return (minutes * 60 + s) * fps + f - d * (minutes - Math.floor(minutes / 10));
}

const isDropFrame = (text: string) => /[;.]\d\d$/.test(text);

/** The timecode of frame `n` of a take that starts at `start`; null where `start` is no timecode. */
export function timecodeOf(start: string, n: number, rate: Rate): string | null {
  try {
    return toTimecode(fromTimecode(start, rate) + n, rate, isDropFrame(start));
  } catch {
    return null;
  }
}
