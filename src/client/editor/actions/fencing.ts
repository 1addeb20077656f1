import type { Outline } from "../../../core/document/geometry";
import type { CutoutShape } from "../../../core/document/mask";
import { maskOf } from "../../../core/document/recipe";
import type { Rect } from "../../../core/pixels/frame";
import { fenced } from "../../../core/retouch/area";
import { aroundMatte } from "../../../core/shape/around";
import { cutoutMatte } from "../../../core/shape/cutout";
import { join, type Matte, over } from "../../../core/shape/matte";
import { layersOf, layerTitle } from "../../../recipe/query";
import { loadCutout } from "../../picture/measured";
import { homeOf } from "../retouch-target";
import type { EditorState } from "../state/editor";
import { takeOf } from "../state/select";
import type { EditorCore } from "./core";
import type { createHistory } from "./history";

/** Something that was cut out of the shot, and what it is called. */
export interface CutOutThing {
  name: string;
  shape: CutoutShape;
}

/** What was cut out of the shot, for masks or to be held out. */
export function cutOutThings({ recipe }: Pick<EditorState, "recipe">): CutOutThing[] {
  return layersOf(recipe).flatMap((l) => {
    if (l.kind !== "patch") return [];
    const cut = maskOf(recipe, l).shapes.filter((s) => s.kind === "cutout");
    const title = layerTitle(recipe, l.id);
    return cut.map((shape, i) => ({ name: shape.name ?? (cut.length > 1 ? `${title}, ${i + 1}` : title), shape }));
  });
}

/** What lies outside all of some fences. */
function outside(fence: Outline[], rect: Rect): Matte {
  const all = { ...rect, data: new Float64Array((rect.x1 - rect.x0) * (rect.y1 - rect.y0)).fill(1), outside: 0 };
  return { ...all, data: over(fenced(all, fence), rect).map((a) => 1 - a) };
}

/** Fences from what was cut out: nothing is painted across its edge. */
export function createFencing({ get, notices, show }: EditorCore, history: Pick<ReturnType<typeof createHistory>, "changeFence">) {
  return {
    /** Fences a thing off on the frame that is retouched; what was fenced off before stays so. */
    async fenceOff({ name, shape }: CutOutThing): Promise<void> {
      const s = get();
      const home = homeOf(s);
      const { info } = takeOf(s);
      if (!info || home?.take !== s.recipe.shot.take)
        return notices.said(`This picture is of no frame of the take that ${name} was cut out of: draw a fence.`);
      const { frame } = home;
      const data = await loadCutout(shape.data).catch((e: unknown) => (notices.problem(e instanceof Error ? e.message : String(e)), null));
      if (!data) return;
      const rect = { x0: 0, y0: 0, x1: info.width, y1: info.height };
      const thing = cutoutMatte(shape, frame, rect, 1, new Map([[shape.data, data]]));
      if (!over(thing, rect).some((a) => a > 0.5)) return notices.said(`${name} is not seen on frame ${show(frame)}: nothing has to be fenced off.`);
      const { fence } = get().retouch;
      const all = fence.length ? join(outside(fence, rect), thing, "add") : { ...rect, data: over(thing, rect), outside: 0 };
      const around = aroundMatte(all, info.width, info.height);
      if (!around) return;
      history.changeFence([around]);
      notices.said(`${name} is fenced off as it is on frame ${show(frame)}: nothing is painted on it.`);
    },
  };
}
