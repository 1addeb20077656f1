import { within } from "../pixels/within";
import { type Cut, heightOf, widthOf } from "./cut";
import type { Sight } from "./ground";

/** Pixels tried beyond where it is expected: this many steps of the coarsest, and then each finer one. */
const COARSE = 6;
const STEPS = 8;
/** Pixels that have a say: of the thing, and of what lies around it. */
const OWN = 600;
const AROUND = 400;
/** Nats at most by which one pixel counts; codes by which it may look otherwise than before for a nat, and how many of those count at most. */
const MOST = 4;
const UNLIKE = 20;
const LOOKS = 2;
/** How far around a thing it is asked what is not it, pixels. */
const RIM = { from: 1, to: 6 };
/** What a pixel of unexpected movement costs, nats a pixel of the thing. */
const UNEXPECTED = 0.002;
/** The least share of the thing that is still in the picture. */
const LEAST = 0.2;

/**
 * The whole pixels by which a thing has moved: within its old form everything is likely it and looks as before, and around it nothing is.
 * @param tells by how much likelier pixels of `now` are the thing than not, nats @param pace the movement that is expected
 */
export function movement(was: Cut, now: Sight, tells: Float32Array, pace: readonly [number, number]): [number, number] {
  const w0 = widthOf(was.rect);
  const edge = was.away;
  const own: number[] = [];
  const around: number[] = [];
  for (let i = 0; i < edge.length; i++) {
    if (edge[i] < 0) own.push(i);
    else if (edge[i] > RIM.from && edge[i] < RIM.to) around.push(i);
  }
  const some = (list: number[], most: number) => {
    const step = Math.max(1, list.length / most);
    return Array.from({ length: Math.ceil(list.length / step) }, (_, k) => list[Math.floor(k * step)]);
  };
  const [mine, rim] = [some(own, OWN), some(around, AROUND)];
  const [w, h] = [widthOf(now.rect), heightOf(now.rect)];
  const [ox, oy] = [was.rect.x0 - now.rect.x0, was.rect.y0 - now.rect.y0];
  const at = (i: number, dx: number, dy: number) => {
    const [u, v] = [(i % w0) + ox + dx, Math.floor(i / w0) + oy + dy];
    return u < 0 || v < 0 || u >= w || v >= h ? -1 : v * w + u;
  };
  const told = (k: number) => (tells[k] > MOST ? MOST : tells[k] < -MOST ? -MOST : tells[k]);
  const score = (dx: number, dy: number) => {
    let [sum, n, beside] = [0, 0, 0];
    for (const i of mine) {
      const k = at(i, dx, dy);
      if (k < 0) continue;
      let unlike = 0;
      for (let p = 0; p < 3; p++) unlike += Math.abs(was.sight.seen[p][i] - now.seen[p][k]);
      sum += told(k) - Math.min(LOOKS, unlike / UNLIKE);
      n++;
    }
    if (n < LEAST * mine.length) return -Infinity;
    for (const i of rim) {
      const k = at(i, dx, dy);
      if (k >= 0) beside += told(k);
    }
    return (sum - 0.5 * beside * (mine.length / Math.max(1, rim.length))) / mine.length - UNEXPECTED * Math.hypot(dx - pace[0], dy - pace[1]);
  };
  let best: [number, number] = [Math.round(pace[0]), Math.round(pace[1])];
  let most = score(...best);
  for (let step = COARSE; step >= 1; step = step === 1 ? 0 : Math.ceil(step / 2)) {
    const reach = step === COARSE ? STEPS : 1;
    const [cx, cy] = best;
    for (let j = -reach; j <= reach; j++)
      for (let i = -reach; i <= reach; i++) {
        const s = i || j ? score(cx + i * step, cy + j * step) : -Infinity;
        if (s > most) [most, best] = [s, [cx + i * step, cy + j * step]];
      }
  }
  return best;
}

/** A thing moved by whole pixels over another rectangle; it goes on beyond the picture as it was at its border. */
export function laid(was: Cut, [dx, dy]: readonly [number, number], now: Sight["rect"], width: number, height: number): Uint8Array {
  const [w, h, w0] = [widthOf(now), heightOf(now), widthOf(was.rect)];
  const out = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    const v = within(y + now.y0 - dy, height);
    if (v < was.rect.y0 || v >= was.rect.y1) {
      i += w;
      continue;
    }
    for (let x = 0; x < w; x++, i++) {
      const u = within(x + now.x0 - dx, width);
      if (u >= was.rect.x0 && u < was.rect.x1) out[i] = was.inside[(v - was.rect.y0) * w0 + u - was.rect.x0];
    }
  }
  return out;
}
