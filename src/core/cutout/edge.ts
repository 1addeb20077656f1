import { boxMean } from "../match/box-mean";
import { closedForm } from "./closed-form";
import { boundsOf, type Cut, heightOf, middleOf, widthOf } from "./cut";
import { drawnOut, type Shutter } from "./drawn-out";

/** Pixels on either side of a thing's rim in which it may cover a pixel in part. */
const BAND = 2.5;
/** Radius, in pixels, within which the colour of the thing is told from its inside. */
const AROUND = 5;
/** Squared codes by which thing and ground must differ for a share to be told. */
const APART = 60;

/**
 * How much of each pixel of a cut a thing covers, 0–255, row by row over the cut's rectangle: within all, outside nothing, and along its
 * rim the share that explains what is seen, α = (I − B)·(F − B)/|F − B|², F the mean colour of the thing's inside near by, B the ground.
 * Rims that are drawn out by movement are told by it. Where the ground is not known, colours alone tell (`closedForm`).
 * @param pace pixels a frame by which the thing moves, across and down @param shutter of its take
 */
export function edgeAlpha(cut: Cut, pace: readonly [number, number] = [0, 0], shutter?: Shutter): Uint8Array {
  const {
    rect,
    inside,
    away,
    sight: { seen, ground, says, known },
  } = cut;
  const [w, h] = [widthOf(rect), heightOf(rect)];
  // thin things have no inside: their middle speaks for them
  const inner = middleOf(away, w, h, BAND);
  const weight = boxMean(inner, w, h, AROUND);
  const out = new Uint8Array(inside.length);
  const band: number[] = [];
  for (let i = 0; i < inside.length; i++)
    if (Math.abs(away[i]) < BAND && weight[i] > 1e-6) band.push(i);
    else out[i] = 255 * inside[i];
  const [dot, norm] = [new Float32Array(band.length), new Float32Array(band.length)];
  const room = new Float32Array(inside.length);
  for (let p = 0; p < 3; p++) {
    for (let i = 0; i < room.length; i++) room[i] = inner[i] ? seen[p][i] : 0;
    const mean = boxMean(room, w, h, AROUND);
    band.forEach((i, k) => {
      const f = mean[i] / weight[i] - ground[p][i];
      dot[k] += says[p] * (seen[p][i] - ground[p][i]) * f;
      norm[k] += says[p] * f * f;
    });
  }
  band.forEach((i, k) => {
    // so deep within nothing mixes any more: what looks like the ground there is a gleam on the thing
    const least = Math.max(0, -away[i] - 0.5) / (BAND - 0.5);
    out[i] = norm[k] < APART ? 255 * inside[i] : Math.round(255 * Math.min(1, Math.max(least, dot[k] / norm[k])));
  });
  for (const [i, share] of drawnOut(cut, pace, shutter)) if (!known || known[i]) out[i] = Math.round(255 * share);
  if (known) byColoursAlone(cut, known, inner, out);
  return out;
}

/** The shares of a rim's pixels where the ground is not known, put into `out`. */
function byColoursAlone({ rect, inside, away, sight: { seen, says } }: Cut, known: Uint8Array, inner: Uint8Array, out: Uint8Array): void {
  const open = known.map((v, i) => (!v && Math.abs(away[i]) < BAND && !inner[i] ? 1 : 0));
  const b = boundsOf({ rect, inside: open });
  if (!b) return;
  const w = widthOf(rect);
  // the windows about a pixel reach two pixels beyond it
  const [x0, y0] = [Math.max(0, b.x0 - rect.x0 - 2), Math.max(0, b.y0 - rect.y0 - 2)];
  const [x1, y1] = [Math.min(w, b.x1 - rect.x0 + 2), Math.min(heightOf(rect), b.y1 - rect.y0 + 2)];
  const part = (v: (i: number) => number) =>
    Float32Array.from({ length: (x1 - x0) * (y1 - y0) }, (_, k) => v((y0 + Math.floor(k / (x1 - x0))) * w + x0 + (k % (x1 - x0))));
  const planes = seen.map((s, p) => part((i) => Math.sqrt(says[p]) * s[i]));
  const asked = Uint8Array.from(part((i) => open[i]));
  const alpha = closedForm(
    planes,
    x1 - x0,
    y1 - y0,
    part((i) => (open[i] ? inside[i] : out[i] / 255)),
    asked,
  );
  for (let y = y0, k = 0; y < y1; y++) for (let x = x0; x < x1; x++, k++) if (asked[k]) out[y * w + x] = Math.round(255 * alpha[k]);
}
