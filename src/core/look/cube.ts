import { UserError } from "../user-error";

/** A table of colours: R′G′B′ in, R′G′B′ out, as a `.cube` text says it ("Cube LUT Specification 1.0", 2013; from memory). */
export interface ColourTable {
  /** What the text calls it; empty where it does not. */
  title: string;
  /** 1: each of red, green and blue by a curve of its own; 3: each colour by a place in a cube. */
  dimensions: 1 | 3;
  /** Values along one side. */
  size: number;
  /** What the first and the last value of a side stand for, by red, green and blue. */
  min: [number, number, number];
  max: [number, number, number];
  /** Red, green, blue of each entry, red running fastest. */
  values: Float32Array;
}

/** Most values along a side. */
export const MOST = { 1: 65_536, 3: 65 } as const;

const KEYWORDS = /^(TITLE|DOMAIN_MIN|DOMAIN_MAX|LUT_1D_SIZE|LUT_3D_SIZE|LUT_1D_INPUT_RANGE|LUT_3D_INPUT_RANGE)\b\s*(.*)$/;

const refuse = (why: string): UserError => new UserError("refused", `The table of colours cannot be read: ${why}.`);

/** Numbers in words of a line. @throws UserError where they are none, or not so many */
function numbers(words: string, count: number, line: number): number[] {
  const found = words.split(/\s+/).map(Number);
  if (found.length !== count || !found.every(Number.isFinite)) {
    const wanted = count === 1 ? "one number" : `${count} numbers`;
    throw refuse(`in line ${line} ${wanted} should stand where “${words.slice(0, 40)}” does`);
  }
  return found;
}

/**
 * Reads a `.cube` text: one or three dimensions, a domain, a title, comments.
 * @throws UserError in one sentence that names the line
 */
export function readCube(text: string): ColourTable {
  let title = "";
  let dimensions: 1 | 3 | null = null;
  let size = 0;
  let [min, max]: [number, number, number][] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  let values: Float32Array | null = null;
  let filled = 0;
  const lines = text.replace(/^\uFEFF/, "").split(/\r\n|\n|\r/);
  for (const [i, raw] of lines.entries()) {
    const line = raw.trim();
    if (!line || line.startsWith("#")) continue;
    const [, word, rest] = KEYWORDS.exec(line) ?? [];
    if (word === "TITLE") title = rest.replace(/^"(.*)"$/, "$1");
    else if (word === "DOMAIN_MIN") min = numbers(rest, 3, i + 1) as typeof min;
    else if (word === "DOMAIN_MAX") max = numbers(rest, 3, i + 1) as typeof max;
    else if (word?.endsWith("INPUT_RANGE")) {
      const [lo, hi] = numbers(rest, 2, i + 1);
      [min, max] = [[lo, lo, lo], [hi, hi, hi]]; // prettier-ignore
    } else if (word) {
      if (dimensions) throw refuse(`line ${i + 1} says its size a second time, and only one table in a file is read`);
      dimensions = word === "LUT_1D_SIZE" ? 1 : 3;
      [size] = numbers(rest, 1, i + 1);
      if (!Number.isInteger(size) || size < 2 || size > MOST[dimensions])
        throw refuse(`line ${i + 1} says a side of ${rest}, and whole numbers from 2 to ${MOST[dimensions]} are allowed`);
      values = new Float32Array(3 * size ** dimensions);
    } else {
      if (!values) throw refuse(`line ${i + 1} comes before its size (LUT_1D_SIZE or LUT_3D_SIZE)`);
      if (filled >= values.length) throw refuse(`line ${i + 1} is one more than the ${values.length / 3} its size says`);
      values.set(numbers(line, 3, i + 1), filled);
      filled += 3;
    }
  }
  if (!values || !dimensions) throw refuse("no size (LUT_1D_SIZE or LUT_3D_SIZE) stands in it");
  if (filled < values.length) throw refuse(`it has ${filled / 3} of the ${values.length / 3} lines its size says`);
  if (max.some((v, k) => v <= min[k])) throw refuse("its domain ends before it begins");
  return { title, dimensions, size, min, max, values };
}
