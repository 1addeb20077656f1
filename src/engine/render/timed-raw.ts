import type { PixelFormat } from "../../core/pixels/frame";

/**
 * A stream of uncompressed pictures that carries a time for each of them: Matroska (RFC 9559) with V_UNCOMPRESSED,
 * one cluster a picture, nanoseconds. Raw video through a pipe has no times, and ffmpeg reads this.
 */
const vint = (n: number): number[] => {
  // a size of 8 bytes: marker 01, then 56 bits
  const out = [1];
  for (let i = 6; i >= 0; i--) out.push(Math.floor(n / 2 ** (8 * i)) % 256);
  return out;
};
const hex = (id: string) => [...Buffer.from(id, "hex")];
const element = (id: string, body: number[]) => [...hex(id), ...vint(body.length), ...body];
const uint = (id: string, n: number) => {
  const body: number[] = [];
  for (let v = n; v > 0 || body.length === 0; v = Math.floor(v / 256)) body.unshift(v % 256);
  return element(id, body);
};
const text = (id: string, s: string) => element(id, [...Buffer.from(s, "latin1")]);

/** ffmpeg's name for a raw layout in four bytes (its list of raw tags, from memory; checked by the tests of frames). */
function layoutTag(f: PixelFormat): number[] {
  const colour = f.model === "gray" ? 1 : 3;
  const planes = colour + (f.alpha ? 1 : 0);
  const letter = f.model === "rgb" ? "G" : "Y";
  const sub = f.model === "yuv" ? (f.subX ? (f.subY ? 11 : 10) : 0) : 0;
  if (f.bits === 8 && !f.alpha && f.model === "yuv") return [...Buffer.from(sub === 11 ? "I420" : sub === 10 ? "Y42B" : "444P", "latin1")];
  if (f.bits === 8 && f.model === "gray") return [...Buffer.from("Y800", "latin1")];
  return [letter.charCodeAt(0), "0".charCodeAt(0) + planes, sub, f.bits];
}

/** What comes before the first picture. */
export function timedHeader(width: number, height: number, format: PixelFormat): Uint8Array {
  const head = element("1a45dfa3", [
    ...uint("4286", 1),
    ...uint("42f7", 1),
    ...uint("42f2", 4),
    ...uint("42f3", 8),
    ...text("4282", "matroska"),
    ...uint("4287", 4),
    ...uint("4285", 2),
  ]);
  const info = element("1549a966", uint("2ad7b1", 1));
  const video = element("e0", [...uint("b0", width), ...uint("ba", height), ...element("2eb524", layoutTag(format))]);
  const tracks = element(
    "1654ae6b",
    element("ae", [...uint("d7", 1), ...uint("73c5", 1), ...uint("83", 1), ...text("86", "V_UNCOMPRESSED"), ...video]),
  );
  return Uint8Array.from([...head, ...hex("18538067"), 1, 255, 255, 255, 255, 255, 255, 255, ...info, ...tracks]);
}

/** What comes before each picture of `bytes` bytes, shown at `seconds`. */
export function timedPrefix(seconds: number, bytes: number): Uint8Array {
  const time = uint("e7", Math.round(seconds * 1e9));
  const block = [...hex("a3"), ...vint(bytes + 4), 0x81, 0, 0, 0x80];
  return Uint8Array.from([...hex("1f43b675"), ...vint(time.length + block.length + bytes), ...time, ...block]);
}
