import type { Cells } from "../plate/cells";
import type { Grid } from "../plate/regions";

/**
 * Whether what fills `mask` in one frame is found near there in another: the best normalised cross-correlation of its luma
 * (Lewis 1995) over shifts of at most `reach` cells, −1 … 1. Only what differs from a flat area can be told: 0 then.
 */
export function likeness(here: Cells, there: Cells, mask: Grid, reach = 14): number {
  const { width: w, height: h } = mask;
  const list: number[] = [];
  for (let i = 0; i < mask.data.length; i++) if (mask.data[i]) list.push(i);
  // enough places to know it by
  const step = Math.max(1, Math.floor(list.length / 400));
  const places = list.filter((_, i) => i % step === 0);
  const a = here.planes[0];
  const b = there.planes[0];
  const values = places.map((i) => a[i]);
  const mean = values.reduce((s, v) => s + v, 0) / values.length;
  const va = values.reduce((s, v) => s + (v - mean) ** 2, 0);
  if (va / values.length < 1) return 0;
  let best = -1;
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      let [s, q, both, n] = [0, 0, 0, 0];
      for (let k = 0; k < places.length; k++) {
        const x = (places[k] % w) + dx;
        const y = Math.floor(places[k] / w) + dy;
        if (x < 0 || y < 0 || x >= w || y >= h) continue;
        const v = b[y * w + x];
        s += v;
        q += v * v;
        both += v * (values[k] - mean);
        n++;
      }
      if (n < 0.8 * places.length) continue;
      const vb = q - (s * s) / n;
      if (vb / n > 0.5) best = Math.max(best, both / Math.sqrt(va * vb));
    }
  return best;
}
