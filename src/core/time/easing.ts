/** How to leave a key: hold the value, go straight, or along a cubic Bézier timing curve (x1, y1, x2, y2). */
export type Ease = "step" | "linear" | readonly [number, number, number, number];

/**
 * Progress (may leave 0–1) at time `t` (0–1) of an ease. Source: W3C CSS Easing Functions Level 1,
 * cubic-bezier(): x is inverted by Newton's method with bisection as its safety net; x1, x2 lie in 0–1.
 */
export function easeAt(ease: Ease, t: number): number {
  if (ease === "step") return t >= 1 ? 1 : 0;
  if (ease === "linear" || t <= 0 || t >= 1) return Math.min(1, Math.max(0, t));
  const [x1, y1, x2, y2] = ease;
  const curve = (a: number, b: number, s: number) => 3 * (1 - s) * (1 - s) * s * a + 3 * (1 - s) * s * s * b + s * s * s;
  const slope = (a: number, b: number, s: number) => 3 * (1 - s) * (1 - s) * a + 6 * (1 - s) * s * (b - a) + 3 * s * s * (1 - b);
  let lo = 0;
  let hi = 1;
  let s = t;
  for (let i = 0; i < 60; i++) {
    const err = curve(x1, x2, s) - t;
    if (Math.abs(err) < 1e-12) break;
    if (err > 0) hi = s;
    else lo = s;
    const d = slope(x1, x2, s);
    const next = d > 1e-9 ? s - err / d : -1;
    s = next > lo && next < hi ? next : (lo + hi) / 2;
  }
  return curve(y1, y2, s);
}
