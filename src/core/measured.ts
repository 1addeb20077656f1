/** What is measured and kept by the hash of its content, so that a recipe that names it never changes by itself. */
export type MeasuredKind = "facts" | "track" | "profile" | "gains" | "cutout" | "look";

/** How something was measured. */
export interface MeasuredHead {
  kind: MeasuredKind;
  /** The number of the method; a better one has a higher number, and leaves alone what was measured before. */
  method: number;
  /** SHA-256 of all it was measured from, in hexadecimal: the take, and what of the recipe it went by. */
  of: string;
}

const WHAT: Record<MeasuredKind, string> = {
  facts: "What is known of the take",
  track: "The track",
  profile: "The grain",
  gains: "The light",
  cutout: "The cut-out",
  look: "The table of colours",
};

/**
 * Why what was measured may no longer hold, in a sentence; null while it does. It is never measured again by itself.
 * @param now how it would be measured today
 */
export function outdated(was: MeasuredHead, now: Pick<MeasuredHead, "method" | "of">): string | null {
  if (was.of !== now.of)
    return `${WHAT[was.kind]} was measured before what it was measured from was changed: measure it again, or leave it as it is.`;
  if (was.method < now.method) return `${WHAT[was.kind]} was measured by an earlier method: it stays as it is until it is measured again.`;
  return null;
}
