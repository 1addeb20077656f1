import type { Outline, Point } from "../../../core/document/geometry";
import type { Touch } from "../../../core/document/touch";
import { paintById } from "../../../recipe/query";
import { newId } from "../names";
import { offsetFor, sourceOf, takesSource } from "../retouch-target";
import { openPaint } from "../state/mode";
import { onPixels } from "../state/select";
import type { EditorCore } from "./core";

/** A touch in the making: what the tool's settings put into it. */
export function createNewTouch({ get }: EditorCore) {
  /** Settings of the tool that go into a touch that begins at `start`. */
  function touchFrom(start: Point): Touch {
    const { retouch: r, frame, recipe } = get();
    const paint = openPaint(get());
    const source = takesSource(r.tool) ? sourceOf(r) : null;
    const offset = offsetFor(r, start);
    const bent = takesSource(r.tool) && (offset !== null || source);
    const last = paint ? Math.min(frame + r.holds - 1, paintById(recipe, paint)?.out ?? frame) : frame;
    return {
      id: newId("t"),
      kind: r.tool,
      ...(paint ? { frames: [frame, last] as [number, number] } : {}),
      ...(source ? { source } : {}),
      ...(offset ? { offset } : {}),
      ...(bent && r.scale !== 1 ? { scale: r.scale } : {}),
      ...(bent && r.angle ? { angle: r.angle } : {}),
      ...(bent && r.mirror ? { mirror: true } : {}),
      ...(source && r.light ? { light: true } : {}),
      ...(r.fence.length ? { fence: r.fence } : {}),
      ...(r.tool === "fill" && r.avoid.length ? { avoid: r.avoid } : {}),
      ...(r.tool === "fill" && r.only.length ? { only: r.only } : {}),
      ...(r.tool === "fill" && r.guides.length ? { guides: r.guides } : {}),
      ...(r.tool === "flat" && r.plain ? { plain: true } : {}),
    };
  }

  const brushed = (): Touch["brush"] => {
    const { pressure, ...brush } = get().retouch.brush;
    return { ...brush, ...onPixels(get()), ...(pressure?.size || pressure?.opacity ? { pressure } : {}) };
  };

  /** A stroke's touch, before its path. */
  const strokeTouch = (start: Point): Touch => ({ ...touchFrom(start), brush: brushed() });

  const loopTouch = (outline: Outline): Touch => ({
    ...touchFrom(outline[0]),
    outline,
    ...(get().retouch.feather ? { feather: get().retouch.feather } : {}),
  });

  return {
    strokeTouch,
    loopTouch,
  };
}
