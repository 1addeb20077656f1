import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { bareEditor } from "../../../../testkit/bare-editor";
import { recipeWith } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import type { CutoutShape } from "../../../core/document/mask";

const brush = { size: 8, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
const stroke = (f: number): NonNullable<CutoutShape["strokes"]>[number] => ({ f, brush, path: [[30, 30]] });
const cutout = (change: Partial<CutoutShape>): CutoutShape => ({ kind: "cutout", op: "add", data: "a".repeat(64), ...change });

/** What the server was asked for, and an editor of a patch with some shapes; whatever it is asked, "b…" was cut out. */
function editing(...shapes: CutoutShape[]) {
  const patch: PatchLayer = { id: "l", kind: "patch", in: 2, out: 9, source: { plate: "p" }, mask: { shapes } };
  const asked: Record<string, unknown>[] = [];
  vi.stubGlobal("fetch", (url: string, init?: RequestInit) => {
    if (!String(url).endsWith("/cutout")) return new Promise(() => undefined);
    asked.push(JSON.parse(String(init?.body)) as Record<string, unknown>);
    return Promise.resolve(Response.json({ data: "b".repeat(64), in: 2, out: 30, seen: 29 }));
  });
  const b = bareEditor(recipeWith([patch]));
  const layer = () => b.get().recipe.intruders[0].layers[0] as PatchLayer;
  const kept = () => (layer().mask as { shapes: CutoutShape[] }).shapes.map((s) => s.data[0]);
  return { ...b, layer, asked, kept };
}

beforeEach(() => vi.stubGlobal("requestAnimationFrame", () => 0));
afterEach(() => vi.unstubAllGlobals());

describe("corrections of a cut-out", () => {
  it("are carried on from the frame shown as far as the next ones, each way", async () => {
    const { editor, layer, asked, kept } = editing(cutout({ strokes: [stroke(3), stroke(5), stroke(8)] }));
    editor.transport.goTo(5);
    expect(editor.cutting.correctedOf(layer())).toBe(0);
    await editor.cutting.carryOn(layer());
    expect(asked).toHaveLength(1);
    expect(asked[0]).toMatchObject({ at: 5, from: 4, to: 7, corrected: { data: "a".repeat(64), strokes: [{ f: 3 }, { f: 5 }, { f: 8 }] } });
    expect(asked[0]).not.toHaveProperty("outline");
    expect(asked[0]).not.toHaveProperty("shadow");
    expect(kept()).toEqual(["b"]);
    editor.close();
  });

  it("go to the patch's ends where no others are; a shadow's as a shadow's, and the one picked of two", async () => {
    const { editor, layer, asked, kept } = editing(
      cutout({ strokes: [stroke(5)] }),
      cutout({ name: "Shadow", data: "c".repeat(64), strokes: [stroke(5)] }),
    );
    editor.transport.goTo(5);
    await editor.cutting.carryOn(layer());
    expect(asked[0]).toMatchObject({ from: 2, to: 9, shadow: true });
    expect(kept()).toEqual(["a", "b"]);
    editor.close();
  });

  it("are none on other frames, nor where the shape is locked or off", async () => {
    const { editor, layer, asked } = editing(cutout({ strokes: [stroke(5)], locked: true }), cutout({ strokes: [stroke(5)], on: false }));
    for (const f of [4, 5]) {
      editor.transport.goTo(f);
      expect(editor.cutting.correctedOf(layer())).toBeNull();
      await editor.cutting.carryOn(layer());
    }
    expect(asked).toEqual([]);
    editor.close();
  });
});
