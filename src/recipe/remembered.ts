import { freeze } from "immer";
import type { z } from "zod";

/**
 * A schema that does not look again at what it has passed before: an edit leaves most of a recipe as it was, the very same objects,
 * and only what is new has to be read. What passes is frozen through and through, so that it stays what was looked at.
 */
export function remembered<T extends z.ZodType>(schema: T): T {
  const passed = new WeakSet<object>();
  const { run } = schema._zod;
  schema._zod.run = (payload, ctx) => {
    if (typeof payload.value === "object" && payload.value !== null && passed.has(payload.value)) return payload;
    const out = run(payload, ctx);
    if (out instanceof Promise || out.issues.length) return out;
    if (typeof out.value === "object" && out.value !== null) passed.add(freeze(out.value, true));
    return out;
  };
  return schema;
}
