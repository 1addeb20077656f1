import type { BuiltFrom, PlainColour, PlateFrom } from "../document";

/** A picture that is not a frame: what names it says how to make it. */
export type PictureSpec = { file: string } | { take: string; built: BuiltFrom } | { colour: PlainColour };

const BUILT = "built:";
const COLOUR = "colour:";

/** Names a picture that is not a frame; the same picture has the same name. */
export function pictureKey(from: PlateFrom): string {
  if (from.built) return BUILT + JSON.stringify([from.take, from.built]);
  if (from.colour) return COLOUR + JSON.stringify(from.colour);
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
