import type { ColourTable } from "./cube";

/** Makes R′G′B′ values of 0 … 1 into those of a look, in place. */
export type Look = (rgb: Float32Array) => void;

/** What a table makes of a colour: between its entries linearly; in a cube within the tetrahedron it lies in (Sakamoto & Itooka 1981). */
export function lookOf(table: ColourTable): Look {
  return table.dimensions === 1 ? byCurves(table) : byCube(table);
}

/** Where a value lies along a side: the entry before it, and how far beyond. */
function placeOn({ size, min, max }: ColourTable, c: number, v: number, out: Float32Array): number {
  const u = Math.min(size - 1, Math.max(0, ((v - min[c]) / (max[c] - min[c])) * (size - 1)));
  const i = Math.min(size - 2, Math.floor(u));
  out[c] = u - i;
  return i;
}

function byCurves(table: ColourTable): Look {
  const { values } = table;
  const t = new Float32Array(3);
  return (rgb) => {
    for (let c = 0; c < 3; c++) {
      const at = 3 * placeOn(table, c, rgb[c], t) + c;
      rgb[c] = values[at] + t[c] * (values[at + 3] - values[at]);
    }
  };
}

function byCube(table: ColourTable): Look {
  const { values, size } = table;
  const t = new Float32Array(3);
  /** Steps to the next entry by red, green and blue. */
  const steps = [3, 3 * size, 3 * size * size];
  const order = [0, 1, 2];
  return (rgb) => {
    let at = 0;
    for (let c = 0; c < 3; c++) at += steps[c] * placeOn(table, c, rgb[c], t);
    // from corner to corner along the axes, that of the largest share first
    order[0] = t[0] >= t[1] ? (t[0] >= t[2] ? 0 : 2) : t[1] >= t[2] ? 1 : 2;
    order[2] = t[0] < t[1] ? (t[0] < t[2] ? 0 : 2) : t[1] < t[2] ? 1 : 2;
    order[1] = 3 - order[0] - order[2];
    let [r, g, b] = [values[at], values[at + 1], values[at + 2]];
    for (let k = 0; k < 3; k++) {
      const share = t[order[k]];
      const next = at + steps[order[k]];
      r += share * (values[next] - values[at]);
      g += share * (values[next + 1] - values[at + 1]);
      b += share * (values[next + 2] - values[at + 2]);
      at = next;
    }
    rgb[0] = r;
    rgb[1] = g;
    rgb[2] = b;
  };
}

/** A picture of 8 bits, RGBA, in a look: mixed with it by `strength` 0 … 1, in place; α stays. */
export function layLook(data: Uint8ClampedArray, look: Look, strength: number): void {
  const rgb = new Float32Array(3);
  for (let i = 0; i < data.length; i += 4) {
    rgb[0] = data[i] / 255;
    rgb[1] = data[i + 1] / 255;
    rgb[2] = data[i + 2] / 255;
    look(rgb);
    for (let c = 0; c < 3; c++) data[i + c] += strength * (255 * rgb[c] - data[i + c]);
  }
}
