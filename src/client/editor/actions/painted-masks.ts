import type { Mask, Op, Shape } from "../../../core/document/mask";
import type { Point } from "../../../core/document/geometry";
import type { Draft } from "../../../recipe/edits";
import { NOTHING_PICKED } from "../shapes";
import type { Dragging } from "../state/document";
import { onPixels } from "../state/select";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import type { MaskChanges } from "./mask-changes";

/** Painting masks. */
export function createPaintedMasks(
  core: EditorCore,
  patches: Pick<ReturnType<typeof createPatches>, "layPatch">,
  { title, current, changeMask }: MaskChanges,
) {
  const { get, set } = core;

  /** A stroke of the mask's brush; while it is drawn it is only shown. Without a patch it begins one. */
  function paintMask(path: Point[], dragging: Dragging): void {
    const { maskBrush: b, frame, recipe } = get();
    const now = current();
    const frames: { frames?: [number, number] } = b.frames === "all" ? {} : { frames: [frame, b.frames === "this" ? frame : recipe.shot.out] };
    const inverted = !!now?.mask.invert;
    // in a mask that is inside out what is painted is hidden
    const erase = b.erase !== inverted;
    const stroke = {
      brush: {
        ...{ size: b.size, hardness: b.hardness, opacity: b.opacity, flow: 1, spacing: 0.1 },
        ...onPixels(get()),
        ...(b.pressure?.size || b.pressure?.opacity ? { pressure: b.pressure } : {}),
      },
      path: path.map((p) => [...p]),
      ...(erase ? { erase: true } : {}),
      ...frames,
    };
    if (!now) {
      if (dragging) return;
      patches.layPatch({ kind: "painted", op: "add", strokes: [stroke] } as Draft<Shape>);
      return set({ tool: "brush", drawInto: "add", picked: { shapes: [0], points: [] } });
    }
    const cut = cutoutOf(now.mask);
    if (cut !== null) {
      changeMask(
        now.layer,
        `Correct the cut-out of ${title(now.layer)} at frame ${core.show(frame)}`,
        (m) => {
          const s = m.shapes[cut];
          if (s?.kind !== "cutout") return;
          // of what is held out, less of the mask is more of it
          const away = (s.op === "cut") !== erase;
          (s.strokes ??= []).push({ f: frame, brush: stroke.brush, path: stroke.path, ...(away ? { erase: true } : {}) });
        },
        dragging,
      );
      return;
    }
    changeMask(
      now.layer,
      `${b.erase ? "Paint away from" : "Paint on"} the mask of ${title(now.layer)}`,
      (m) => {
        // strokes take away only within their own shape: taking away from drawn shapes is a painted shape that cuts
        const last = m.shapes.at(-1);
        const op: Op = b.erase && last && last.kind !== "painted" ? "cut" : "add";
        const cuts = last?.kind === "painted" && last.op === "cut";
        if (last?.kind === "painted" && !last.locked && last.on !== false)
          last.strokes.push({ ...stroke, ...(cuts ? { erase: !erase || undefined } : {}) });
        else m.shapes.push({ kind: "painted", op, strokes: [op === "cut" ? { ...stroke, erase: undefined } : stroke] });
      },
      dragging,
    );
  }

  /** The cut-out that is corrected by the brush: the picked one, or the last shape where that is one. */
  function cutoutOf({ shapes }: Mask): number | null {
    const isOne = (i: number) => shapes[i]?.kind === "cutout" && shapes[i].on !== false && !shapes[i].locked;
    return get().picked.shapes.find(isOne) ?? (isOne(shapes.length - 1) ? shapes.length - 1 : null);
  }

  /** A painted mask from all hidden, or from all shown. */
  function beginPainted(shown: boolean): void {
    const now = current();
    if (!now) return;
    changeMask(now.layer, `Paint the mask of ${title(now.layer)}, from all ${shown ? "shown" : "hidden"}`, (m) => {
      m.shapes = [{ kind: "painted", op: "add", strokes: [] }];
      if (shown) m.invert = true;
      else delete m.invert;
    });
    set({ tool: "brush", drawInto: "add", picked: NOTHING_PICKED, maskBrush: { ...get().maskBrush, erase: shown } });
  }

  return {
    paintMask,
    beginPainted,
  };
}
