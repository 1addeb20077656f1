/** How the samples of a picture are laid out. Planes are Y, Cb, Cr for `yuv`, G, B, R for `rgb` (the order of ffmpeg's planar RGB), Y for `gray`. */
export interface PixelFormat {
  model: "yuv" | "rgb" | "gray";
  /** Bits a sample, 8–16. */
  bits: number;
  /** log2 of the horizontal and vertical subsampling of the chroma planes: 4:2:0 is 1, 1. */
  subX: 0 | 1;
  subY: 0 | 1;
  /** Whether a straight alpha plane, at full size, follows the colour planes. */
  alpha: boolean;
}

export type Samples = Uint8Array | Uint16Array;

/** One plane of samples, rows without padding. */
export interface Plane {
  width: number;
  height: number;
  data: Samples;
}

/** A planar picture of `width` × `height` pixels. */
export interface Frame {
  width: number;
  height: number;
  format: PixelFormat;
  planes: Plane[];
}

/** A rectangle of whole pixels; `x1`, `y1` lie just outside it. */
export interface Rect {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export const maxCode = (format: PixelFormat) => (1 << format.bits) - 1;

export const colourPlanes = (format: PixelFormat) => (format.model === "gray" ? 1 : 3);

/** Whether plane `p` is a subsampled chroma plane. */
export const isChroma = (format: PixelFormat, p: number) => format.model === "yuv" && (p === 1 || p === 2);

/** Subsampling (log2) of plane `p`, horizontally and vertically. */
export function planeShift(format: PixelFormat, p: number): { sx: number; sy: number } {
  return isChroma(format, p) ? { sx: format.subX, sy: format.subY } : { sx: 0, sy: 0 };
}

/** Sizes of all planes; chroma size is ceil(size / 2) per subsampled axis. */
export function planeSizes(width: number, height: number, format: PixelFormat): { width: number; height: number }[] {
  const count = colourPlanes(format) + (format.alpha ? 1 : 0);
  return Array.from({ length: count }, (_, p) => {
    const { sx, sy } = planeShift(format, p);
    return { width: (width + sx) >> sx, height: (height + sy) >> sy };
  });
}

/** Bytes of one frame, all planes one after another. */
export function frameBytes(width: number, height: number, format: PixelFormat): number {
  const samples = planeSizes(width, height, format).reduce((n, s) => n + s.width * s.height, 0);
  return samples * (format.bits > 8 ? 2 : 1);
}

/** Views `bytes` (planes in order, little-endian above 8 bit) as a frame, without copying when aligned. */
export function frameFromBytes(bytes: Uint8Array, width: number, height: number, format: PixelFormat): Frame {
  const need = frameBytes(width, height, format);
  if (bytes.length < need) throw new Error(`a frame of ${width}×${height} needs ${need} bytes, ${bytes.length} were given`);
  const wide = format.bits > 8;
  const aligned = !wide || bytes.byteOffset % 2 === 0 ? bytes : bytes.slice();
  let at = 0;
  const planes = planeSizes(width, height, format).map((s) => {
    const count = s.width * s.height;
    const data = wide
      ? new Uint16Array(aligned.buffer, aligned.byteOffset + at, count)
      : new Uint8Array(aligned.buffer, aligned.byteOffset + at, count);
    at += count * (wide ? 2 : 1);
    return { ...s, data };
  });
  return { width, height, format, planes };
}

/** A new frame, all samples 0, in one buffer. */
export function createFrame(width: number, height: number, format: PixelFormat): Frame {
  return frameFromBytes(new Uint8Array(frameBytes(width, height, format)), width, height, format);
}

/** A copy whose samples may be changed. */
export function copyFrame(frame: Frame): Frame {
  const out = createFrame(frame.width, frame.height, frame.format);
  frame.planes.forEach((p, i) => out.planes[i].data.set(p.data));
  return out;
}

/** Copies the samples of a rectangle from one frame to another of its size and format. */
export function copyBack(from: Frame, to: Frame, r: Rect): void {
  to.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(to.format, p);
    const src = from.planes[p];
    const [x0, x1] = [r.x0 >> sx, (r.x1 + sx) >> sx];
    for (let y = r.y0 >> sy; y < Math.min(plane.height, (r.y1 + sy) >> sy); y++)
      plane.data.set(src.data.subarray(y * plane.width + x0, y * plane.width + Math.min(x1, plane.width)), y * plane.width + x0);
  });
}

/** The bytes of a frame, planes in order; the frame's own buffer where it lies in one piece. */
export function bytesOf(frame: Frame): Uint8Array {
  const first = frame.planes[0].data;
  const need = frameBytes(frame.width, frame.height, frame.format);
  let at = first.byteOffset;
  const whole = frame.planes.every((p) => {
    const ok = p.data.buffer === first.buffer && p.data.byteOffset === at;
    at += p.data.byteLength;
    return ok;
  });
  if (whole) return new Uint8Array(first.buffer, first.byteOffset, need);
  const out = new Uint8Array(need);
  let o = 0;
  for (const p of frame.planes) {
    out.set(new Uint8Array(p.data.buffer, p.data.byteOffset, p.data.byteLength), o);
    o += p.data.byteLength;
  }
  return out;
}

export const sameFormat = (a: PixelFormat, b: PixelFormat) => a.model === b.model && a.bits === b.bits && a.subX === b.subX && a.subY === b.subY;

export function intersect(a: Rect, b: Rect): Rect {
  const x0 = Math.max(a.x0, b.x0);
  const y0 = Math.max(a.y0, b.y0);
  return { x0, y0, x1: Math.max(x0, Math.min(a.x1, b.x1)), y1: Math.max(y0, Math.min(a.y1, b.y1)) };
}

export function union(a: Rect, b: Rect): Rect {
  if (isEmpty(a)) return b;
  if (isEmpty(b)) return a;
  return { x0: Math.min(a.x0, b.x0), y0: Math.min(a.y0, b.y0), x1: Math.max(a.x1, b.x1), y1: Math.max(a.y1, b.y1) };
}

export const wholeOf = (f: { width: number; height: number }): Rect => ({ x0: 0, y0: 0, x1: f.width, y1: f.height });

/** The smallest rectangle that holds all places of a grid with this value; empty where there is none. */
export function boxOf(values: Uint8Array, width: number, height: number, value: number): Rect {
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (values[i] !== value) continue;
      if (x < x0) x0 = x;
      if (x >= x1) x1 = x + 1;
      if (y < y0) y0 = y;
      y1 = y + 1;
    }
  return { x0, y0, x1, y1 };
}

export const isEmpty = (r: Rect) => r.x1 <= r.x0 || r.y1 <= r.y0;
