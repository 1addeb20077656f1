import { join } from "node:path";
import type { PlateFile } from "../../wire/plate";
import { type DataPaths, within } from "../paths";

const NAMES: Record<PlateFile, string> = { png8: "plate.png", png16: "plate.png", tiff16: "plate.tif", ora: "plate.ora" };

/** Where a plate that was written out lies, and what we keep about it: beside its folder, so that nothing but the plate is seen in it. */
export function outsidePaths({ outside }: DataPaths, name: string) {
  const folder = within(outside, name);
  const own = within(join(outside, ".kept"), name);
  return {
    folder,
    own,
    picture: (kind: PlateFile) => join(folder, NAMES[kind]),
    note: join(own, "note.json"),
    /** Its samples as they were written, without what came back before. */
    bare: join(own, "bare.raw"),
    merged: join(own, "merged.png"),
  };
}
