import { boxMean } from "../match/box-mean";

/** Harder ways to look at a picture: what is faint is seen. */
export type Harder = "contrast" | "colour" | "detail";

/** How many times contrast about the mean, colour and detail are amplified. */
const TIMES = { contrast: 4, colour: 5, detail: 8 } as const;
/** Pixels on either side whose mean is taken off for detail. */
const REACH = 4;
/** The same for contrast: a share of the picture's width, and the fewest. */
const WIDE = { share: 0.1, least: 24 };

const luma = (data: Uint8ClampedArray, i: number) => 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2];

/**
 * A picture of 8 bits, RGBA, looked at harder, in place; α stays. `contrast`: R′G′B′ about the mean luma of
 * wide surroundings, so that what is faint is seen in dark and in bright places. `colour`: what
 * differs from luma (BT.709-6). `detail`: what differs from the mean of the pixels around, about grey.
 */
export function lookHarder(data: Uint8ClampedArray, width: number, how: Harder): void {
  if (how === "contrast") strongContrast(data, width);
  else if (how === "colour") strongColour(data);
  else fineDetail(data, width);
}

function strongContrast(data: Uint8ClampedArray, width: number): void {
  const height = data.length / 4 / width;
  const plane = Float64Array.from({ length: width * height }, (_, i) => luma(data, 4 * i));
  const mean = boxMean(plane, width, height, Math.max(WIDE.least, Math.round(WIDE.share * width)));
  for (let i = 0; i < plane.length; i++) for (let c = 4 * i; c < 4 * i + 3; c++) data[c] = 128 + TIMES.contrast * (data[c] - mean[i]);
}

function strongColour(data: Uint8ClampedArray): void {
  for (let i = 0; i < data.length; i += 4) {
    const y = luma(data, i);
    for (let c = i; c < i + 3; c++) data[c] = y + TIMES.colour * (data[c] - y);
  }
}

function fineDetail(data: Uint8ClampedArray, width: number): void {
  const height = data.length / 4 / width;
  const plane = new Float64Array(width * height);
  for (let c = 0; c < 3; c++) {
    for (let i = 0; i < plane.length; i++) plane[i] = data[4 * i + c];
    const mean = boxMean(plane, width, height, REACH);
    for (let i = 0; i < plane.length; i++) data[4 * i + c] = 128 + TIMES.detail * (plane[i] - mean[i]);
  }
}
