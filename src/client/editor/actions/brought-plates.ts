import type { PlateFrom } from "../../../core/document/plate";
import type { Draft } from "../../../recipe/edits";
import { colourAround } from "../../api";
import { uploadPicture } from "../../upload";
import type { EditorCore } from "./core";
import { bare } from "../names";

/** Plates from a picture, or of a plain colour. */
export function createBroughtPlates({ get, notices }: EditorCore, add: (name: string, from: Draft<PlateFrom>, words: string) => string) {
  async function fromPicture(file: File): Promise<void> {
    try {
      const p = await uploadPicture(file);
      const { recipe, shot } = get();
      const info = shot.takes[recipe.shot.take].info!;
      add(bare(file.name), { asset: p.asset }, `Bring in ${file.name} as a plate`);
      const other = p.width !== info.width || p.height !== info.height;
      const size = other
        ? ` It is ${p.width}×${p.height}, the shot ${info.width}×${info.height}: it lies at the left upper corner until it is placed.`
        : "";
      notices.said(`${file.name} is a plate now.${size}${p.notes.length ? ` ${p.notes.join(" ")}` : ""}`);
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** A plain or sloping colour, taken from around an outline at the frame shown. */
  async function plainColour(outline: number[][], frame: number): Promise<string | null> {
    const { shot } = get();
    try {
      const colour = await colourAround(shot.id, frame, outline);
      const slopes = colour.planes.some(([, dx, dy]) => dx !== 0 || dy !== 0);
      return add(slopes ? "Sloping colour" : "Plain colour", { colour }, "Take the colour around as a plate");
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
      return null;
    }
  }

  return {
    fromPicture,
    plainColour,
  };
}
