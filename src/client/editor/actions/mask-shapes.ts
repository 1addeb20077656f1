import type { Mask, Op, Shape } from "../../../core/document/mask";
import type { Draft } from "../../../recipe/edits";
import { layersOf, patchById } from "../../../recipe/query";
import { uploadPicture } from "../../upload";
import { newId } from "../names";
import { NOTHING_PICKED } from "../shapes";
import type { Dragging } from "../state/document";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import type { MaskChanges } from "./mask-changes";
import { createPaintedMasks } from "./painted-masks";

/** The list of a mask's shapes: their order, doubles, painted ones, pictures; and masks that layers share. */
export function createMaskShapes(core: EditorCore, patches: Pick<ReturnType<typeof createPatches>, "layPatch">, changes: MaskChanges) {
  const { get, commit, notices } = core;
  const { title, current, changeMask, pick } = changes;

  /** Sets something of one shape. */
  function setShape(index: number, name: string, change: (s: Draft<Shape>) => void, dragging: Dragging = false): void {
    const now = current();
    if (now) changeMask(now.layer, name, (m) => m.shapes[index] && change(m.shapes[index]), dragging);
  }

  function orderShape(index: number, to: number): void {
    const now = current();
    if (!now || to < 0 || to >= now.mask.shapes.length || to === index) return;
    changeMask(now.layer, `Order the shapes of ${title(now.layer)}`, (m) => {
      const [s] = m.shapes.splice(index, 1);
      m.shapes.splice(to, 0, s);
    });
    pick({ shapes: [to], points: [] });
  }

  function duplicateShape(index: number): void {
    const now = current();
    if (!now) return;
    const copy = structuredClone(now.mask.shapes[index]);
    changeMask(now.layer, `Duplicate a shape of ${title(now.layer)}`, (m) => void m.shapes.splice(index + 1, 0, copy as Draft<Shape>));
    pick({ shapes: [index + 1], points: [] });
  }

  /** A picture as a mask: its alpha where it has some, else its brightness. */
  async function addPicture(file: File): Promise<void> {
    const now = current();
    if (!now) return;
    try {
      const p = await uploadPicture(file);
      const use = p.alpha ? "alpha" : "brightness";
      const op: Op = get().drawInto === "new" ? "add" : (get().drawInto as Op);
      changeMask(now.layer, `Take ${file.name} into the mask of ${title(now.layer)}`, (m) => {
        m.shapes.push({ kind: "picture", op, asset: p.asset, use, name: file.name.slice(0, 200) });
      });
      notices.said(`${file.name} is part of the mask now, by its ${use}.`);
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** Lets other layers use this one's mask, too. */
  function shareMask(): void {
    const now = current();
    if (!now || "use" in now.layer.mask) return;
    const id = newId("m");
    commit(`Share the mask of ${title(now.layer)}`, (d) => {
      const l = patchById(d, now.layer.id);
      if (!l) return;
      d.masks = { ...d.masks, [id]: { ...(now.mask as Draft<Mask>), name: title(now.layer) } };
      l.mask = { use: id };
    });
  }

  /** Uses a shared mask, or (null) a copy of it that is this layer's own. */
  function useMask(id: string | null): void {
    const now = current();
    if (!now) return;
    const name = id ? (get().recipe.masks?.[id]?.name ?? id) : title(now.layer);
    commit(id ? `Use the mask of ${name} for ${title(now.layer)}` : `Give ${name} a mask of its own`, (d) => {
      const l = patchById(d, now.layer.id);
      if (!l) return;
      const { name: _, ...own } = structuredClone(now.mask) as Draft<Mask>;
      l.mask = id ? { use: id } : own;
      const used = new Set(layersOf(d).flatMap((x) => (x.kind === "patch" && "use" in x.mask ? [x.mask.use] : [])));
      for (const k of Object.keys(d.masks ?? {})) if (!used.has(k)) delete d.masks![k];
      if (d.masks && !Object.keys(d.masks).length) delete d.masks;
    });
    pick(NOTHING_PICKED);
  }

  return {
    ...createPaintedMasks(core, patches, changes),
    setShape,
    orderShape,
    duplicateShape,
    addPicture,
    shareMask,
    useMask,
  };
}
