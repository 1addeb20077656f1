import type { Samples } from "../../core/pixels/frame";

/** Where each plane's sample lies within a pixel of interleaved R′G′B′A: G, B, R, A. */
const RGBA = [1, 2, 0, 3];
/** The same for B′G′R′A. */
const BGRA = [1, 0, 2, 3];

const samples = (b: Uint8Array, wide: boolean): Samples => (wide ? new Uint16Array(b.buffer, b.byteOffset, b.length / 2) : b);

/** Interleaved R′G′B′A, 8 or 16 bits, as planes G, B, R, A one after another. */
export function unpackRgba(packed: Uint8Array, wide: boolean): Uint8Array {
  const from = samples(packed, wide);
  const out = new Uint8Array(packed.length);
  const to = samples(out, wide);
  const count = from.length / 4;
  RGBA.forEach((at, p) => {
    for (let i = 0; i < count; i++) to[p * count + i] = from[4 * i + at];
  });
  return out;
}

/** Planes G, B, R, A of 8 bits as interleaved B′G′R′A, which encoders take where they do not take such planes. */
export function packBgra(planes: Uint8Array): Uint8Array {
  const out = new Uint8Array(planes.length);
  const count = planes.length / 4;
  BGRA.forEach((at, p) => {
    for (let i = 0; i < count; i++) out[4 * i + at] = planes[p * count + i];
  });
  return out;
}
