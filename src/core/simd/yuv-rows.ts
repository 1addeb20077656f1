import { YUV_ROWS } from "./yuv-rows-code";

/** What converts a row: gains in fixed point as in `pixels/toRgb`. */
export interface RowGains {
  /** Four times the neutral code of chroma. */
  black: number;
  /** What chroma about neutral, times 16, adds: Cr to red, Cr and Cb to green, Cb to blue. */
  chroma: readonly [rCr: number, gCr: number, gCb: number, bCb: number];
  /** A luma code counts `gain` times, and `add` with it. */
  luma: readonly [gain: number, add: number];
  /** Quarters of the column before, of itself and of the one behind: for the first pixel of a column, and for the second. */
  across: readonly [before: number, own: number, ownNext: number, behind: number];
}

type Row = (...args: number[]) => void;

/** Bytes behind each room that vectors may touch. */
const SPARE = 64;
/** Rows that are taken over at once. */
export const BAND = 16;

/** 8-bit Y′CbCr with chroma columns two pixels wide to packed RGBA by WebAssembly SIMD, some rows at a time. */
export class YuvRows {
  private static kept: YuvRows | null = null;
  private readonly bytes: Uint8Array;
  private readonly row: Row;
  private readonly at: { y: number; u: number; v: number; sums: number; out: number };

  private constructor(
    module: WebAssembly.Module,
    private readonly width: number,
    private readonly columns: number,
  ) {
    let end = 1024;
    const room = (size: number) => ((end += size + SPARE), end - size - SPARE);
    this.at = {
      y: room(BAND * width),
      u: room((BAND + 2) * columns),
      v: room((BAND + 2) * columns),
      sums: room(12 * (columns + 8)),
      out: room(BAND * 8 * columns),
    };
    const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65536) });
    this.bytes = new Uint8Array(memory.buffer);
    this.row = new WebAssembly.Instance(module, { env: { memory } }).exports.row as Row;
  }

  /**
   * @param width of the pictures in luma samples @param columns of their chroma
   * @returns null where WebAssembly with SIMD is not to be had: the same is then done sample by sample
   */
  static open(width: number, columns: number): YuvRows | null {
    const { kept } = YuvRows;
    if (kept?.width === width && kept.columns === columns) return kept;
    const program = module();
    return program && (YuvRows.kept = new YuvRows(program, width, columns));
  }

  /**
   * Converts rows `y0` … `y1` − 1 of a picture, at most `BAND`.
   * @param planes its luma, Cb and Cr @param rowAt between which rows of chroma a row lies, and how many quarters of the second count
   * @returns the rows, `2 · columns` pixels of four bytes each; they hold until the next call
   */
  convert(
    planes: readonly [Uint8Array, Uint8Array, Uint8Array],
    y0: number,
    y1: number,
    rowAt: (y: number) => { above: number; below: number; share: number },
    { black, chroma: [rCr, gCr, gCb, bCb], luma: [gain, add], across: [before, own, ownNext, behind] }: RowGains,
  ): Uint8Array {
    const { at, bytes, width, columns, row } = this;
    const [c0, c1] = [rowAt(y0).above, rowAt(y1 - 1).below];
    bytes.set(planes[0].subarray(y0 * width, y1 * width), at.y);
    bytes.set(planes[1].subarray(c0 * columns, (c1 + 1) * columns), at.u);
    bytes.set(planes[2].subarray(c0 * columns, (c1 + 1) * columns), at.v);
    for (let y = y0; y < y1; y++) {
      const { above, below, share } = rowAt(y);
      const [a, b] = [(above - c0) * columns, (below - c0) * columns];
      const [from, to] = [at.y + (y - y0) * width, at.out + (y - y0) * 8 * columns];
      // what a row's last vector writes too much, the next row writes over
      row(from, at.u + a, at.u + b, at.v + a, at.v + b, share, columns, black, at.sums, to, rCr, gCr, gCb, bCb, gain, add, before, own, ownNext, behind); // prettier-ignore
    }
    return bytes.subarray(at.out, at.out + (y1 - y0) * 8 * columns);
  }
}

let made: WebAssembly.Module | null | undefined;
function module(): WebAssembly.Module | null {
  if (made !== undefined) return made;
  try {
    made = new WebAssembly.Module(Uint8Array.from(atob(YUV_ROWS), (c) => c.charCodeAt(0)));
  } catch {
    made = null;
  }
  return made;
}
