import { median } from "../../motion/gray";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { finding, maskBox } from "./telling";

/** Pixels a picture may lie off, how sure that has to be in pixels, and how alike both have to be. */
const OFF = { most: 0.1, sure: 0.03, alike: 0.5 };
/** A picture that lies off by so many standard errors lies off for sure, however large they are. */
const SURELY = 6;

/** Whether the patch's picture lies where it belongs. */
export function driftOf(r: PatchRecord): Finding[] {
  const sure = r.places.filter((p) => p.alike > OFF.alike && (p.error < OFF.sure || Math.hypot(p.dx, p.dy) > SURELY * p.error));
  if (sure.length < Math.max(1, r.places.length / 2)) return [];
  const off = (p: (typeof sure)[number]) => Math.hypot(p.dx, p.dy);
  const bad = sure.filter((p) => off(p) > OFF.most + 2 * p.error);
  if (bad.length < Math.max(1, sure.length / 3)) return [];
  const value = median(bad.map(off));
  const worst = bad.reduce((a, b) => (off(b) > off(a) ? b : a));
  const [dx, dy] = [median(bad.map((p) => p.dx)), median(bad.map((p) => p.dy))];
  const box = maskBox(r, worst.n);
  return [
    finding(
      r,
      "drift",
      bad.map((p) => p.n),
      worst.n,
      box,
      { value, limit: OFF.most },
      {
        says: `The patch's picture lies ${value.toFixed(2)} px off what surrounds it.`,
        do: `Move it by ${dx.toFixed(2)} px to the right and ${dy.toFixed(2)} px down, or let it follow a track.`,
        remedy: "align",
      },
    ),
  ];
}
