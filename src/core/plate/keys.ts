import type { BuiltFrom, PlainColour, PlateFrom } from "../document/plate";

/** A picture that is not a frame: what names it says how to make it. */
export type PictureSpec =
  /** One that was brought in: its path or its hash. */
  | { file: string }
  /** Built from many frames of a take, named as the recipe names it. */
  | { take: string; built: BuiltFrom }
  | { colour: PlainColour };

const BUILT = "built:";
const COLOUR = "colour:";

/** JSON with the fields of objects in rising order, so that the same value has one text however it was put together. */
export const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    typeof v === "object" && v !== null && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)))
      : v,
  );

/** Names a picture that is not a frame; the same picture has the same name. */
export function pictureKey(from: PlateFrom): string {
  if (from.built) return BUILT + canonical([from.take, from.built]);
  if (from.colour) return COLOUR + canonical(from.colour);
  return (from.path ?? from.asset)!;
}

/** What a name means. */
export function pictureSpec(key: string): PictureSpec {
  if (key.startsWith(BUILT)) {
    const [take, built] = JSON.parse(key.slice(BUILT.length)) as [string, BuiltFrom];
    return { take, built };
  }
  if (key.startsWith(COLOUR)) return { colour: JSON.parse(key.slice(COLOUR.length)) as PlainColour };
  return { file: key };
}
