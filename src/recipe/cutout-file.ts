import { deflateSync, inflateSync, strFromU8, strToU8 } from "fflate";
import { z } from "zod";
import type { CutoutData, FrameAlpha } from "../core/cutout/cutout-data";
import type { Rect } from "../core/pixels/frame";
import { UserError } from "../core/user-error";

const size = z.number().int().min(0).max(100_000);
/** One frame: f, the rectangle x, y, width, height in take pixels, and the bytes its deflated α takes. */
const entry = z.tuple([z.number().int().min(0), size, size, size, size, z.number().int().min(0)]);
const head = z.object({ frames: z.array(entry) });

/**
 * A cut-out as it is kept: the length of a head (32 bits, little-endian), the head in JSON, and for each frame in turn its 8-bit α over its
 * rectangle, row by row, deflated (RFC 1951).
 */
export function packCutout(frames: readonly { f: number; rect: Rect; alpha: Uint8Array }[]): Uint8Array {
  const packed = frames.map(({ alpha }) => deflateSync(alpha));
  const list = frames.map(({ f, rect: { x0, y0, x1, y1 } }, i) => [f, x0, y0, x1 - x0, y1 - y0, packed[i].length]);
  const text = strToU8(JSON.stringify({ frames: list }));
  const out = new Uint8Array(4 + text.length + packed.reduce((s, p) => s + p.length, 0));
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  let at = 4 + text.length;
  for (const p of packed) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** What cut-outs were read from. */
const sources = new WeakMap<CutoutData, Uint8Array>();

/** A cut-out as it is kept, of one that was read before. */
export const cutoutBytes = (data: CutoutData): Uint8Array =>
  sources.get(data) ?? packCutout([...data].map(([f, { rect, alpha }]) => ({ f, rect, alpha: alpha() })));

/** @throws UserError where it is no cut-out */
export function readCutout(bytes: Uint8Array): CutoutData {
  try {
    const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
    const { frames } = head.parse(JSON.parse(strFromU8(bytes.subarray(4, 4 + length))));
    let at = 4 + length;
    const out = new Map<number, FrameAlpha>();
    for (const [f, x, y, w, h, n] of frames) {
      const packed = bytes.subarray(at, (at += n));
      if (packed.length < n) throw new RangeError("it ends too early");
      let alpha: Uint8Array | null = null;
      const unpack = () => {
        const data = inflateSync(packed);
        if (data.length !== w * h) throw new UserError("refused", DAMAGED);
        return data;
      };
      out.set(f, { rect: { x0: x, y0: y, x1: x + w, y1: y + h }, alpha: () => (alpha ??= unpack()) });
    }
    sources.set(out, bytes);
    return out;
  } catch (e) {
    throw e instanceof UserError ? e : new UserError("refused", DAMAGED);
  }
}

const DAMAGED = "The cut-out is damaged: cut the thing out again.";
