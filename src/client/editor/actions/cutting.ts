import { maskOf } from "../../../core/document/recipe";
import type { PatchLayer } from "../../../core/document/layer";
import type { Point } from "../../../core/document/geometry";
import type { CutoutShape } from "../../../core/document/mask";
import type { Finding } from "../../../core/proof/finding";
import { shapePolygon } from "../../../core/shape/polygon";
import { asDraft } from "../../../recipe/edits";
import { isKeyed } from "../../../core/time/keyed";
import { cutOutThing } from "../../api";
import { isDrawn } from "../shapes";
import type { EditorCore } from "./core";
import type { MaskChanges } from "./mask-changes";
import type { createTasks } from "./tasks";

/** Pixels by which the mask of a cut-out is grown, and how soft it is: nothing of the thing's rim is left beside it. */
const EDGE = { grow: 5, feather: 4 };
/** A point of a stroke, with how hard the pen was pressed. */
const asTold = ([x, y, p]: Point): [number, number] | [number, number, number] => (p === undefined ? [x, y] : [x, y, p]);
/** What the cut-out of a shadow is called. */
const SHADOW = "Shadow";
/** Corners of a loop at most. */
const MOST = 2000;

/** Things that are cut out of the shot, frame by frame, for masks. */
export function createCutting(
  core: EditorCore,
  tasks: ReturnType<typeof createTasks>,
  { changeMask, title }: Pick<MaskChanges, "changeMask" | "title">,
) {
  const { get, set, notices } = core;

  /** The shape of a mask that is taken for a loop round the thing: the picked one that is drawn, or the last. */
  function loopOf(layer: PatchLayer): number | null {
    const { shapes } = maskOf(get().recipe, layer);
    const drawn = shapes.flatMap((s, i) => (isDrawn(s) && s.on !== false && !s.locked ? [i] : []));
    const picked = get().picked.shapes.find((i) => drawn.includes(i));
    return picked ?? drawn.at(-1) ?? null;
  }

  /** What a rough loop surrounds in the shot's take, frame by frame; null when it was stopped or failed, which is said. */
  function ask(thing: Omit<Parameters<typeof cutOutThing>[1], "take" | "task">) {
    const { recipe, shot } = get();
    return tasks.run("Cutting out", (task) => cutOutThing(shot.id, { take: recipe.shot.take, ...thing, task }));
  }

  const framesIn = (found: { in: number; out: number }) => `${core.show(found.in)} to ${core.show(found.out)}`;

  /**
   * Cuts out what lies within a drawn shape of the mask at the frame shown, through the patch's frames; the cut-out takes the shape's place.
   * @param shadow whether that is a shadow: what it falls on is no part of it
   */
  async function cutOut(layer: PatchLayer, shadow = false): Promise<void> {
    if (layer.locked) return;
    const s = get();
    const index = loopOf(layer);
    if (index === null) return notices.said("Draw a rough loop round the thing first, on a frame where all of it is seen.");
    const at = s.frame;
    if (at < layer.in || at > layer.out) return notices.said("Go to a frame of the patch on which the thing lies within the loop.");
    const shape = maskOf(s.recipe, layer).shapes[index];
    if (!isDrawn(shape)) return;
    const flat = shapePolygon(shape, at);
    const step = Math.max(1, Math.ceil(flat.length / 2 / MOST));
    const outline = Array.from({ length: Math.ceil(flat.length / 2 / step) }, (_, i): [number, number] => [
      flat[2 * i * step],
      flat[2 * i * step + 1],
    ]);
    const answer = await ask({ at, outline, from: layer.in, to: layer.out, ...(shadow ? { shadow } : {}) });
    if (!answer) return;
    const name = shadow ? SHADOW : shape.name;
    const cutout: CutoutShape = {
      kind: "cutout",
      op: shape.op,
      data: answer.data,
      ...(name === undefined ? {} : { name }),
    };
    changeMask(layer, `Cut out ${shadow ? "a shadow of " : ""}${title(layer)}`, (m) => {
      if (!m.shapes[index]) return;
      m.shapes[index] = asDraft(cutout);
      // the feather of a drawn mask would reach into the thing
      if (m.shapes.every((x) => x.kind === "cutout") && !isKeyed(m.feather) && !isKeyed(m.grow)) Object.assign(m, EDGE);
    });
    set({ tool: "brush", picked: { shapes: [index], points: [] } });
    notices.said(`Seen on ${answer.seen} frames, ${framesIn(answer)}. Where it is wrong, paint on it; Alt takes away.`);
  }

  /** The cut-out of a mask that was corrected on the frame shown: the picked one, or the last; null where there is none. */
  function correctedOf(layer: PatchLayer): number | null {
    const { recipe, frame, picked } = get();
    const { shapes } = maskOf(recipe, layer);
    const list = shapes.flatMap((s, i) => (s.kind === "cutout" && s.on !== false && !s.locked && s.strokes?.some((k) => k.f === frame) ? [i] : []));
    return picked.shapes.find((i) => list.includes(i)) ?? list.at(-1) ?? null;
  }

  /** Cuts a thing out anew from the frame shown, on which it was corrected, as far as the next frames that were. */
  async function carryOn(layer: PatchLayer): Promise<void> {
    const index = correctedOf(layer);
    if (index === null || layer.locked) return;
    const { recipe, frame: at } = get();
    const shape = maskOf(recipe, layer).shapes[index] as CutoutShape;
    const strokes = shape.strokes!;
    const corrected = strokes.map((k) => k.f);
    const from = Math.max(layer.in, ...corrected.filter((f) => f < at).map((f) => f + 1));
    const to = Math.min(layer.out, ...corrected.filter((f) => f > at).map((f) => f - 1));
    const shadow = shape.name === SHADOW;
    const told = { data: shape.data, strokes: strokes.map((k) => ({ ...k, path: k.path.map(asTold) })) };
    const answer = await ask({ at, corrected: told, from, to, ...(shadow ? { shadow } : {}) });
    if (!answer) return;
    changeMask(layer, `Carry the corrections of ${title(layer)} on`, (m) => {
      const s = m.shapes[index];
      if (s?.kind === "cutout") s.data = answer.data;
    });
    notices.said(`Cut out anew from here, frames ${core.show(from)} to ${core.show(to)}; seen on ${answer.seen} frames.`);
  }

  /**
   * Keeps somebody who passes in front of a patch: cut out of the shot from a rough loop on one frame, and left to the footage by a shape of
   * the mask that can be switched off.
   * @param first first frame in which they are looked for @param last the last one
   */
  async function holdOut(layer: PatchLayer, { f: at, points: outline }: NonNullable<Finding["outline"]>, first: number, last: number): Promise<void> {
    if (layer.locked) return;
    const answer = await ask({ at, outline, from: first, to: last });
    if (!answer) return;
    const name = `Passes ${core.show(answer.in)}–${core.show(answer.out)}`;
    const cutout: CutoutShape = { kind: "cutout", op: "cut", data: answer.data, name };
    changeMask(layer, `Hold out who passes ${title(layer)}`, (m) => void m.shapes.push(asDraft(cutout)));
    notices.said(`Held out on ${answer.seen} frames, ${framesIn(answer)}: a shape of the mask that can be switched off.`);
  }

  return { loopOf, cutOut, correctedOf, carryOn, holdOut };
}
