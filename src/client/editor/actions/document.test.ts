import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { bareEditor, bytesOf } from "../../../../testkit/bare-editor";
import { recipeWith } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { Shape } from "../../../core/document/mask";
import { apply } from "../../../recipe/edits";
import { patchById } from "../../../recipe/query";
import type { ToWorker } from "../../picture/protocol";
import { moveGesture } from "../tools/adjust";
import { brushGesture } from "../tools/mask-brush";

const NONE = { shift: false, alt: false };
/** What a drag's message may weigh, in bytes: the picture worker is told of every move of the pointer. */
const LIGHT = 4096;

const painted = (seed: number): Shape => ({
  kind: "painted",
  op: "add",
  strokes: Array.from({ length: 60 }, (_, i) => ({
    brush: { size: 20, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 },
    path: Array.from({ length: 50 }, (_, k) => [seed + i + 0.25 * k, 40 + ((7 * k) % 90), 0.5]),
  })),
});
const outline = (i: number): Shape => ({
  kind: "path",
  op: "add",
  points: Array.from({ length: 24 }, (_, k) => [60 + i + 30 * Math.cos(k / 3.8), 60 + 20 * Math.sin(k / 3.8)]),
});
const layer = (i: number): PatchLayer => ({
  id: `l${i}`,
  kind: "patch",
  in: 0,
  out: 9,
  source: { plate: "p" },
  mask: { shapes: i % 13 === 0 ? [painted(i), outline(i)] : [outline(i)] },
});
const heavy = recipeWith(Array.from({ length: 40 }, (_, i) => layer(i)));

beforeEach(() => void vi.stubGlobal("fetch", () => new Promise(() => undefined)));
afterEach(() => vi.unstubAllGlobals());

/** The recipe as the picture worker has it after some messages. */
function workersRecipe(messages: readonly ToWorker[]): Recipe {
  let [settled, shown] = [null as Recipe | null, null as Recipe | null];
  for (const m of messages) {
    if (m.type === "recipe") settled = shown = m.recipe;
    if (m.type === "edit") settled = shown = apply(settled!, m.patches);
    if (m.type === "drag") shown = apply(settled!, m.patches);
  }
  return shown!;
}

describe("what a drag tells the picture worker", () => {
  it("stays below 4 kB with 40 layers and painted masks of 9000 dabs, however long it is", () => {
    expect(bytesOf(heavy)).toBeGreaterThan(200_000);
    const { editor, get, messages } = bareEditor(heavy);
    editor.mode.setStage("Patch");
    editor.selection.select({ kind: "layer", layer: "l13" });
    editor.masks.pick({ shapes: [1], points: [] });
    const opened = messages.length;
    const g = moveGesture(editor, [60, 60], "Move");
    for (let i = 1; i <= 30; i++) g.move([[60 + i, 60 + i / 2]], NONE);
    expect(messages.length).toBeGreaterThan(opened + 30);
    const sizes = messages.slice(opened).map(bytesOf);
    expect(Math.max(...sizes)).toBeLessThan(LIGHT);
    // and yet the worker has what the page has
    expect(workersRecipe(messages)).toEqual(get().dragged);
    g.end([100, 80], NONE);
    expect(Math.max(...messages.slice(opened).map(bytesOf))).toBeLessThan(LIGHT);
    expect(workersRecipe(messages)).toEqual(get().recipe);
    editor.close();
  });

  it("is light for a value and for a stroke on a painted mask, and a drag that is left off leaves the worker as it was", () => {
    const { editor, get, messages } = bareEditor(heavy);
    editor.mode.setStage("Patch");
    editor.selection.select({ kind: "layer", layer: "l0" });
    const opened = messages.length;
    const now = patchById(get().recipe, "l0")!;
    for (let i = 0; i < 20; i++) editor.masks.changeMask(now, "Feather", (m) => void (m.feather = i), true);
    editor.cancelPreview();
    const g = brushGesture(editor, [50, 50], NONE);
    for (let i = 1; i <= 80; i++) g.move([[50 + i, 50]], NONE);
    expect(Math.max(...messages.slice(opened).map(bytesOf))).toBeLessThan(LIGHT);
    g.cancel();
    expect(workersRecipe(messages)).toEqual(heavy);
    expect(get().recipe).toEqual(heavy);
    editor.close();
  });
});

describe("a mode", () => {
  it("closes what the recipe no longer has, and stays in its stage", () => {
    const { editor, get } = bareEditor(recipeWith([{ id: "q", kind: "paint", in: 0, out: 9, touches: [] }]));
    editor.mode.openPaint("q");
    expect(get().selection).toEqual({ kind: "layer", layer: "q" });
    editor.commit("Delete", (d) => void (d.intruders = []));
    expect([get().mode, get().selection]).toEqual([{ stage: "Patch", paint: null }, null]);
    editor.mode.openPlate("p");
    editor.mode.setStage("Plate");
    expect(get().mode).toEqual({ stage: "Plate", plate: "p" });
    editor.mode.setStage("Render");
    expect(get().mode).toEqual({ stage: "Render" });
    editor.mode.openPlate("p");
    editor.commit("Delete", (d) => void delete d.plates.p);
    expect(get().mode).toEqual({ stage: "Plate", plate: null });
    editor.close();
  });
});
