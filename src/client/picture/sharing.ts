/**
 * `next`, with every part that is the same as in `before` replaced by that very object. A recipe comes to the worker as a copy;
 * what is kept beside its parts (mattes, plates) must be found again by those that have not changed.
 */
export function sharing<T>(before: unknown, next: T): T {
  if (Object.is(before, next) || typeof next !== "object" || next === null || typeof before !== "object" || before === null) return next;
  if (Array.isArray(next)) {
    if (!Array.isArray(before)) return next;
    let same = before.length === next.length;
    const out = next.map((v: unknown, i) => {
      const kept = sharing(before[i], v);
      same &&= Object.is(kept, before[i]);
      return kept;
    });
    return (same ? before : out) as T;
  }
  const [a, b] = [before as Record<string, unknown>, next as Record<string, unknown>];
  const keys = Object.keys(b);
  let same = keys.length === Object.keys(a).length;
  const out: Record<string, unknown> = {};
  for (const k of keys) {
    out[k] = sharing(a[k], b[k]);
    same &&= Object.hasOwn(a, k) && Object.is(out[k], a[k]);
  }
  return (same ? before : out) as T;
}
