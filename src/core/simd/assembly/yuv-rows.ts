/**
 * One row of Y′CbCr with chroma columns two pixels wide as packed RGBA, eight pixels at a time: what `yuvRows` of core/pixels/toRgb does
 * one by one, with the same whole numbers. AssemblyScript; built by scripts/simd.ts into ../yuv-rows-code.ts.
 */

// four bytes as four 32-bit numbers
// @ts-ignore: decorator
@inline
function four(at: usize): v128 {
  return i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at)));
}

// @ts-ignore: decorator
@inline
function times(a: v128, by: v128, b: v128, and: v128): v128 {
  return i32x4.add(i32x4.mul(a, by), i32x4.mul(b, and));
}

/**
 * @param y first of the row's luma; all rooms have 16 bytes to spare behind their last value
 * @param ua,ub,va,vb two rows of chroma; `share` quarters of the second count, of the first the rest
 * @param columns of chroma @param black four times the neutral code
 * @param sums room for three times `columns` + 8 32-bit numbers, one before the first column
 * @param out room for the pixels
 */
export function row(
  y: usize, ua: usize, ub: usize, va: usize, vb: usize, share: i32, columns: i32, black: i32, sums: usize, out: usize,
  rCr: i32, gCr: i32, gCb: i32, bCb: i32, gain: i32, add: i32, before: i32, own: i32, ownNext: i32, behind: i32,
): void { // prettier-ignore
  const stride: usize = (<usize>columns + 8) << 2;
  const r = sums;
  const g = sums + stride;
  const b = sums + 2 * stride;
  const first = i32x4.splat(4 - share);
  const second = i32x4.splat(share);
  const dark = i32x4.splat(black);
  const k0 = i32x4.splat(rCr);
  const k1 = i32x4.splat(gCr);
  const k2 = i32x4.splat(gCb);
  const k3 = i32x4.splat(bCb);
  for (let c: usize = 0; c < <usize>columns; c += 4) {
    const u = i32x4.sub(times(four(ua + c), first, four(ub + c), second), dark);
    const v = i32x4.sub(times(four(va + c), first, four(vb + c), second), dark);
    const at = (c + 1) << 2;
    v128.store(r + at, i32x4.mul(v, k0));
    v128.store(g + at, times(v, k1, u, k2));
    v128.store(b + at, i32x4.mul(u, k3));
  }
  // the first and the last column are repeated beyond the edge
  const last = <usize>columns << 2;
  store<i32>(r, load<i32>(r + 4));
  store<i32>(g, load<i32>(g + 4));
  store<i32>(b, load<i32>(b + 4));
  store<i32>(r + last + 4, load<i32>(r + last));
  store<i32>(g + last + 4, load<i32>(g + last));
  store<i32>(b + last + 4, load<i32>(b + last));

  const w0 = i32x4.splat(before);
  const w1 = i32x4.splat(own);
  const w2 = i32x4.splat(ownNext);
  const w3 = i32x4.splat(behind);
  const luma = i32x4.splat(gain);
  const base = i32x4.splat(add);
  const opaque = i16x8.splat(255);
  for (let c: usize = 0; c < <usize>columns; c += 4) {
    const at = c << 2;
    const yy = i16x8.extend_low_i8x16_u(v128.load64_zero(y + (c << 1)));
    const low = i32x4.add(i32x4.mul(i32x4.extend_low_i16x8_u(yy), luma), base);
    const high = i32x4.add(i32x4.mul(i32x4.extend_high_i16x8_u(yy), luma), base);
    const red = channel(r + at, w0, w1, w2, w3, low, high);
    const green = channel(g + at, w0, w1, w2, w3, low, high);
    const blue = channel(b + at, w0, w1, w2, w3, low, high);
    const rg = i8x16.narrow_i16x8_u(red, green);
    const ba = i8x16.narrow_i16x8_u(blue, opaque);
    const rgs = v128.shuffle<u8>(rg, rg, 0, 8, 1, 9, 2, 10, 3, 11, 4, 12, 5, 13, 6, 14, 7, 15);
    const bas = v128.shuffle<u8>(ba, ba, 0, 8, 1, 9, 2, 10, 3, 11, 4, 12, 5, 13, 6, 14, 7, 15);
    const to = out + (c << 3);
    v128.store(to, v128.shuffle<u16>(rgs, bas, 0, 8, 1, 9, 2, 10, 3, 11));
    v128.store(to + 16, v128.shuffle<u16>(rgs, bas, 4, 12, 5, 13, 6, 14, 7, 15));
  }
}

/** Eight values of a channel, 16 bits each: luma, and what the columns around add. */
// @ts-ignore: decorator
@inline
function channel(at: usize, before: v128, own: v128, ownNext: v128, behind: v128, low: v128, high: v128): v128 {
  const here = v128.load(at + 4);
  const even = times(v128.load(at), before, here, own);
  const odd = times(here, ownNext, v128.load(at + 8), behind);
  const a = i32x4.shr_s(i32x4.add(low, v128.shuffle<u32>(even, odd, 0, 4, 1, 5)), 20);
  const b = i32x4.shr_s(i32x4.add(high, v128.shuffle<u32>(even, odd, 2, 6, 3, 7)), 20);
  return i16x8.narrow_i32x4_s(a, b);
}
