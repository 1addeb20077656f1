import { hasAlpha, type Still } from "../../core/pixels/still";
import { MediaError } from "../media/media-error";

export interface Returned {
  /** R′G′B′A of 16 bits: what came back, α full where it differs from what was written and 0 elsewhere. */
  rgba: Uint16Array;
  changed: number;
  box: { x0: number; y0: number; x1: number; y1: number } | null;
}

/**
 * Compares a picture that came back with the R′G′B′ (16 bits) that was written. At 8 bits it counts as changed where its
 * value is not the written one rounded to 8 bits. @throws MediaError when the size is another
 */
export function comparedWith(written: Uint16Array, width: number, height: number, back: Still, name: string): Returned {
  if (back.width !== width || back.height !== height)
    throw new MediaError(`“${name}” came back as ${back.width}×${back.height}, and the plate is ${width}×${height}: save it in its own size.`);
  const n = width * height;
  const rgba = new Uint16Array(4 * n);
  const colours = back.channels >= 3 ? 3 : 1;
  const alpha = hasAlpha(back);
  const wide = back.bits === 16;
  let changed = 0;
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (let i = 0; i < n; i++) {
    let differs = false;
    for (let c = 0; c < 3; c++) {
      const v = back.data[i * back.channels + (colours === 3 ? c : 0)];
      const was = written[3 * i + c];
      if (wide ? v !== was : v !== Math.round(was / 257)) differs = true;
      rgba[4 * i + c] = wide ? v : v * 257;
    }
    const a = alpha ? back.data[(i + 1) * back.channels - 1] * (wide ? 1 : 257) : 65535;
    if (!differs || a === 0) continue;
    rgba[4 * i + 3] = a;
    changed++;
    const x = i % width;
    const y = (i - x) / width;
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
  }
  return { rgba, changed, box: changed ? { x0, y0, x1, y1 } : null };
}
