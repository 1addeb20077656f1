import { median } from "../../motion/gray";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { type Apart, deviationBy } from "../place";
import { finding, maskBox } from "./telling";

/** Pixels a picture may lie off, how sure that has to be in pixels, and how alike both have to be. */
const OFF = { most: 0.1, sure: 0.03, alike: 0.6 };
/** A picture that lies off by so many standard errors lies off for sure, however large they are. */
const SURELY = 6;
/** So many standard deviations by which clean frames lie apart has it to lie off besides. */
const USUAL = 4;
/** The places of its frames have to lie off together by so many of their own. */
const TOGETHER = 2;
/** Pixels by which places have to lie apart from frame to frame before what surrounds a patch moves by itself. */
const MOVES = 0.4;

/** The places that are sure enough to be told. */
const sureOf = (r: PatchRecord) =>
  r.places.found.filter((p) => p.alike > OFF.alike && (p.error < OFF.sure || Math.hypot(p.dx, p.dy) > SURELY * p.error));

/**
 * By how many pixels what surrounds a patch moves against its picture from frame to frame, the camera's own movement taken off; 0 where it
 * stays. A picture that was laid wrongly lies equally wrong in all frames: what comes and goes is a subject that moves.
 */
export function movesAround(r: PatchRecord): number {
  let most = 0;
  const sure = sureOf(r);
  const byItself = 2 * r.cameraMoves + USUAL * r.places.deviation();
  for (const a of sure) for (const b of sure) most = Math.max(most, Math.hypot(a.dx - b.dx, a.dy - b.dy) - 2 * (a.error + b.error) - byItself);
  return most > MOVES ? most : 0;
}

/** Whether places lie off the same way: what goes hither and thither from frame to frame is how badly they can be told. */
function together(places: readonly Apart[]): boolean {
  const [dx, dy] = [median(places.map((p) => p.dx)), median(places.map((p) => p.dy))];
  return Math.hypot(dx, dy) > TOGETHER * deviationBy(places.map((p) => Math.hypot(p.dx - dx, p.dy - dy)));
}

/** Whether the patch's picture lies where it belongs. */
export function driftOf(r: PatchRecord): Finding[] {
  const sure = sureOf(r);
  if (sure.length < Math.max(1, r.places.found.length / 2) || movesAround(r)) return [];
  const off = (p: (typeof sure)[number]) => Math.hypot(p.dx, p.dy);
  const usual = USUAL * r.places.deviation();
  const bad = sure.filter((p) => off(p) > Math.max(OFF.most + 2 * p.error, usual));
  if (bad.length < Math.max(1, sure.length / 3) || !together(sure)) return [];
  const value = median(bad.map(off));
  const worst = bad.reduce((a, b) => (off(b) > off(a) ? b : a));
  const [dx, dy] = [median(bad.map((p) => p.dx)), median(bad.map((p) => p.dy))];
  const box = maskBox(r, worst.n);
  const measure = { value, limit: Math.max(OFF.most, usual) };
  const frames = bad.map((p) => p.n);
  const found = finding(r, "drift", frames, worst.n, box, measure, {
    says: `The patch's picture lies ${value.toFixed(2)} px off what surrounds it.`,
    do: `Move it by ${dx.toFixed(2)} px to the right and ${dy.toFixed(2)} px down, or let it follow a track.`,
    remedy: "align",
  });
  return [{ ...found, shift: { x: dx, y: dy } }];
}
